/** The fields a tag pattern can use, for one channel and the signal on it. */
export interface PatternFields {
  readonly station: string
  readonly network: string
  readonly slot: number
  readonly subslot: number
  readonly channel: number
  readonly name: string
  readonly kind: string
  readonly terminal: string
  readonly tag: string
  readonly signal: string
  readonly area: string
  readonly designation: string
}

export const patternFields: Readonly<Record<keyof PatternFields | 'n', string>> = {
  station: 'station name',
  network: 'network name',
  slot: 'slot number',
  subslot: 'subslot number',
  channel: 'number of the channel on its module, from 0',
  name: 'channel name of the description file',
  kind: 'DI, DO, AI, AO or P',
  terminal: 'the terminal noted',
  tag: 'the tag it has now',
  signal: 'the comment of the signal',
  area: 'part of the plant',
  designation: 'plant designation',
  n: 'counter over the selected rows, from 1',
}

export type PatternResult = { text: string } | { fault: string }

/** Fills a pattern such as `{station}_{kind}{slot:02}_{channel}`. Behind a colon stands what is
 *  done with a field, one after the other: `{name:u}` upper case, `{name:l}` lower case, digits pad
 *  numbers, `{n:*10:+90}` reckons with them, `{station:->_}` replaces each `-` by `_`. Illegal
 *  characters stay: the check says so, nobody guesses. */
export function fillPattern(
  pattern: string,
  fields: PatternFields,
  counter: number,
): PatternResult {
  return fillFields(pattern, { ...fields, n: counter }, patternFields)
}

/** The same for any fields; `known` names them. */
export function fillFields<Field extends string>(
  pattern: string,
  values: Readonly<Record<Field, string | number>>,
  known: Readonly<Record<Field, string>>,
): PatternResult {
  let fault: string | null = null
  const text = pattern.replace(/\{([^{}]*)\}/g, (_, inside: string) => {
    const [field, ...formats] = inside.split(':') as [string, ...string[]]
    if (!Object.hasOwn(known, field)) {
      fault ??= `There is no field {${field}}; there are ${Object.keys(known)
        .map((name) => `{${name}}`)
        .join(', ')}.`
      return ''
    }
    return formats.reduce(
      (text, format) => {
        const formatted = formatField(text, format)
        if (formatted === null)
          fault ??= `"${format}" does nothing to {${field}}; u, l, a number of digits up to 30, such as 02, +1, *10 and old>new do.`
        return formatted ?? ''
      },
      String(values[field as Field]),
    )
  })
  if (/[{}]/.test(text)) fault ??= 'A brace is opened or closed without its partner.'
  return fault === null ? { text } : { fault }
}

/** Most digits that a number is filled up to. */
const widest = 30

function formatField(text: string, format: string): string | null {
  if (format === 'u') return text.toUpperCase()
  if (format === 'l') return text.toLowerCase()
  const [, sign, amount] = /^([+*-])(\d{1,9})$/.exec(format) ?? []
  if (sign !== undefined)
    return /^-?\d+$/.test(text)
      ? String(
          sign === '*' ? Number(text) * Number(amount) : Number(text) + Number(`${sign}${amount}`),
        )
      : null
  if (/^0?\d+$/.test(format))
    return Number(format) > widest
      ? null
      : /^\d+$/.test(text)
        ? text.padStart(Number(format), '0')
        : text
  const [, from, to] = /^([^>]+)>(.*)$/s.exec(format) ?? []
  return from === undefined ? null : text.replaceAll(from, () => to!)
}

/** Next of a series: the last number in the text grows by `step`, with its width kept; without a
 *  number the text stays. */
export function nextInSeries(text: string, step: number): string {
  const match = /^(.*?)(\d+)(\D*)$/.exec(text)
  if (!match) return text
  const value = Math.max(0, Number(match[2]) + step)
  return `${match[1]}${String(value).padStart(match[2]!.length, '0')}${match[3]}`
}

/** A text as its words and the numbers between them. */
interface Parts {
  readonly words: readonly string[]
  readonly numbers: readonly string[]
}

function partsOf(text: string): Parts {
  const pieces = text.split(/(\d+)/)
  return {
    words: pieces.filter((_, i) => i % 2 === 0),
    numbers: pieces.filter((_, i) => i % 2 === 1),
  }
}

/** Where texts differ in one number only, by the same step from each to the next: which, and by how
 *  much; null where they do not. */
function stepOf(texts: readonly Parts[]): { at: number; step: number } | null {
  const [first, second] = texts
  if (!first || !second || texts.some(({ words }) => words.join('\0') !== first.words.join('\0')))
    return null
  const at = first.numbers.findIndex((number, i) => Number(number) !== Number(second.numbers[i]))
  if (
    at < 0 ||
    texts.some(({ numbers }) =>
      numbers.some((number, i) => i !== at && number !== first.numbers[i]),
    )
  )
    return null
  const values = texts.map(({ numbers }) => Number(numbers[at]))
  const step = values[1]! - values[0]!
  return values.every((value, i) => value === values[0]! + i * step) ? { at, step } : null
}

function withNumber(
  { words, numbers }: Parts,
  at: number,
  value: number,
  width = numbers[at]!.length,
): string {
  const next = numbers.map((number, i) => (i === at ? String(value).padStart(width, '0') : number))
  return words.map((word, i) => word + (next[i] ?? '')).join('')
}

/** Goes on with a series that begins with some texts, `index` places behind the first (below 0:
 *  before it). Two and more continue their step; one counts on by one; pairs of other texts repeat,
 *  each counting on so that none comes twice. Without a number a text repeats. Null where the
 *  numbers end below 0. */
export function seriesAt(texts: readonly string[], index: number): string | null {
  const [only] = texts
  if (only === undefined) return null
  const all = texts.map(partsOf)
  const found = stepOf(all)
  if (found) {
    const value = Number(all[0]!.numbers[found.at]) + index * found.step
    const width = Math.min(...all.map(({ numbers }) => numbers[found.at]!.length))
    return value < 0 ? null : withNumber(all[0]!, found.at, value, width)
  }
  const at = ((index % texts.length) + texts.length) % texts.length
  const round = Math.floor(index / texts.length)
  const own = all[at]!
  const last = own.numbers.length - 1
  if (last < 0) return texts[at]!
  const value = Number(own.numbers[last]) + round * roundOf(all)
  return value < 0 ? null : withNumber(own, last, value)
}

/** By how much each of some texts counts on a round, so that none meets another one. */
function roundOf(texts: readonly Parts[]): number {
  const alike = texts.map(({ words, numbers }) => ({
    key: [...words, ...numbers.slice(0, -1)].join('\0'),
    value: Number(numbers.at(-1)),
  }))
  return alike.reduce(
    (most, { key, value }) =>
      Math.max(
        most,
        ...alike
          .filter((other) => other.key === key)
          .map((other) => Math.abs(other.value - value) + 1),
      ),
    1,
  )
}
