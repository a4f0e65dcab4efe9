import { expect, test } from 'vitest'
import { insert, place, smallPlan } from '../../../core/test/plans'
import { readNewSignals } from './new-signals'

const plan = smallPlan(insert('a', 1, 'DI'), {
  type: 'editSignals',
  edits: [{ id: 'x', place: place('a', 0), tag: 'P1_Run' }],
})

test('lines become signals, whether typed or copied from a spreadsheet', () => {
  const { signals, faults } = readNewSignals(
    'PT_1; Pressure; AI; 4..20 mA; 0..10 bar\n\nLS_2\tLevel switch\tDI\nP2_Run',
    plan,
  )
  expect(faults).toEqual([])
  expect(signals).toEqual([
    {
      tag: 'PT_1',
      comment: 'Pressure',
      facts: { kind: 'AI', transmitter: '4…20 mA', low: 0, high: 10, unit: 'bar' },
    },
    { tag: 'LS_2', comment: 'Level switch', facts: { kind: 'DI' } },
    { tag: 'P2_Run', comment: '', facts: {} },
  ])
})
test.each([
  ['p1_run; again', 'the tag stands already'],
  ['A-B', '"-" at position 2'],
  ['A;;XX', 'is none of DI, DO, AI, AO'],
  ['A\nA', 'Line 2, A: the tag stands already'],
  [';only a comment', 'it has no tag'],
])('%j: %s', (text, says) => {
  expect(readNewSignals(text, plan).faults[0]).toContain(says)
})
