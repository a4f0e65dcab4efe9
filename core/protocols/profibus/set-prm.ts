import type { Device } from '../../catalog/model'
import { parseOctets } from '../../vocabulary/hex'
import type { DataSize, WireRecord, WireStation } from '../wire'

/** What a PROFIBUS slave is told besides its user parameters. */
export interface PrmSettings {
  /** 0: the watchdog is off. */
  readonly watchdogMs: number
  readonly minStationDelayBits: number
  readonly syncs: boolean
  readonly freezes: boolean
  /** Groups 1 to 8, one bit each. */
  readonly groups: number
}

export const usualPrmSettings: PrmSettings = {
  watchdogMs: 100,
  minStationDelayBits: 11,
  syncs: false,
  freezes: false,
  groups: 0,
}

/** Octets of the Set_Prm telegram: station status, watchdog factors, shortest station delay, ident
 *  number, groups, user parameters (EN 50170 / IEC 61158-6-3, from memory). */
export function setPrmTelegram(
  identNumber: number,
  user: Uint8Array,
  settings: PrmSettings = usualPrmSettings,
): Uint8Array {
  const [first, second] = watchdogFactors(settings.watchdogMs)
  const status =
    0x80 |
    (settings.syncs ? 0x20 : 0) |
    (settings.freezes ? 0x10 : 0) |
    (settings.watchdogMs > 0 ? 0x08 : 0)
  return Uint8Array.from([
    status,
    first,
    second,
    settings.minStationDelayBits,
    identNumber >> 8,
    identNumber & 0xff,
    settings.groups,
    ...user,
  ])
}

/** Two factors of 1 to 255 whose product times 10 ms is the shortest time that is not below the
 *  wished one. */
export function watchdogFactors(ms: number): readonly [number, number] {
  const wished = Math.max(1, Math.ceil(ms / 10))
  let best: readonly [number, number] = [255, 255]
  for (let second = 1; second <= 255; second++) {
    const first = Math.ceil(wished / second)
    if (first <= 255 && first * second < best[0] * best[1]) best = [first, second]
  }
  return best
}

/** User parameters of a PROFIBUS station: those of the head, then of its modules in slot order;
 *  each part with where it comes from. */
export function userParameters(records: readonly WireRecord[]): readonly WireRecord[] {
  return records.filter(({ record }) => record.index === null)
}

/** Octets of the Chk_Cfg telegram of a PROFIBUS station: the identifiers of its modules, one after
 *  the other in the order of their slots (EN 50170 / IEC 61158-6-3, from memory). */
export function checkConfiguration({ modules }: WireStation): Uint8Array {
  return Uint8Array.from(
    modules.flatMap(({ described }) => [
      ...((described && 'configuration' in described
        ? parseOctets(described.configuration ?? '')
        : null) ?? []),
    ]),
  )
}

/** Most octets of user parameters that one Set_Prm carries beside its own seven (EN 50170 / IEC
 *  61158-6-3, from memory). */
export const mostUserParameters = 237

/** The user parameters of a station against what its description allows and one telegram carries.
 *  `Max_User_Prm_Data_Len`: EN 50170. */
export function parameterSize(
  { limits: { parameterBytes: stated } }: Device,
  records: readonly WireRecord[],
): DataSize {
  const limit = Math.min(stated ?? mostUserParameters, mostUserParameters)
  return {
    what: 'user parameters',
    bytes: userParameters(records).reduce((sum, { bytes }) => sum + bytes.length, 0),
    limit,
    source:
      stated === limit
        ? 'its description allows (Max_User_Prm_Data_Len)'
        : 'one Set_Prm telegram carries',
  }
}

/** PROFIBUS DP, EN 50170: data of one telegram each way. */
const maxTelegramBytes = 244

export function telegramSizes({ inputBytes, outputBytes }: WireStation): DataSize[] {
  const rest = { limit: maxTelegramBytes, source: 'one frame takes' }
  return [
    { what: 'input data', bytes: inputBytes, ...rest },
    { what: 'output data', bytes: outputBytes, ...rest },
  ]
}
