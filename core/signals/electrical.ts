import type { Channel } from '../catalog/layout'
import type { Electrical, Module, Parameter } from '../catalog/model'
import type { DerivedModule } from '../derive/derive'
import type { SignalFacts } from '../plan/model'
import { commonFormats } from '../scaling/raw-formats'
import type { ChannelSetting } from './channel-settings'
import { entityParameters, type EntityParameters } from './entity'
import type { Meaning } from '../vocabulary/meaning'

const unsaid: Electrical = {}

/** What a module's channels are electrically; empty where its description says nothing. */
export function electricalOf(described: DerivedModule['described']): Electrical {
  return (described as Module | null)?.electrical ?? unsaid
}

/** The same of one channel, whose own range counts before its module's. */
export function electricalOfChannel(
  described: DerivedModule['described'],
  { range }: Pick<Channel, 'range'>,
): Electrical {
  const electrical = electricalOf(described)
  return range === undefined ? electrical : { ...electrical, range }
}

const takesWords = {
  pnp: 'takes sensors that source (pnp)',
  npn: 'takes sensors that sink (npn)',
  both: 'takes sensors that source or sink',
} as const
const analog = ['AI', 'AO']
const phrases: {
  readonly [K in keyof Electrical]-?: {
    readonly kinds: readonly string[]
    readonly say: (value: NonNullable<Electrical[K]>) => string
  }
} = {
  takes: { kinds: ['DI'], say: (value) => takesWords[value] },
  delayMs: { kinds: ['DI'], say: (value) => `counts what holds for ${value} ms` },
  loadMa: { kinds: ['DO'], say: (value) => `gives ${value} mA at most` },
  inrushMa: { kinds: ['DO'], say: (value) => `gives ${value} mA while something starts` },
  feeds: { kinds: ['AI'], say: (value) => (value ? 'feeds a transmitter' : 'feeds nothing') },
  hart: { kinds: analog, say: (value) => (value ? 'carries HART' : 'carries no HART') },
  intrinsicallySafe: {
    kinds: ['DI', 'DO', ...analog],
    say: (value) => (value ? 'is intrinsically safe' : 'is not intrinsically safe'),
  },
  entity: {
    kinds: ['DI', 'DO', ...analog],
    say: (value) =>
      `gives at most ${entityParameters.flatMap(([key, words, unit]) => (key in value ? [`${words} ${value[key as keyof typeof value]} ${unit}`] : [])).join(', ')}`,
  },
  range: { kinds: analog, say: (value) => `has the range ${value}, which nothing changes` },
  counts: {
    kinds: analog,
    say: (value) =>
      `counts ${(typeof value === 'string' ? commonFormats[value]?.name : value.name) ?? ''}`,
  },
}

/** What a channel is electrically, phrase by phrase; of a channel of one kind what concerns it. */
export function wordElectrical(electrical: Electrical, kind?: string): string[] {
  return (Object.keys(phrases) as (keyof Electrical)[]).flatMap((key) => {
    const { kinds, say } = phrases[key] as {
      kinds: readonly string[]
      say: (value: unknown) => string
    }
    return electrical[key] === undefined || (kind !== undefined && !kinds.includes(kind))
      ? []
      : [say(electrical[key])]
  })
}

/** The entity parameters of a circuit: what was entered, and for the channel's side what its
 *  description says. */
export function entityOf(
  described: DerivedModule['described'],
  { ex }: SignalFacts,
): EntityParameters | null {
  return ex ? { ...electricalOf(described).entity, ...ex } : null
}

const times: readonly (readonly [unit: RegExp, milliseconds: number])[] = [
  [/^[µu]s$/i, 0.001],
  [/^ms$/i, 1],
  [/^s$/i, 1000],
]

/** A time in a maker's words, in ms: `3 ms`, `0,1 ms`, `500 µs`; null where it is none. */
export function readMilliseconds(text: string): number | null {
  const [, value, unit] = /^\s*(\d+(?:[.,]\d+)?)\s*([µu]s|ms|s)\b/i.exec(text) ?? []
  return value === undefined
    ? null
    : Number(
        (
          Number(value.replace(',', '.')) * times.find(([sign]) => sign.test(unit!))![1]
        ).toPrecision(12),
      )
}

/** How long an input has to hold until it counts, ms: by its filter as it is set, else by its
 *  description; null where nobody says. */
export function inputDelay(
  settings: ReadonlyMap<Meaning, ChannelSetting>,
  { delayMs }: Electrical,
): number | null {
  const filter = settings.get('filter')
  return (filter ? readMilliseconds(filter.words) : null) ?? delayMs ?? null
}

/** The longest filter that still passes a pulse, as a value of its parameter; null where none does.
 *  Pulse in ms. */
export function filterFor({ texts }: Pick<Parameter, 'texts'>, pulseMs: number): number | null {
  const [best] = Object.entries(texts)
    .flatMap(([value, text]) => {
      const time = readMilliseconds(text)
      return time !== null && time < pulseMs ? [{ value: Number(value), time }] : []
    })
    .sort((a, b) => b.time - a.time)
  return best?.value ?? null
}
