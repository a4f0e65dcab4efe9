import { longest, mostPoints, type SignalFacts } from '../plan/model'
import { tableFault } from '../scaling/characteristic'
import { rawTypes, type RawType } from '../vocabulary/raw-format'
import { usualUnit } from '../scaling/units'
import { readRange, wordRange } from '../vocabulary/electrical-range'

/** What a change of facts may hold; null takes a fact away. */
export type FactsEdit = { [K in keyof SignalFacts]?: SignalFacts[K] | null }

/** Facts of a signal as a column of the Ledger and of lists: in words, and back. */
export interface FactColumn {
  readonly heading: string
  readonly width: number
  /** Which of the Ledger's sets of columns shows it; null: another column does. */
  readonly set: 'scaling' | 'wiring' | 'project' | null
  /** What it is, with an example. */
  readonly help: string
  readonly word: (facts: SignalFacts) => string
  /** What a text means; a sentence where it means nothing. An empty text takes the facts away. */
  readonly read: (text: string) => FactsEdit | string
}

const number = String.raw`[+-]?\d+(?:[.,]\d+)?(?:e[+-]?\d+)?`
const rangeText = new RegExp(
  String.raw`^(${number})\s*(?:\.\.\.?|…|to|bis|–|—|;)\s*(${number})\s*(.*)$`,
  'i',
)
const scalingText = new RegExp(
  String.raw`^(${number})\s*(?:\.\.\.?|…|to|–)\s*(${number})\s*(?:=|→|:)\s*(${number})\s*(?:\.\.\.?|…|to|–)\s*(${number})$`,
  'i',
)
/** A sentence as part of another one. */
const lowered = (sentence: string) =>
  `${sentence[0]!.toLowerCase()}${sentence.slice(1).replace(/\.$/, '')}`
const decimal = (text: string) => Number(text.replace(',', '.'))

/** One of some words, each with what it stands for. */
function choice<K extends keyof SignalFacts>(
  key: K,
  words: readonly (readonly [word: string, value: NonNullable<SignalFacts[K]>, also?: RegExp])[],
): Pick<FactColumn, 'word' | 'read'> {
  return {
    word: (facts) => words.find(([, value]) => value === facts[key])?.[0] ?? '',
    read: (text) => {
      if (text === '') return { [key]: null }
      const found = words.find(
        ([word, , also]) => word.toLowerCase() === text.toLowerCase() || also?.test(text),
      )
      return found
        ? { [key]: found[1] }
        : `"${text}" is none of ${words.map(([word]) => word).join(', ')}`
    },
  }
}
function free(key: 'area' | 'designation' | 'partner'): Pick<FactColumn, 'word' | 'read'> {
  return {
    word: (facts) => facts[key] ?? '',
    read: (text) => tooLong(key, text) ?? { [key]: text === '' ? null : text },
  }
}

/** Why a text is too long for what it is to say; null where it is not. */
export function tooLong(key: keyof typeof longest, text: string): string | null {
  return text.length > longest[key]
    ? `${text.length} characters are more than the ${longest[key]} that its ${key} holds`
    : null
}

/** A quantity in one of its usual units; without a unit in the first one. */
function quantity(
  key: 'pulseMs' | 'loadMa' | 'inrushMa',
  usual: string,
  units: readonly (readonly [unit: string, factor: number])[],
  isPositive = false,
): Pick<FactColumn, 'word' | 'read'> {
  const text = new RegExp(
    String.raw`^(${number})\s*(${units.map(([unit]) => unit).join('|')})?$`,
    'i',
  )
  return {
    word: (facts) => (facts[key] === undefined ? '' : `${facts[key]} ${usual}`),
    read: (given) => {
      if (given === '') return { [key]: null }
      const parts = text.exec(given)
      const value = parts
        ? Number(
            (
              decimal(parts[1]!) *
              (units.find(([unit]) => unit.toLowerCase() === parts[2]?.toLowerCase())?.[1] ?? 1)
            ).toPrecision(12),
          )
        : NaN
      return value >= 0 && !(isPositive && value === 0)
        ? { [key]: value }
        : `"${given}" is none; 5 ${usual} is one`
    },
  }
}

function range(key: 'transmitter' | 'channelRange'): Pick<FactColumn, 'word' | 'read'> {
  return {
    word: (facts) => facts[key] ?? '',
    read: (text) => {
      if (text === '') return { [key]: null }
      const read = readRange(text)
      return read && read.kind !== 'off'
        ? { [key]: wordRange(read) }
        : `"${text}" is no range; 4…20 mA, 0…10 V, Pt100 and type K are some`
    },
  }
}

export const factColumns = {
  measures: {
    heading: 'Measures',
    width: 120,
    set: 'scaling',
    help: 'Measuring range with its unit: 0…6 bar',
    word: ({ low, high, unit }) =>
      low === undefined || high === undefined ? '' : `${low}…${high}${unit ? ` ${unit}` : ''}`,
    read: (text) => {
      if (text === '') return { low: null, high: null, unit: null }
      const parts = rangeText.exec(text)
      if (!parts) return `"${text}" is no measuring range; 0…6 bar is one`
      const [low, high] = [decimal(parts[1]!), decimal(parts[2]!)]
      return (
        tooLong('unit', parts[3]!) ??
        (low === high
          ? `a range from ${low} to ${high} measures nothing`
          : { low, high, unit: usualUnit(parts[3]!) || null })
      )
    },
  },
  transmitter: {
    heading: 'Transmitter',
    width: 100,
    set: 'scaling',
    help: 'What it gives or takes: 4…20 mA, 0…10 V, Pt100, type K',
    ...range('transmitter'),
  },
  channelRange: {
    heading: 'Channel takes',
    width: 100,
    set: null,
    help: 'The range of a channel whose description says none: 4…20 mA',
    ...range('channelRange'),
  },
  characteristic: {
    heading: 'Curve',
    width: 80,
    set: 'scaling',
    help: 'linear, root, or points: 0=0 50=12 100=60 (signal in per cent = value)',
    word: ({ characteristic }) =>
      !characteristic
        ? ''
        : characteristic.kind === 'table'
          ? characteristic.points.map(([x, y]) => `${x}=${y}`).join(' ')
          : characteristic.kind,
    read: (text) => {
      if (text === '') return { characteristic: null }
      if (text.toLowerCase() === 'linear' || text.toLowerCase() === 'root')
        return { characteristic: { kind: text.toLowerCase() as 'linear' | 'root' } }
      const points = text
        .split(/[\s;]+/)
        .map((one) => one.split('=').map(decimal) as [number, number])
      if (
        points.length > 1 &&
        points.every((one) => one.length === 2 && one.every(Number.isFinite))
      ) {
        const fault =
          points.length > mostPoints
            ? `${points.length} points are more than the ${mostPoints} that a curve holds`
            : tableFault(points)
        return fault ? lowered(fault) : { characteristic: { kind: 'table', points } }
      }
      return `"${text}" is neither linear, root nor a list of points such as 0=0 50=12 100=60`
    },
  },
  coldEnd: {
    heading: 'Cold end',
    width: 98,
    set: 'scaling',
    help: 'Temperature where a thermocouple meets the channel: 25 °C',
    word: ({ coldEnd }) => (coldEnd === undefined ? '' : `${coldEnd} °C`),
    read: (text) => {
      if (text === '') return { coldEnd: null }
      const parts = new RegExp(`^(${number})\\s*(?:°?\\s*C)?$`, 'i').exec(text)
      const value = parts ? decimal(parts[1]!) : NaN
      return value >= -100 && value <= 200
        ? { coldEnd: value }
        : `"${text}" is no temperature of a terminal; 25 °C is one`
    },
  },
  scaling: {
    heading: 'Scaled in the program',
    width: 170,
    set: 'scaling',
    help: 'Counts and values in the scaling block: 13107…65535 = 0…6',
    word: ({ scaling }) =>
      scaling ? `${scaling.rawLow}…${scaling.rawHigh} = ${scaling.low}…${scaling.high}` : '',
    read: (text) => {
      if (text === '') return { scaling: null }
      const parts = scalingText.exec(text)
      if (!parts) return `"${text}" is no scaling; 13107…65535 = 0…6 is one`
      const [rawLow, rawHigh, low, high] = parts.slice(1).map(decimal) as [
        number,
        number,
        number,
        number,
      ]
      return rawLow === rawHigh
        ? `counts from ${rawLow} to ${rawHigh} scale nothing`
        : { scaling: { rawLow, rawHigh, low, high } }
    },
  },
  readAs: {
    heading: 'Read as',
    width: 92,
    set: 'scaling',
    help: 'The type the program reads it as',
    ...choice(
      'readAs',
      rawTypes.map((type: RawType) => [type, type] as const),
    ),
  },
  wires: {
    heading: 'Wires',
    width: 76,
    set: 'wiring',
    help: '2, 3 or 4',
    ...choice('wires', [
      ['2', 2, /^(2|two)-?wire$/i],
      ['3', 3, /^(3|three)-?wire$/i],
      ['4', 4, /^(4|four)-?wire$/i],
    ]),
  },
  supply: {
    heading: 'Fed by',
    width: 90,
    set: 'wiring',
    help: 'channel, external (24 V in series) or device (brings its own)',
    ...choice('supply', [
      ['channel', 'channel', /^(active|module)$/i],
      ['external', 'external', /^24 ?V$/i],
      ['device', 'device', /^(own|transmitter)$/i],
    ]),
  },
  hart: {
    heading: 'HART',
    width: 74,
    set: 'wiring',
    help: 'yes where its variables are read over the loop',
    ...choice('hart', [
      ['yes', true, /^(x|1|true|ja|y)$/i],
      ['no', false, /^(0|false|nein|n|-)$/i],
    ]),
  },
  switching: {
    heading: 'Switches',
    width: 80,
    set: 'wiring',
    help: 'pnp (sources), npn (sinks) or contact',
    ...choice('switching', [
      ['pnp', 'pnp', /^sourc/i],
      ['npn', 'npn', /^sink/i],
      ['contact', 'contact', /^(dry|relay|potential)/i],
    ]),
  },
  pulse: {
    heading: 'Shortest pulse',
    width: 132,
    set: 'wiring',
    help: 'The shortest pulse that is not to be missed: 5 ms',
    ...quantity(
      'pulseMs',
      'ms',
      [
        ['µs', 0.001],
        ['us', 0.001],
        ['ms', 1],
        ['s', 1000],
      ],
      true,
    ),
  },
  load: {
    heading: 'Load',
    width: 84,
    set: 'wiring',
    help: 'Current of what is switched: 400 mA or 0.4 A',
    ...quantity('loadMa', 'mA', [
      ['mA', 1],
      ['A', 1000],
    ]),
  },
  inrush: {
    heading: 'Inrush',
    width: 86,
    set: 'wiring',
    help: 'Current while it starts: 2 A',
    ...quantity('inrushMa', 'mA', [
      ['mA', 1],
      ['A', 1000],
    ]),
  },
  needs: {
    heading: 'Needs',
    width: 78,
    set: 'project',
    help: 'DI, DO, AI or AO: the channel it needs',
    ...choice('kind', [
      ['DI', 'DI'],
      ['DO', 'DO'],
      ['AI', 'AI'],
      ['AO', 'AO'],
    ]),
  },
  area: { heading: 'Area', width: 110, set: 'project', help: 'Part of the plant', ...free('area') },
  designation: {
    heading: 'Designation',
    width: 130,
    set: 'project',
    help: 'Plant designation beside the tag, free: =A1+B2-K3',
    ...free('designation'),
  },
  partner: {
    heading: 'Partner',
    width: 120,
    set: 'project',
    help: 'Tag of the signal that belongs to it',
    ...free('partner'),
  },
} as const satisfies Readonly<Record<string, FactColumn>>

export type FactName = keyof typeof factColumns
export const factNames = Object.keys(factColumns) as FactName[]
