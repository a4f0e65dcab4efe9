import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { insert, place, smallCatalog, smallPlan } from '../test/plans'
import { applyChanges, invert, netChanges, type Command, type RowChange } from '../plan/index'
import { wordCommand, applyCommand, wordChange } from '.'

const start = () =>
  smallPlan(insert('a', 1, 'DI'), {
    type: 'editSignals',
    edits: [{ id: 'x', place: place('a', 0), tag: 'X' }],
  })
const changesOf = (command: Command) => {
  const before = start()
  const applied = applyCommand(before, smallCatalog, command)
  if (!applied.ok) throw new Error(applied.refusal.code)
  return { before, after: applied.plan, changes: applied.changes }
}

describe('a change in words', () => {
  test.each<[Command, string[]]>([
    [
      { type: 'updateStation', id: 's1', set: { name: 'pump-1', settings: { ip: '10.0.0.9' } } },
      ['Station pump-1: name tv-1 → pump-1, address 10.0.0.2 → 10.0.0.9'],
    ],
    [insert('b', 2, 'AO'), ['tv-1 · slot 2: Name of AO added']],
    [
      { type: 'removeModules', ids: ['a'] },
      [
        'Signal X: channel tv-1 · slot 1, bit 0 → none, Needs none → DI',
        'tv-1 · slot 1: Name of DI removed',
      ],
    ],
    [
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 7 },
      ['tv-1 · slot 1: Name of DI: bytes in 0 → in 7 fixed'],
    ],
    [{ type: 'editSignals', edits: [{ id: 'x', tag: 'Y' }] }, ['Signal Y: tag X → Y']],
    [
      {
        type: 'editSignals',
        edits: [
          {
            id: 'x',
            facts: {
              low: 0,
              high: 6,
              unit: 'bar',
              scaling: { rawLow: 0, rawHigh: 30_000, low: 0, high: 6 },
              ex: { u0: 25 },
            },
          },
        ],
      },
      [
        'Signal X: Measures none → 0…6 bar, Scaled in the program none → 0…30000 = 0…6, U₀ none → 25 V',
      ],
    ],
    [{ type: 'setProject', set: { tagLength: 40 } }, ['The project: longest tag 32 → 40']],
    [
      {
        type: 'addController',
        id: 'k2',
        name: 'K2',
        inputBytes: 1,
        outputBytes: 1,
        aligned: false,
      },
      ['Controller K2 added'],
    ],
  ])('%j', (command, words) => {
    const { before, after, changes } = changesOf(command)
    expect(
      changes.map((change) => wordChange(change, before, after, smallCatalog).words).sort(),
    ).toEqual([...words].sort())
  })

  test('names the station it is about', () => {
    const { before, after, changes } = changesOf({
      type: 'editSignals',
      edits: [{ id: 'x', tag: 'Y' }],
    })
    expect(wordChange(changes[0]!, before, after, smallCatalog)).toMatchObject({
      how: 'changed',
      kind: 'signal',
      id: 'x',
      stationId: 's1',
    })
  })
})

test.each<[Command, string]>([
  [{ type: 'removeModules', ids: ['a', 'b'] }, 'Removed 2 modules'],
  [
    { type: 'updateStation', id: 's1', set: { name: 'x', settings: { ip: '' } } },
    'Set name and address of a station',
  ],
  [
    { type: 'batch', label: 'Paste 3 modules', commands: [insert('b', 2, 'AO')] },
    'Paste 3 modules',
  ],
  [
    {
      type: 'copyStation',
      sourceId: 's',
      networkId: 'n',
      copies: [{ id: 'c', find: '', with: '' }],
    },
    'Made a copy of a station',
  ],
])('what was done: %j', (command, words) => expect(wordCommand(command)).toBe(words))

test('many changes as one lead to the same plan, and back', () => {
  const step: fc.Arbitrary<Command> = fc.oneof(
    fc.constantFrom<Command>(
      insert('b', 2, 'AO'),
      insert('c', 3, 'DI'),
      { type: 'removeModules', ids: ['b'] },
      { type: 'removeModules', ids: ['a'] },
      { type: 'removeStation', id: 's1' },
    ),
    fc
      .constantFrom('X', 'Y', '')
      .map((tag): Command => ({ type: 'editSignals', edits: [{ id: 'x', tag }] })),
    fc
      .constantFrom('tv-1', 'q')
      .map((name): Command => ({ type: 'updateStation', id: 's1', set: { name } })),
  )
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (commands) => {
      const first = start()
      let plan = first
      const steps: RowChange[][] = []
      for (const command of commands) {
        const applied = applyCommand(plan, smallCatalog, command)
        if (!applied.ok) continue
        plan = applied.plan
        steps.push(applied.changes)
      }
      const net = netChanges(steps)
      expect(applyChanges(first, net)).toEqual(plan)
      expect(applyChanges(plan, invert(net))).toEqual(first)
    }),
    { numRuns: 150 },
  )
})
