import { expect, test } from 'vitest'
import { doAll, insert, place, smallCatalog, smallPlan } from '../test/plans'
import { type Command } from '../plan/index'
import { applyCommand, marksOf } from '.'

const before = smallPlan(insert('a', 1, 'DI'), insert('b', 2, 'DI'), {
  type: 'editSignals',
  edits: [{ id: 'x', place: place('a', 0), tag: 'X' }],
})

test.each<[string, Command, [string, string, string][]]>([
  ['a new module', insert('c', 3, 'DI'), [['c', 'added', 'tv-1 · slot 3: Name of DI added']]],
  [
    'a module gone stands at its station',
    { type: 'removeModules', ids: ['b'] },
    [['s1', 'changed', 'tv-1 · slot 2: Name of DI removed']],
  ],
  [
    'a signal stands at its module',
    { type: 'editSignals', edits: [{ id: 'x', tag: 'Y' }] },
    [['a', 'changed', 'Signal Y: tag X → Y']],
  ],
  [
    'a signal that lost its module stands at the station',
    { type: 'removeModules', ids: ['a'] },
    [['s1', 'changed', 'tv-1 · slot 1: Name of DI removed']],
  ],
  [
    'a station gone stands at its network',
    { type: 'removeStation', id: 's1' },
    [['n1', 'changed', 'Station tv-1 removed']],
  ],
  [
    'a station renamed',
    { type: 'updateStation', id: 's1', set: { name: 'other' } },
    [['s1', 'changed', 'Station other: name tv-1 → other']],
  ],
  ['the project itself has no place', { type: 'setProject', set: { name: 'Q' } }, []],
])('%s', (_, command, expected) => {
  const applied = applyCommand(before, smallCatalog, command)
  if (!applied.ok) throw new Error('refused')
  const marks = [...marksOf(applied.changes, before, applied.plan, smallCatalog)]
  for (const [id, how, words] of expected)
    expect(marks).toContainEqual([
      id,
      expect.objectContaining({ how, words: expect.arrayContaining([words]) }),
    ])
  if (expected.length === 0) expect(marks).toEqual([])
})

test('nothing changed, nothing marked', () => {
  expect(marksOf([], before, doAll(before, smallCatalog), smallCatalog).size).toBe(0)
})
