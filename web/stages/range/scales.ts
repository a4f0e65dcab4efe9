import {
  countsAt,
  ne43,
  ne43Marks,
  probe,
  processEnds,
  scaled,
  sensorOf,
  signalUnit,
  spanOf,
  type Chain,
  type Scaling,
} from '@kataxis/core'

/** A stretch of a scale that means something; heights from 0 (bottom) to 1 (top). */
export interface Band {
  readonly from: number
  readonly to: number
  readonly kind: 'range' | 'margin' | 'failure' | 'blind'
  readonly words: string
}
export interface Tick {
  readonly at: number
  readonly words: string
}
/** One of the vertical scales: all of them are aligned, so that what belongs together stands at the
 *  same height. */
export interface Scale {
  readonly name: 'process' | 'signal' | 'channel' | 'raw' | 'program'
  readonly heading: string
  readonly unit: string
  readonly ticks: readonly Tick[]
  readonly bands: readonly Band[]
}

/** What all scales are aligned by: the signal, or the temperature of a sensor. */
export interface Frame {
  readonly low: number
  readonly high: number
}

/** The stretch that is drawn: what transmitter and channel can do, the marks of NE 43, and a little
 *  beyond. */
export function frameOf(chain: Chain): Frame {
  const sensor = sensorOf(chain.channel)
  if (sensor) return { low: sensor.from, high: sensor.to }
  const spans = [spanOf(chain.transmitter), spanOf(chain.channel)].flatMap((span) =>
    span ? [span] : [],
  )
  const [low, high] = [
    Math.min(...spans.map((span) => span.low)),
    Math.max(...spans.map((span) => span.high)),
  ]
  const beyond = (high - low) * 0.1
  return chain.channel.kind === 'current'
    ? { low: Math.min(0, low), high: high + beyond }
    : { low: low - beyond, high: high + beyond }
}

const heightIn =
  ({ low, high }: Frame) =>
  (u: number) =>
    (u - low) / (high - low)

/** Round numbers within a stretch, about so many. */
export function roundNumbers(low: number, high: number, about: number): number[] {
  const rough = (high - low) / about
  if (!(rough > 0)) return []
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 2.5, 5, 10].map((one) => one * power).find((one) => one >= rough)!
  const first = Math.ceil(low / step - 1e-9)
  return Array.from({ length: Math.floor(high / step + 1e-9) - first + 1 }, (_, i) =>
    Number(((first + i) * step).toPrecision(12)),
  )
}

/** Where a link of the chain has a value, as the aligning quantity; null where it has no such
 *  value. */
function alignedAt(chain: Chain, link: 'process' | 'signal' | 'raw', value: number): number | null {
  const { process, signal } = probe(chain, link, value)
  return sensorOf(chain.channel) ? process : signal
}

export function scalesOf(chain: Chain): Scale[] {
  const frame = frameOf(chain)
  const heightOf = heightIn(frame)
  const sensor = sensorOf(chain.channel)
  const ticks = (link: 'process' | 'signal' | 'raw', low: number, high: number): Tick[] =>
    roundNumbers(Math.min(low, high), Math.max(low, high), 9).flatMap((value) => {
      const u = alignedAt(chain, link, value)
      return u !== null && u >= frame.low - 1e-9 && u <= frame.high + 1e-9
        ? [{ at: heightOf(u), words: word(value) }]
        : []
    })
  const [low, high] = processEnds(chain)
  const at = (u: number) =>
    sensor
      ? { process: u, signal: sensor.at(u) }
      : { process: probe(chain, 'signal', u).process, signal: u }
  const [bottom, top] = [at(frame.low), at(frame.high)]
  const counts = [countsAt(chain, bottom.signal), countsAt(chain, top.signal)] as const
  const range = (from: number | null, to: number | null, words: string): Band[] =>
    from === null || to === null
      ? []
      : [
          {
            from: heightOf(Math.min(from, to)),
            to: heightOf(Math.max(from, to)),
            kind: 'range',
            words,
          },
        ]
  const given = spanOf(chain.transmitter)
  const taken = spanOf(chain.channel)
  const process = ticks('process', bottom.process ?? low, top.process ?? high)
  return [
    {
      name: 'process',
      heading: 'Process',
      unit: chain.process.unit,
      ticks: process,
      bands: range(
        alignedAt(chain, 'process', low),
        alignedAt(chain, 'process', high),
        'measuring range',
      ),
    },
    {
      name: 'signal',
      heading: sensor ? 'Sensor' : 'Transmitter',
      unit: signalUnit(chain.channel),
      ticks: ticks('signal', bottom.signal, top.signal),
      bands:
        sensor || !given
          ? []
          : [...range(given.low, given.high, 'its range'), ...failureBands(chain, frame)],
    },
    {
      name: 'channel',
      heading: 'Channel',
      unit: signalUnit(chain.channel),
      ticks: ticks('signal', bottom.signal, top.signal),
      bands: taken
        ? range(taken.low, taken.high, 'its range')
        : range(frame.low, frame.high, 'its range'),
    },
    {
      name: 'raw',
      heading: 'Counts',
      unit: chain.format.type,
      ticks: counts[0] === null || counts[1] === null ? [] : ticks('raw', counts[0], counts[1]),
      bands: blindBands(chain, frame),
    },
    {
      name: 'program',
      heading: 'In the program',
      unit: chain.process.unit,
      ticks: process,
      bands: [],
    },
  ]
}

/** NAMUR NE 43: where a signal means a failure, and the margins between. */
function failureBands(chain: Chain, frame: Frame): Band[] {
  if (ne43Marks(chain).length === 0) return []
  const heightOf = heightIn(frame)
  return [
    { from: 0, to: heightOf(ne43.failureLow), kind: 'failure', words: 'failure' },
    { from: heightOf(ne43.failureLow), to: heightOf(ne43.low), kind: 'margin', words: '' },
    { from: heightOf(ne43.high), to: heightOf(ne43.failureHigh), kind: 'margin', words: '' },
    { from: heightOf(ne43.failureHigh), to: 1, kind: 'failure', words: 'failure' },
  ]
}

/** Where counts stop, or become a code: what lies there the channel cannot tell. */
function blindBands(chain: Chain, frame: Frame): Band[] {
  const heightOf = heightIn(frame)
  const { least, most, type } = chain.format
  if (type === 'REAL') return []
  const [under, over] = [alignedAt(chain, 'raw', least), alignedAt(chain, 'raw', most)]
  return [
    ...(under !== null && under > frame.low
      ? [{ from: 0, to: heightOf(under), kind: 'blind' as const, words: 'not told' }]
      : []),
    ...(over !== null && over < frame.high
      ? [{ from: heightOf(over), to: 1, kind: 'blind' as const, words: 'not told' }]
      : []),
  ]
}

/** The height of a reading, and of what another scaling makes of it in the program. */
export function heightsOf(
  chain: Chain,
  signal: number,
  other: Scaling | null,
): { readonly at: number; readonly wrong: number | null; readonly wrongValue: number | null } {
  const frame = frameOf(chain)
  const heightOf = heightIn(frame)
  const reading = probe(chain, 'signal', signal)
  const u = sensorOf(chain.channel) ? reading.process : signal
  const wrongValue =
    other && reading.raw !== null ? scaled(other, reading.raw, chain.characteristic) : null
  const wrongAt = wrongValue === null ? null : alignedAt(chain, 'process', wrongValue)
  return {
    at: u === null ? 0 : heightOf(u),
    wrong: wrongAt === null ? null : heightOf(wrongAt),
    wrongValue,
  }
}

/** The signal at a height of the drawing. */
export function signalAtHeight(chain: Chain, height: number): number {
  const { low, high } = frameOf(chain)
  const u = low + Math.min(1, Math.max(0, height)) * (high - low)
  return sensorOf(chain.channel)?.at(u) ?? u
}

/** A number as short as it is exact enough to read. */
export function word(value: number | null, digits = 5): string {
  return value === null ? '–' : String(Number(value.toPrecision(digits)))
}
