import { z } from 'zod'

/** What a schema expects, in words. */
const kinds: Readonly<Record<string, string>> = {
  string: 'text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object',
  record: 'an object',
  null: 'null',
}
const mostValues = 12

type Issue<C extends z.core.$ZodRawIssue['code']> = Extract<z.core.$ZodRawIssue, { code: C }>
type Words = { readonly [C in z.core.$ZodRawIssue['code']]?: (issue: Issue<C>) => string }

/** What is wrong with a value, as it stands behind its path and a colon; a schema's own message
 *  goes before. */
const words: Words = {
  invalid_type: ({ expected, input }) =>
    input === undefined ? 'missing' : `should be ${kinds[expected] ?? expected}`,
  too_small: ({ origin, minimum, inclusive }) =>
    sized(origin, (unit) => (Number(minimum) <= 1 ? 'empty' : `fewer than ${minimum} ${unit}`)) ??
    (inclusive === false ? `has to be more than ${minimum}` : `less than ${minimum}`),
  too_big: ({ origin, maximum, inclusive }) =>
    sized(origin, (unit) => `more than ${maximum} ${unit}`) ??
    (inclusive === false ? `has to be less than ${maximum}` : `more than ${maximum}`),
  invalid_value: ({ values }) =>
    `should be ${values.length > 1 ? 'one of ' : ''}${values
      .slice(0, mostValues)
      .map((value) => JSON.stringify(value))
      .join(', ')}${values.length > mostValues ? ' …' : ''}`,
  invalid_format: () => 'not written as it should be',
  not_multiple_of: ({ divisor }) => `should be a multiple of ${divisor}`,
  unrecognized_keys: ({ keys }) =>
    `not known here: ${keys.map((key) => JSON.stringify(key)).join(', ')}`,
  invalid_union: ({ discriminator }) =>
    discriminator === undefined ? 'none of the kinds that may stand here' : 'there is no such kind',
}

const units: Readonly<Record<string, string>> = {
  string: 'characters',
  array: 'entries',
  set: 'entries',
  map: 'entries',
  file: 'octets',
}

function sized(origin: string, say: (unit: string) => string): string | null {
  return units[origin] ? say(units[origin]) : null
}

z.config({
  localeError: (issue) =>
    (words[issue.code] as ((issue: z.core.$ZodRawIssue) => string) | undefined)?.(issue),
})

/** What a schema found wrong, as a sentence that begins with the path of the value. */
export function wordIssue({ path, message }: Pick<z.core.$ZodIssue, 'path' | 'message'>): string {
  return `${pathText(path) || '(the whole)'}: ${message.replace(/\.$/, '')}.`
}

/** The same for whoever typed the value and sees the field: `cableLength` is its cable length. */
export function wordField({ path, message }: Pick<z.core.$ZodIssue, 'path' | 'message'>): string {
  const name = [...path].reverse().find((part) => typeof part === 'string')
  const field = name?.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`) ?? 'entry'
  return `Not possible for the ${field}: ${message.replace(/\.$/, '')}.`
}

function pathText(path: readonly PropertyKey[]): string {
  return path
    .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
    .join('')
    .replace(/^\./, '')
}
