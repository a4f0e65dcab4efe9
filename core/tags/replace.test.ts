import fc from 'fast-check'
import { expect, test } from 'vitest'
import { replacer, type Replacement } from './replace'

const replace = (text: string, more: Partial<Replacement>) => {
  const run = replacer({ find: '', with: '', isPattern: false, matchesCase: true, ...more })
  return typeof run === 'string' ? run : run(text)
}

test.each<[string, Partial<Replacement>, string]>([
  ['INT_P101_Run', { find: 'P101', with: 'P201' }, 'INT_P201_Run'],
  ['a.b.c', { find: '.', with: '_' }, 'a_b_c'],
  ['INT_P101_Run', { find: 'int', with: 'GAL', matchesCase: false }, 'GAL_P101_Run'],
  [
    'INT_P101_Run',
    { find: '^(\\w+?)_P(\\d+)', with: '$1_PMP$2', isPattern: true },
    'INT_PMP101_Run',
  ],
  ['cost', { find: 'cost', with: '$&$1' }, '$&$1'],
  ['x', { find: '(', with: '', isPattern: true }, '"(" is no pattern: /(/gu: Unterminated group.'],
  ['x', {}, 'Nothing to be found is given.'],
])('%s %j', (text, more, expected) => expect(replace(text, more)).toBe(expected))

test('plain text is found as it is, whatever signs it has', () => {
  fc.assert(
    fc.property(fc.string({ minLength: 1 }), fc.string(), (find, other) => {
      expect(replace(`<${find}>`, { find, with: other })).toBe(
        `<${find}>`.replaceAll(find, () => other),
      )
    }),
  )
})
