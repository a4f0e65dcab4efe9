import type { ElectricalRange } from '../vocabulary/electrical-range'
import { shareAt, valueAt, type Characteristic } from './characteristic'
import { inverse, type Curve } from './curve'
import { quantised } from './raw-formats'
import { typeBounds, type RawFormat } from '../vocabulary/raw-format'
import { resistanceThermometer } from './resistance-thermometers'
import { thermocouple } from './thermocouples'

/** What the program makes of counts: a straight line through two points. */
export interface Scaling {
  readonly rawLow: number
  readonly rawHigh: number
  readonly low: number
  readonly high: number
}

/** Everything between a process value and the engineering value in the program. */
export interface Chain {
  /** The transmitter's measuring range. A sensor wired straight to the channel needs none. */
  readonly process: { readonly low: number; readonly high: number; readonly unit: string }
  readonly characteristic: Characteristic
  /** What the transmitter gives at the ends of its measuring range, or the sensor itself. */
  readonly transmitter: ElectricalRange
  readonly channel: ElectricalRange
  readonly format: RawFormat
}

export const links = ['process', 'signal', 'raw', 'value'] as const
export type Link = (typeof links)[number]

/** One moment of the chain; null where a link has nothing to say. */
export interface ChainReading {
  readonly process: number | null
  /** In the channel's unit: mA, V, mV or Ω. */
  readonly signal: number | null
  /** Before rounding. */
  readonly counts: number | null
  /** As the module sends it. */
  readonly raw: number | null
  readonly beyond: 'under' | 'over' | null
  /** What the right scaling makes of `raw`. */
  readonly value: number | null
}

type Span = { readonly low: number; readonly high: number; readonly unit: string }

/** A span in mA or mV, so that V and mV can be compared; null for sensors and channels that are
 *  off. */
export function spanOf(range: ElectricalRange): Span | null {
  if (!('low' in range)) return null
  return { low: range.low, high: range.high, unit: range.unit }
}

/** The sensor's own curve where a channel measures Ω or thermocouples: what stands at its
 *  terminals. */
export function sensorOf(range: ElectricalRange): Curve | null {
  return range.kind === 'resistance'
    ? resistanceThermometer(range.type)
    : range.kind === 'thermocouple'
      ? thermocouple(range.type, range.coldEnd)
      : null
}

/** What a channel that does not add the cold end would take a thermocouple's temperature for, °C;
 *  null where its voltage lies outside the standard. */
export function uncompensated({ channel }: Pick<Chain, 'channel'>, process: number): number | null {
  const [real, plain] =
    channel.kind === 'thermocouple' ? [sensorOf(channel), thermocouple(channel.type)] : [null, null]
  return real && plain ? inverse(plain, real.at(process)) : null
}

/** The unit that the signal is measured in on a channel. */
export function signalUnit(range: ElectricalRange): string {
  return 'unit' in range
    ? range.unit
    : range.kind === 'resistance'
      ? 'Ω'
      : range.kind === 'thermocouple'
        ? 'mV'
        : ''
}

/** Why transmitter and channel cannot work together; null where they can. */
export function mismatch({
  transmitter,
  channel,
}: Pick<Chain, 'transmitter' | 'channel'>): string | null {
  if (channel.kind === 'off') return 'The channel is switched off.'
  if (transmitter.kind !== channel.kind)
    return `${kindWords[transmitter.kind]} is connected to a channel for ${kindWords[channel.kind].toLowerCase()}.`
  if ('type' in transmitter && 'type' in channel)
    return transmitter.type === channel.type
      ? null
      : `A sensor ${transmitter.type} is connected to a channel that is set to ${channel.type}.`
  return null
}
const kindWords: Readonly<Record<ElectricalRange['kind'], string>> = {
  off: 'Nothing',
  current: 'A current',
  voltage: 'A voltage',
  resistance: 'A resistance thermometer',
  thermocouple: 'A thermocouple',
}

/** What the transmitter gives, in the channel's unit. */
function transmitterSpan({ transmitter, channel }: Chain): Span | null {
  const [given, taken] = [spanOf(transmitter), spanOf(channel)]
  if (!given || !taken) return null
  const factor =
    given.unit === taken.unit
      ? 1
      : given.unit === 'V' && taken.unit === 'mV'
        ? 1000
        : given.unit === 'mV' && taken.unit === 'V'
          ? 0.001
          : null
  return factor === null
    ? null
    : { low: given.low * factor, high: given.high * factor, unit: taken.unit }
}

function signalAt(chain: Chain, process: number): number | null {
  const sensor = sensorOf(chain.channel)
  if (sensor) return process >= sensor.from && process <= sensor.to ? sensor.at(process) : null
  const span = transmitterSpan(chain)
  const share = shareAt(chain.characteristic, process, chain.process.low, chain.process.high)
  return span && share !== null ? span.low + share * (span.high - span.low) : null
}

function processAt(chain: Chain, signal: number): number | null {
  const sensor = sensorOf(chain.channel)
  if (sensor) return inverse(sensor, signal)
  const span = transmitterSpan(chain)
  return (
    span &&
    valueAt(
      chain.characteristic,
      (signal - span.low) / (span.high - span.low),
      chain.process.low,
      chain.process.high,
    )
  )
}

/** Counts at both ends of what the channel measures evenly: its electrical range, or its sensor's
 *  temperatures. */
function countLine({ channel, format }: Pick<Chain, 'channel' | 'format'>): {
  readonly from: number
  readonly to: number
  readonly rawLow: number
  readonly rawHigh: number
} | null {
  const sensor = sensorOf(channel)
  const span = sensor ? { low: sensor.from, high: sensor.to, unit: '°C' } : spanOf(channel)
  if (!span) return null
  if (format.perUnit) {
    const { counts, of } = format.perUnit
    const perUnit =
      format.type === 'REAL' || of === span.unit
        ? counts
        : of === 'mV' && span.unit === 'V'
          ? counts * 1000
          : of === 'V' && span.unit === 'mV'
            ? counts / 1000
            : null
    return perUnit === null
      ? null
      : { from: span.low, to: span.high, rawLow: span.low * perUnit, rawHigh: span.high * perUnit }
  }
  const isBipolar = span.low === -span.high && typeBounds[format.type][0] < 0
  return {
    from: span.low,
    to: span.high,
    rawLow: isBipolar ? -format.high : format.low,
    rawHigh: format.high,
  }
}

/** Why a format says nothing about what a channel measures; null where it does. */
export function formatFault({ channel, format }: Pick<Chain, 'channel' | 'format'>): string | null {
  if (channel.kind === 'off' || countLine({ channel, format })) return null
  return `${format.name} counts in ${format.perUnit?.of}; the channel measures ${sensorOf(channel) ? '°C' : signalUnit(channel)}.`
}

/** Counts before rounding at a signal in the channel's unit. */
export function countsAt(chain: Pick<Chain, 'channel' | 'format'>, signal: number): number | null {
  const line = countLine(chain)
  const sensor = sensorOf(chain.channel)
  const measured = sensor ? inverse(sensor, signal) : signal
  return line && measured !== null
    ? line.rawLow + ((measured - line.from) / (line.to - line.from)) * (line.rawHigh - line.rawLow)
    : null
}

function signalOfCounts(chain: Chain, counts: number): number | null {
  const line = countLine(chain)
  if (!line || line.rawHigh === line.rawLow) return null
  const measured =
    line.from + ((counts - line.rawLow) / (line.rawHigh - line.rawLow)) * (line.to - line.from)
  const sensor = sensorOf(chain.channel)
  if (!sensor) return measured
  return measured >= sensor.from && measured <= sensor.to ? sensor.at(measured) : null
}

/** The scaling that is right: over the part of the raw range that the transmitter uses. */
export function rightScaling(chain: Chain): Scaling | null {
  const sensor = sensorOf(chain.channel)
  const [low, high] = sensor ? [sensor.from, sensor.to] : [chain.process.low, chain.process.high]
  const span = sensor
    ? { low: sensor.at(sensor.from), high: sensor.at(sensor.to) }
    : transmitterSpan(chain)
  const ends = span && [countsAt(chain, span.low), countsAt(chain, span.high)]
  return ends &&
    ends[0] !== null &&
    ends[1] !== null &&
    ends[0] !== undefined &&
    ends[1] !== undefined
    ? { rawLow: ends[0], rawHigh: ends[1], low, high }
    : null
}

/** The scaling that is usual and wrong where transmitter and channel have other ranges: the whole
 *  raw range for the measuring range. */
export function usualScaling(chain: Chain): Scaling | null {
  const line = countLine(chain)
  return line && !sensorOf(chain.channel)
    ? {
        rawLow: line.rawLow,
        rawHigh: line.rawHigh,
        low: chain.process.low,
        high: chain.process.high,
      }
    : null
}

/** What a program with this scaling makes of counts; the characteristic is applied to the share. */
export function scaled(
  { rawLow, rawHigh, low, high }: Scaling,
  raw: number,
  characteristic: Characteristic,
): number | null {
  return rawHigh === rawLow
    ? null
    : valueAt(characteristic, (raw - rawLow) / (rawHigh - rawLow), low, high)
}

/** All links of the chain where one of them has a value. */
export function probe(chain: Chain, at: Link, given: number): ChainReading {
  const right = rightScaling(chain)
  const signal =
    at === 'signal' ? given : at === 'raw' ? signalOfCounts(chain, given) : signalAt(chain, given)
  const counts = at === 'raw' ? given : signal === null ? null : countsAt(chain, signal)
  const sent = counts === null ? null : quantised(chain.format, counts)
  return {
    process:
      at === 'process' || at === 'value'
        ? given
        : signal === null
          ? null
          : processAt(chain, signal),
    signal,
    counts,
    raw: sent?.raw ?? null,
    beyond: sent?.beyond ?? null,
    value: right && sent ? scaled(right, sent.raw, chain.characteristic) : null,
  }
}

/** How far a scaling is off at a process value, in its unit. */
export function errorAt(chain: Chain, scaling: Scaling, process: number): number | null {
  const { raw } = probe(chain, 'process', process)
  const value = raw === null ? null : scaled(scaling, raw, chain.characteristic)
  return value === null ? null : value - process
}

const samples = 100

/** The greatest error of a scaling over the measuring range, and where it is. */
export function worstError(
  chain: Chain,
  scaling: Scaling,
): { readonly error: number; readonly process: number } | null {
  const [low, high] = processEnds(chain)
  let worst: { error: number; process: number } | null = null
  for (let i = 0; i <= samples; i++) {
    const process = low + (i / samples) * (high - low)
    const error = errorAt(chain, scaling, process)
    if (error !== null && (worst === null || Math.abs(error) > Math.abs(worst.error)))
      worst = { error, process }
  }
  return worst
}

/** The smallest change in the process value that a count shows, at its coarsest over the measuring
 *  range. */
export function resolution(chain: Chain): number | null {
  const right = rightScaling(chain)
  if (!right || chain.format.type === 'REAL') return null
  if (chain.characteristic.kind === 'linear' || sensorOf(chain.channel))
    return Math.abs(((right.high - right.low) / (right.rawHigh - right.rawLow)) * chain.format.step)
  let coarsest = 0
  for (
    let raw = Math.min(right.rawLow, right.rawHigh), i = 0;
    i < samples;
    i++, raw += Math.abs(right.rawHigh - right.rawLow) / samples
  ) {
    const [a, b] = [
      scaled(right, raw, chain.characteristic),
      scaled(right, raw + chain.format.step, chain.characteristic),
    ]
    if (a !== null && b !== null) coarsest = Math.max(coarsest, Math.abs(b - a))
  }
  return coarsest
}

/** Low and high of what is measured. */
export function processEnds(chain: Chain): readonly [number, number] {
  const sensor = sensorOf(chain.channel)
  return sensor ? [sensor.from, sensor.to] : [chain.process.low, chain.process.high]
}

/** NAMUR NE 43: measuring information from 3.8 to 20.5 mA, failure at or below 3.6 mA and at or
 *  above 21.0 mA. */
export const ne43 = { failureLow: 3.6, low: 3.8, high: 20.5, failureHigh: 21 } as const
export type Ne43Mark = keyof typeof ne43

/** A mark of NE 43 on a channel: its counts before rounding, its process value, and whether the
 *  channel can tell it. */
export interface MarkOnChannel {
  readonly mark: Ne43Mark
  readonly signal: number
  readonly counts: number
  readonly process: number | null
  readonly isVisible: boolean
}

/** The marks of NE 43 where a 4–20 mA transmitter stands on a current channel; else none. */
export function ne43Marks(chain: Chain): MarkOnChannel[] {
  const given = spanOf(chain.transmitter)
  if (
    chain.transmitter.kind !== 'current' ||
    chain.channel.kind !== 'current' ||
    given?.low !== 4 ||
    given.high !== 20
  )
    return []
  return (Object.entries(ne43) as [Ne43Mark, number][]).flatMap(([mark, signal]) => {
    const counts = countsAt(chain, signal)
    return counts === null
      ? []
      : [
          {
            mark,
            signal,
            counts,
            process: processAt(chain, signal),
            isVisible: quantised(chain.format, counts).beyond === null,
          },
        ]
  })
}
