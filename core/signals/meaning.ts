import type { Parameter } from '../catalog/model'

/** What makers call by a hundred names and everybody means the same by. */
export const meanings = [
  'range',
  'filter',
  'wireBreak',
  'shortCircuit',
  'limits',
  'inputFailure',
  'outputFailure',
  'substitute',
  'activated',
  'evaluation',
  'evaluationBeside',
] as const
export type Meaning = (typeof meanings)[number]

export const meaningWords: Readonly<Record<Meaning, string>> = {
  range: 'Signal range',
  filter: 'Filter',
  wireBreak: 'Wire-break diagnosis',
  shortCircuit: 'Short-circuit diagnosis',
  limits: 'Limit diagnosis',
  inputFailure: 'Value on fault',
  outputFailure: 'Outputs on failure',
  substitute: 'Substitute value',
  activated: 'Channel in use',
  evaluation: 'Evaluation of two channels',
  evaluationBeside: 'Evaluation of two neighbours',
}

/** Says that a parameter whose name holds one of these words, by `|`, means that. */
export interface MeaningRule {
  readonly meaning: Meaning
  readonly words: string
}

/** Common practice; a project's own rules come first. */
export const commonMeanings: readonly MeaningRule[] = [
  {
    meaning: 'wireBreak',
    words:
      'wire break|wire-break|open circuit|line break|broken wire|cable break|drahtbruch|leitungsbruch',
  },
  { meaning: 'shortCircuit', words: 'short circuit|short-circuit|kurzschluss|overload' },
  {
    meaning: 'limits',
    words:
      'diagnosis limit|limit diagnosis|limit alarm|limit monitoring|over-range diagnosis|overflow diagnosis',
  },
  { meaning: 'substitute', words: 'substitute value|replacement value|fail-safe value|ersatzwert' },
  {
    meaning: 'outputFailure',
    words:
      'behaviour on failure|behavior on failure|reaction when the connection ends|output on failure|fault action|verhalten bei',
  },
  { meaning: 'inputFailure', words: 'value on fault|input on fault|value on failure' },
  { meaning: 'filter', words: 'filter|smoothing|debounce|input delay|damping|glättung|dämpfung' },
  {
    meaning: 'evaluation',
    words: 'sensor evaluation|evaluation of the sensors|evaluation of sensors|evaluation|1oo2',
  },
  {
    meaning: 'activated',
    words:
      'channel activated|activate channel|activated|channel active|channel enabled|enable channel|channel in use|kanal aktiviert',
  },
  {
    meaning: 'range',
    words:
      'signal range|measuring range|input range|output range|signal type|measurement type|sensor type|range|messbereich',
  },
]

/** What a parameter means; null where no rule knows its name. */
export function meaningOf(
  { name }: Pick<Parameter, 'name'>,
  own: readonly MeaningRule[] = [],
): Meaning | null {
  const text = name.toLowerCase()
  return (
    [...own, ...commonMeanings].find(({ words }) =>
      words
        .split('|')
        .some((word) => word.trim() !== '' && text.includes(word.trim().toLowerCase())),
    )?.meaning ?? null
  )
}

/** The last number that a text gives a channel, e.g. `Channel 3`, `Ch. 3`, `input 3`. */
export function channelIn(text: string): number | null {
  const numbers = [...text.matchAll(/(?:channel|kanal|ch\.?|input|output|port)\s*(\d+)/gi)]
  const last = numbers.at(-1)
  return last ? Number(last[1]) : null
}

/** An electrical range as a channel may have it. */
export type ElectricalRange =
  | { readonly kind: 'off' }
  | {
      readonly kind: 'current' | 'voltage'
      readonly low: number
      readonly high: number
      readonly unit: 'mA' | 'V' | 'mV'
    }
  | { readonly kind: 'resistance'; readonly type: string }
  /** With the temperature in °C where the couple meets the channel; left out: 0. */
  | { readonly kind: 'thermocouple'; readonly type: string; readonly coldEnd?: number }

const number = String.raw`([+-]?\d+(?:[.,]\d+)?)`
const span = new RegExp(
  String.raw`${number}\s*(?:m?[AV])?\s*(?:\.\.\.?|…|to|bis|-|–|—)\s*\+?${number}\s*(m?[AV])\b`,
  'i',
)
const both = /(?:±|\+\/-|\+-)\s*(\d+(?:[.,]\d+)?)\s*(m?[AV])\b/i

/** Reads a range out of a maker's words: `4 to 20 mA`, `0..10V`, `±10 V`, `Pt100`, `type K`,
 *  `channel off`; null where it is none of these. */
export function readRange(text: string): ElectricalRange | null {
  if (/\b(off|disabled|deactivated|not used|unused|inactive|aus|deaktiviert)\b/i.test(text))
    return { kind: 'off' }
  const plusMinus = both.exec(text)
  if (plusMinus) return spanOf(-decimal(plusMinus[1]!), decimal(plusMinus[1]!), plusMinus[2]!)
  const written = span.exec(text)
  if (written) return spanOf(decimal(written[1]!), decimal(written[2]!), written[3]!)
  const resistance = /\b(pt|ni)\s*(\d{2,4})\b/i.exec(text)
  if (resistance)
    return {
      kind: 'resistance',
      type: `${resistance[1]![0]!.toUpperCase()}${resistance[1]!.slice(1).toLowerCase()}${resistance[2]!}`,
    }
  const couple = /\b(?:type|typ|thermocouple|tc)\s*([BEJKNRST])\b/i.exec(text)
  return couple ? { kind: 'thermocouple', type: couple[1]!.toUpperCase() } : null
}

/** A range as everybody writes it: `4…20 mA`. */
export function wordRange(range: ElectricalRange): string {
  if (range.kind === 'off') return 'off'
  if ('low' in range)
    return range.low === -range.high
      ? `±${range.high} ${range.unit}`
      : `${range.low}…${range.high} ${range.unit}`
  return range.kind === 'thermocouple' ? `type ${range.type}` : range.type
}

export function sameRange(a: ElectricalRange, b: ElectricalRange): boolean {
  return wordRange(a) === wordRange(b)
}

function spanOf(low: number, high: number, unit: string): ElectricalRange | null {
  const known = ({ ma: 'mA', v: 'V', mv: 'mV' } as const)[
    unit.toLowerCase() as 'ma' | 'v' | 'mv'
  ] as 'mA' | 'V' | 'mV' | undefined
  if (!known || high <= low) return null
  return { kind: known === 'mA' ? 'current' : 'voltage', low, high, unit: known }
}

function decimal(text: string): number {
  return Number(text.replace(',', '.'))
}
