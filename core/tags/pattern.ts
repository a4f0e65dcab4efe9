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

/** Fills a pattern such as `{station}_{kind}{slot:02}_{channel}`. Behind a colon stands what is done with a field, one
 *  after the other: `{name:u}` upper case, `{name:l}` lower case, digits pad numbers, `{station:->_}` replaces each `-`
 *  by `_`. Illegal characters stay: the check says so, nobody guesses. */
export function fillPattern(pattern: string, fields: PatternFields, counter: number): PatternResult {
  return fillFields(pattern, { ...fields, n: counter }, patternFields)
}

/** The same for any fields; `known` names them. */
export function fillFields<Field extends string>(pattern: string, values: Readonly<Record<Field, string | number>>, known: Readonly<Record<Field, string>>): PatternResult {
  let fault: string | null = null
  const text = pattern.replace(/\{([^{}]*)\}/g, (_, inside: string) => {
    const [field, ...formats] = inside.split(':') as [string, ...string[]]
    if (!Object.hasOwn(known, field)) {
      fault ??= `There is no field {${field}}; there are ${Object.keys(known).map((name) => `{${name}}`).join(', ')}.`
      return ''
    }
    return formats.reduce((text, format) => {
      const formatted = formatField(text, format)
      if (formatted === null) fault ??= `"${format}" does nothing to {${field}}; u, l, a number of digits up to 30, such as 02, and old>new do.`
      return formatted ?? ''
    }, String(values[field as Field]))
  })
  if (/[{}]/.test(text)) fault ??= 'A brace is opened or closed without its partner.'
  return fault === null ? { text } : { fault }
}

/** Most digits that a number is filled up to. */
const widest = 30

function formatField(text: string, format: string): string | null {
  if (format === 'u') return text.toUpperCase()
  if (format === 'l') return text.toLowerCase()
  if (/^0?\d+$/.test(format)) return Number(format) > widest ? null : /^\d+$/.test(text) ? text.padStart(Number(format), '0') : text
  const [, from, to] = /^([^>]+)>(.*)$/s.exec(format) ?? []
  return from === undefined ? null : text.replaceAll(from, () => to!)
}

/** Next of a series: the last number in the text grows by `step`, with its width kept; without a number the text stays. */
export function nextInSeries(text: string, step: number): string {
  const match = /^(.*?)(\d+)(\D*)$/.exec(text)
  if (!match) return text
  const value = Math.max(0, Number(match[2]) + step)
  return `${match[1]}${String(value).padStart(match[2]!.length, '0')}${match[3]}`
}
