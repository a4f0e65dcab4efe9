import { ipOf } from '../protocols/settings'
import {
  safetyConfigurationOf,
  safetyNetworkNumberOf,
  type SafetyConfiguration,
} from '../protocols/ethernet-ip/safety'
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import type { Catalog } from '../catalog/catalog'
import { placeKey, type Derived, type DerivedModule, type DerivedStation } from '../derive/derive'
import { encodePlaced, recordsOfPlaced, type PlacedRecord } from '../parameters/placed'
import type { IParameterSums, MonitoredTimes, ParameterChoices } from '../plan/model'
import { readFParameters, type FParameters } from '../parameters/f-parameters'

/** A fail-safe submodule as it stands in the plan. */
export interface FailSafePart {
  readonly module: DerivedModule
  readonly placed: PlacedRecord
  readonly bytes: string
  readonly f: FParameters
  /** Signature of the octets of its own parameters. */
  readonly own: string
  readonly sum: IParameterSums[string] | null
  /** Of its connection; null where nobody said. */
  readonly times: MonitoredTimes | null
}

/** What was chosen at a head or module. */
export function choicesOf(
  { station }: DerivedStation,
  module: DerivedModule,
): { readonly values: ParameterChoices; readonly sums: IParameterSums } {
  const { values, iParameterSums: sums } = module.row ?? station
  return { values, sums }
}

const parts = new WeakMap<DerivedStation, readonly FailSafePart[]>()

/** Fail-safe submodules of a station; computed once for each state of it. */
export function failSafeParts(view: DerivedStation, catalog: Catalog): readonly FailSafePart[] {
  let known = parts.get(view)
  if (!known)
    parts.set(view, (known = view.modules.flatMap((module) => partsOf(view, module, catalog))))
  return known
}

function partsOf(view: DerivedStation, module: DerivedModule, catalog: Catalog): FailSafePart[] {
  if (!module.described) return []
  const records = recordsOfPlaced(catalog, view.station.file, module.described, module.plugged)
  if (!records.some(({ isFailSafe }) => isFailSafe)) return []
  const { values, sums } = choicesOf(view, module)
  return records
    .filter(({ isFailSafe }) => isFailSafe)
    .map((placed) => {
      const sum = sums[placed.subslot ?? 1] ?? null
      const { bytes } = encodePlaced(placed, values[placed.key], sum?.crc ?? 0)
      return {
        module,
        placed,
        bytes,
        f: readFParameters(bytes),
        own: ownSignature(records, placed, values),
        sum,
        times: (module.row ?? view.station).monitored[placed.subslot ?? 1] ?? null,
      }
    })
}

/** SHA-256 over the octets of a fail-safe submodule's own parameters, in hex. */
export function ownSignature(
  records: readonly PlacedRecord[],
  block: PlacedRecord,
  values: ParameterChoices,
): string {
  return signatureOf(
    records
      .filter(({ subslot, isFailSafe }) => subslot === block.subslot && !isFailSafe)
      .map((one) => `${one.key} ${encodePlaced(one, values[one.key]).bytes}`),
  )
}

/** SHA-256 over the octets of all parameters of a station, which a configuration signature was
 *  entered for. */
export function stationParameterSignature(view: DerivedStation, catalog: Catalog): string {
  return signatureOf(
    view.modules.flatMap((module) => {
      if (!module.described) return []
      const { values } = choicesOf(view, module)
      return recordsOfPlaced(catalog, view.station.file, module.described, module.plugged).map(
        (placed) =>
          `${module.slot} ${placed.key} ${encodePlaced(placed, values[placed.key]).bytes}`,
      )
    }),
  )
}

/** What a configuration signature is entered for: the modules of a station, and the octets of all
 *  their parameters. The version stands before it. */
export function configurationOver(view: DerivedStation, catalog: Catalog): string {
  const modules = view.modules.map(
    ({ slot, row }) => `${slot} ${row ? row.module : view.station.device}`,
  )
  return `2:${signatureOf([view.station.file, ...modules, stationParameterSignature(view, catalog)])}`
}

/** What an entered signature is for, as it is now; those of before covered the parameters alone. */
function overNow(
  view: DerivedStation,
  catalog: Catalog,
  { over }: Pick<SafetyConfiguration, 'over'>,
): string {
  return over.startsWith('2:')
    ? configurationOver(view, catalog)
    : stationParameterSignature(view, catalog)
}

/** Whether modules or parameters changed since a configuration signature was entered. */
export function isConfigurationStale(view: DerivedStation, catalog: Catalog): boolean {
  const entered = safetyConfigurationOf(view.station)
  return entered !== null && entered.over !== overNow(view, catalog, entered)
}

/** SHA-256 over lines of text, in hex. */
export function signatureOf(lines: readonly string[]): string {
  return bytesToHex(sha256(utf8ToBytes(lines.join('\n'))))
}

/** What of a station bears on safety. One line a fail-safe submodule: where it stands, what it is,
 *  its F parameters, its own, and what was entered for them; one for a configuration signature (CIP
 *  safety), with the parameters as they are. Then what the safety program sees of it: the address
 *  of each block of fail-safe data, and the tag on each of its channels. */
export function safetyLinesOf(view: DerivedStation, catalog: Catalog): string[] {
  const { networkId, name, deviceNumber } = view.station
  const ip = ipOf(view.station)
  const safetyConfiguration = safetyConfigurationOf(view.station)
  const lines = failSafeParts(view, catalog).map(({ module, placed, bytes, own, sum }) => [
    module.slot,
    placed.subslot ?? '',
    module.described?.orderNumber ?? module.described?.key ?? '',
    bytes,
    own,
    sum ? sum.over : '',
  ])
  if (safetyConfiguration)
    lines.push([
      'entered',
      safetyConfiguration.signature,
      safetyConfiguration.over,
      overNow(view, catalog, safetyConfiguration),
      ...(safetyConfiguration.madeAt ? [safetyConfiguration.madeAt] : []),
    ])
  return [...lines, ...seenByProgram(view)].map((line) =>
    [networkId, name, ip, deviceNumber, ...line].join(' | '),
  )
}

function* seenByProgram({
  blocks,
  inside,
  modules,
}: DerivedStation): Generator<(string | number)[]> {
  for (const { module, block, byte, bit } of [...blocks, ...inside])
    if (block.content === 'safety')
      yield ['data', module.slot, block.subslot, block.direction, byte, bit]
  for (const { slot, layout, signals } of modules) {
    if (signals.size === 0 || !layout?.blocks.some(({ content }) => content === 'safety')) continue
    const safe = new Set(layout.channels.filter(({ safety }) => safety).map(placeKey))
    for (const [key, { tag }] of signals)
      if (tag !== '' && safe.has(key)) yield ['tag', slot, key, tag]
  }
}

/** The same of a whole plan, with its safety network numbers, in a fixed order. */
export function safetyLines({ plan, stations, catalog }: Derived): string[] {
  const numbers = Object.values(plan.networks).flatMap((network) => {
    const number = safetyNetworkNumberOf(network)
    return number === '' ? [] : [`${network.id} | ${number}`]
  })
  return [
    ...numbers,
    ...[...stations.values()].flatMap((view) => safetyLinesOf(view, catalog)),
  ].sort()
}

/** SHA-256 over `safetyLines`, in hex; null where nothing of the plan is fail-safe. */
export function safetySignature(derived: Derived): string | null {
  const lines = safetyLines(derived)
  return lines.length === 0 ? null : signatureOf(lines)
}
