import { z } from 'zod'

/** Names that every JavaScript object answers to: rows stand in records by id. */
const ownWords: ReadonlySet<string> = new Set(Object.getOwnPropertyNames(Object.prototype))
/** A text under which something stands in a record. */
export const keyText = (text: z.ZodString) =>
  text.refine(
    (word) => !ownWords.has(word),
    'it is a word of the language the program is written in, and names nothing here',
  )
export const id = keyText(
  z
    .string()
    .min(1)
    .max(64)
    .regex(/^[A-Za-z0-9._-]+$/, 'letters, digits, dot, dash and underscore'),
)
export type Id = string

export const keyed = new WeakSet<object>()
/** A field that holds many things by key, each of which stands for itself: two people who change
 *  different ones do not get in each other's way. */
export function byKey<T extends z.ZodType>(field: T): T {
  keyed.add(field)
  return field
}
