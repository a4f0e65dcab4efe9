import { formatAddress } from '../addressing/notations'
import { channelAddress, notationOf } from '../derive/derive'
import type { Started } from '../protocols/master'
import type { Pair } from '../protocols/master'
import { kindNamed } from '../protocols/registry'
import { probe } from '../scaling/chain'
import { channelsInData, readChannel, writeChannel, type ChannelInData } from './channel-places'
import type { Field } from './field'
import type { PlannedNetwork, PlannedStation } from './planned'
import { exchangesWith } from './start-words'
import { rawAtShare, shareAtRaw, signalScale, type SignalScale } from './signal-scale'

/** What became of one signal. */
export interface SignalResult {
  readonly tag: string
  readonly station: string
  readonly slot: number
  readonly address: string
  readonly raw: number | null
  /** In the channel's unit; null for digital ones. */
  readonly electrical: number | null
  readonly value: number | null
  readonly unit: string
  readonly quality: 'good' | 'bad' | 'substitute'
  readonly expected: number | null
  readonly verdict: 'ok' | 'failed' | 'open'
  readonly why: string | null
}

interface Checked {
  readonly one: ChannelInData
  readonly station: PlannedStation
  readonly scale: SignalScale
  readonly isRunning: boolean
  /** From 1: what its bits say in which of the rounds it is on. */
  readonly number: number
}

interface OnNetwork {
  readonly network: PlannedNetwork
  readonly pairs: readonly Pair[]
}

/** Shares that say 0 and 1 on an analog channel, and the one at which it is held against the
 *  plan. */
const low = 0.25
const high = 0.75
const middle = 0.5
/** Of the span, common practice for analog checks. */
const tolerance = 0.01

/** Every named signal against what the field does. Which channel a wire ends at is told by a number
 *  that is put on it bit by bit, all signals at once, so that 16,000 take 16 rounds. Then all are
 *  held at the middle of their range, and digital ones on. */
export function checkSignals(
  networks: readonly PlannedNetwork[],
  running: readonly OnNetwork[],
  { line, field }: { line(id: string): Parameters<Master['exchange']>[0]; readonly field: Field },
  started: Readonly<Record<string, Started>>,
): SignalResult[] {
  const runs = new Set(
    running.flatMap(({ pairs }) =>
      pairs.flatMap(({ station }) => {
        const result = started[station.id]
        return result?.faults.every(exchangesWith) ? [station.id] : []
      }),
    ),
  )
  const checked = signalsOf(networks, runs)
  const rounds = Math.ceil(Math.log2(checked.length + 1)) + 1
  const round = (shareOf: (one: Checked) => number) =>
    exchangeAll(running, line, field, checked, shareOf)
  const rest = round(() => 0)
  // The last round says the opposite of the first, so that every number has both in it.
  const codeOf = ({ number }: Checked) => number + (number & 1 ? 0 : 2 ** (rounds - 1))
  const seen = Array.from({ length: rounds }, (_, bit) =>
    round((one) => {
      const isOn = Math.floor(codeOf(one) / 2 ** bit) % 2 === 1
      return one.scale.kind === 'digital' ? Number(isOn) : isOn ? high : low
    }),
  )
  const held = round((one) => (one.scale.kind === 'digital' ? 1 : middle))
  const byCode = new Map(checked.map((one) => [codeOf(one), one]))
  const bad = badTags(checked, started)
  return checked.map((one) => {
    const code = codeSeen(
      one,
      seen.map((values) => values.get(one)),
    )
    const isOwn = code === codeOf(one)
    const raw = (isOwn ? held : rest).get(one) ?? null
    return resultOf(one, raw, isOwn ? null : (byCode.get(code) ?? 'none'), bad, held.get(one))
  })
}

/** The number that arrived, round by round: above the middle of what came is 1; 0 where nothing
 *  moved. */
function codeSeen({ scale }: Checked, raws: readonly (number | undefined)[]): number {
  const shares = raws.map((raw) => (raw === undefined ? 0 : shareAtRaw(scale, raw)))
  const [least, most] = [Math.min(...shares), Math.max(...shares)]
  if (most - least < leastMove) return 0
  return shares.reduce((code, share, bit) => code + (share > (least + most) / 2 ? 2 ** bit : 0), 0)
}
const leastMove = 0.02

type Master = NonNullable<ReturnType<typeof kindNamed>['master']>

function signalsOf(networks: readonly PlannedNetwork[], runs: ReadonlySet<string>): Checked[] {
  let number = 0
  return networks.flatMap(({ stations }) =>
    stations.flatMap((station) =>
      channelsInData(station.view).flatMap((one) =>
        one.signal.tag === ''
          ? []
          : [
              {
                one,
                station,
                scale: signalScale(one, station.catalog, station.project),
                isRunning: runs.has(station.id),
                number: ++number,
              },
            ],
      ),
    ),
  )
}

/** One round: the field has these shares at the inputs, the controller sends them to the outputs;
 *  what arrives, as raw values. */
function exchangeAll(
  running: readonly OnNetwork[],
  line: (id: string) => Parameters<Master['exchange']>[0],
  field: Field,
  checked: readonly Checked[],
  shareOf: (one: Checked) => number,
): Map<Checked, number> {
  const outputs = new Map<string, Uint8Array>()
  for (const one of checked) {
    if (one.one.direction === 'in') field.put(one.one.signal.tag, shareOf(one))
    else if (one.isRunning) {
      const { id, view } = one.station
      const data = outputs.get(id) ?? new Uint8Array(view.outputBytes)
      outputs.set(id, data)
      writeChannel(data, one.one, rawAtShare(one.scale, shareOf(one)))
    }
  }
  const inputs = new Map<string, Uint8Array>()
  for (const { network, pairs } of running) {
    if (pairs.length === 0) continue
    const got = kindNamed(network.kind).master!.exchange(line(network.id), pairs, outputs)
    for (const [id, data] of got) inputs.set(id, data)
  }
  const seen = new Map<Checked, number>()
  for (const one of checked) {
    if (!one.isRunning) continue
    const data = inputs.get(one.station.id)
    if (one.one.direction === 'in') {
      if (data) seen.set(one, readChannel(data, one.one))
    } else if (data) {
      const share = field.seen(one.one.signal.tag)
      if (share !== null) seen.set(one, rawAtShare(one.scale, share))
    }
  }
  return seen
}

/** Tags of channels that their modules report. */
function badTags(
  checked: readonly Checked[],
  started: Readonly<Record<string, Started>>,
): ReadonlyMap<string, string> {
  const bad = new Map<string, string>()
  for (const { one, station } of checked)
    for (const { slot, channel, subslot, words } of started[station.id]?.faults ?? [])
      if (
        channel === one.number &&
        slot === one.module.slot &&
        (subslot === null || subslot === one.channel.subslot)
      )
        bad.set(one.signal.tag, words)
  return bad
}

function resultOf(
  { one, station, scale, isRunning }: Checked,
  raw: number | null,
  other: Checked | 'none' | null,
  bad: ReadonlyMap<string, string>,
  held: number | undefined,
): SignalResult {
  const { module, channel, signal, view } = one
  const at = channelAddress(module, channel)
  const expected = valueAt(scale, rawAtShare(scale, scale.kind === 'digital' ? 1 : middle))
  const reported = bad.get(signal.tag)
  const reading = raw === null ? null : valueAt(scale, raw)
  const why =
    raw === null
      ? null
      : reported !== undefined
        ? `the module reports ${reported}`
        : other === 'none'
          ? held === undefined
            ? 'nothing arrives'
            : 'it does not follow the field'
          : other !== null
            ? `what arrives there is ${other.one.signal.tag}`
            : expected && reading && isOff(reading.value, expected.value, scale)
              ? `it reads ${round(reading.value)} ${scale.unit} where ${round(expected.value)} ${scale.unit} is expected`
              : null
  return {
    tag: signal.tag,
    station: view.station.name,
    slot: module.slot,
    address: at ? formatAddress(at, notationOf(station.plan, view.station)) : '',
    raw,
    electrical: reading?.electrical ?? null,
    value: reading?.value ?? null,
    unit: scale.unit,
    quality: raw === null || reported !== undefined ? 'bad' : 'good',
    expected: expected?.value ?? null,
    verdict: raw === null ? 'open' : why === null ? 'ok' : 'failed',
    why: why ?? (isRunning ? (raw === null ? 'no data came' : null) : 'its station does not run'),
  }
}

const round = (value: number) => Number(value.toPrecision(5))

function isOff(real: number, wanted: number, { span }: SignalScale): boolean {
  return Math.abs(real - wanted) > Math.max(tolerance * Math.abs(span), 1e-9)
}

function valueAt(scale: SignalScale, raw: number) {
  if (scale.kind !== 'chain') return { value: raw, electrical: null }
  const { value, signal } = probe(scale.chain, 'raw', raw)
  return { value: value ?? raw, electrical: signal }
}
