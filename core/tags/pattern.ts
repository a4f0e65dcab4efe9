/** The fields a tag pattern can use, for one channel. */
export interface PatternFields {
  readonly station: string
  readonly slot: number
  readonly subslot: number
  readonly channel: number
  readonly name: string
  readonly kind: string
  readonly tag: string
}

export const patternFields: Readonly<Record<keyof PatternFields | 'n', string>> = {
  station: 'station name',
  slot: 'slot number',
  subslot: 'subslot number',
  channel: 'number of the channel on its module, from 0',
  name: 'channel name of the description file',
  kind: 'DI, DO, AI, AO or P',
  tag: 'the tag it has now',
  n: 'counter over the selected rows, from 1',
}

export type PatternResult = { text: string } | { fault: string }

/** Fills a pattern such as `{station}_{kind}{slot:02}_{channel}`; `{name:u}` upper case, `{name:l}` lower case, digits pad
 *  numbers. Illegal characters stay: the check says so, nobody guesses. */
export function fillPattern(pattern: string, fields: PatternFields, counter: number): PatternResult {
  return fillFields(pattern, { ...fields, n: counter }, patternFields)
}

/** The same for any fields; `known` names them. */
export function fillFields<Field extends string>(pattern: string, values: Readonly<Record<Field, string | number>>, known: Readonly<Record<Field, string>>): PatternResult {
  let fault: string | null = null
  const text = pattern.replace(/\{([^{}]*)\}/g, (_, inside: string) => {
    const [field, format = ''] = inside.split(':', 2) as [string, string?]
    if (!Object.hasOwn(known, field)) {
      fault ??= `There is no field {${field}}; there are ${Object.keys(known).map((name) => `{${name}}`).join(', ')}.`
      return ''
    }
    return formatField(String(values[field as Field]), format)
  })
  if (/[{}]/.test(text)) fault ??= 'A brace is opened or closed without its partner.'
  return fault === null ? { text } : { fault }
}

function formatField(text: string, format: string): string {
  if (format === 'u') return text.toUpperCase()
  if (format === 'l') return text.toLowerCase()
  return /^0?\d+$/.test(format) && /^\d+$/.test(text) ? text.padStart(Number(format), '0') : text
}

/** Next of a series: the last number in the text grows by `step`, with its width kept; without a number the text stays. */
export function nextInSeries(text: string, step: number): string {
  const match = /^(.*?)(\d+)(\D*)$/.exec(text)
  if (!match) return text
  const value = Math.max(0, Number(match[2]) + step)
  return `${match[1]}${String(value).padStart(match[2]!.length, '0')}${match[3]}`
}
