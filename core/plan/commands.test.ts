import { expect, test } from 'vitest'
import { wordCommandFault, type Command } from './commands'

const renamed = (set: object): Command =>
  ({ type: 'updateController', id: 'k', set }) as unknown as Command

test.each<[object, string | null]>([
  [{ name: 'K1' }, null],
  [{ name: 'x'.repeat(201) }, 'Not possible for the name: more than 200 characters.'],
  [{ name: 7 }, 'Not possible for the name: should be text.'],
  [{ inputBytes: NaN }, 'Not possible for the input bytes: should be a number.'],
  [{ color: 'red' }, 'Not possible for the set: not known here: "color".'],
])('a command with %o', (set, sentence) => {
  expect(wordCommandFault(renamed(set))).toBe(sentence)
})
