import { expect, test } from 'vitest'
import { z } from 'zod'
import { wordIssue } from './schema-words'

test.each<[z.ZodType, unknown, string]>([
  [z.string().min(1), '', 'x: empty.'],
  [z.string().min(3), 'a', 'x: fewer than 3 characters.'],
  [z.string().max(3), 'abcd', 'x: more than 3 characters.'],
  [z.string(), undefined, 'x: missing.'],
  [z.string(), 5, 'x: should be text.'],
  [z.number().int(), 1.5, 'x: should be a whole number.'],
  [z.number().min(0), -1, 'x: less than 0.'],
  [z.number().max(5), 6, 'x: more than 5.'],
  [z.number().positive(), 0, 'x: has to be more than 0.'],
  [z.number().multipleOf(2), 3, 'x: should be a multiple of 2.'],
  [z.array(z.number()).min(1), [], 'x: empty.'],
  [z.array(z.number()).max(1), [1, 2], 'x: more than 1 entries.'],
  [z.array(z.number()), [1, 'a'], 'x[1]: should be a number.'],
  [z.enum(['a', 'b']), 'c', 'x: should be one of "a", "b".'],
  [z.literal(1), 2, 'x: should be 1.'],
  [z.string().regex(/^a$/, 'an a'), 'b', 'x: an a.'],
  [z.string().regex(/^a$/), 'b', 'x: not written as it should be.'],
  [z.object({}).strict(), { y: 1 }, 'x: not known here: "y".'],
  [z.union([z.string(), z.number()]), null, 'x: none of the kinds that may stand here.'],
  [
    z.discriminatedUnion('type', [z.object({ type: z.literal('a') })]),
    { type: 'b' },
    'x.type: there is no such kind.',
  ],
])('%#: a schema says what is wrong', (schema, value, sentence) => {
  expect(z.object({ x: schema }).safeParse({ x: value }).error!.issues.map(wordIssue)).toEqual([
    sentence,
  ])
})
