import { describe, expect, test, vi } from 'vitest'
import { applyCommand, derive, type Command, type Plan } from '@kataxis/core'
import { insert, place, smallCatalog, smallPlan } from '../../../core/test/plans'
import { ledgerRows } from './rows'

let plan: Plan
const sent: Command[] = []
const told: string[] = []
vi.mock('../../stores/project', () => ({
  useProject: () => ({
    get plan() {
      return plan
    },
    catalog: smallCatalog,
    run(command: Command) {
      sent.push(command)
      const applied = applyCommand(plan, smallCatalog, command)
      if (applied.ok) plan = applied.plan
      return applied.ok
    },
    tell: (sentence: string) => void told.push(sentence),
  }),
}))
const { useLedgerEdits } = await import('./useLedgerEdits')

const start = () => {
  sent.length = 0
  plan = smallPlan(insert('a', 1, 'DI'), {
    type: 'editSignals',
    edits: [
      { id: 'x', place: place('a', 0), tag: 'Old', comment: 'c' },
      { id: 'lost', tag: 'Waiting', comment: 'from the list' },
    ],
  })
  return ledgerRows(derive(plan, smallCatalog))
}
const tags = () =>
  ledgerRows(derive(plan, smallCatalog))
    .map(({ tag }) => tag)
    .filter(Boolean)

describe('cells of the Ledger', () => {
  test.each([
    ['a new tag makes a signal', 1, [['tag', 'New']], ['Old', 'New', 'Waiting']],
    ['a changed tag keeps the signal', 0, [['tag', ' Newer ']], ['Newer', 'Waiting']],
    [
      'several cells of a row are one edit',
      2,
      [
        ['tag', 'T'],
        ['comment', 'C'],
        ['terminal', 'X1:3'],
      ],
      ['Old', 'T', 'Waiting'],
    ],
    [
      'columns that follow from the plan stay',
      0,
      [
        ['address', '%IX9.9'],
        ['station', 'x'],
      ],
      ['Old', 'Waiting'],
    ],
    ['what did not change sends nothing', 0, [['tag', 'Old']], ['Old', 'Waiting']],
    // In any case of letters, as tags are compared.
    [
      'the tag of a waiting signal brings that signal here',
      3,
      [['tag', 'WAITING']],
      ['Old', 'WAITING'],
    ],
  ] as [string, number, [string, string][], string[]][])('%s', (_, row, cells, expected) => {
    const rows = start()
    expect(
      useLedgerEdits()(cells.map(([column, text]) => ({ row: rows[row]!, column, text }))),
    ).toBe(true)
    expect(tags()).toEqual(expected)
    expect(sent.length).toBe(expected.join() === 'Old,Waiting' ? 0 : 1)
  })

  test('the signal that was waiting keeps its comment', () => {
    const rows = start()
    useLedgerEdits()([{ row: rows[5]!, column: 'tag', text: 'Waiting' }])
    expect(plan.unplaced).toEqual({})
    expect(plan.stations['s1']!.signals['lost']).toMatchObject({
      comment: 'from the list',
      place: { offsetBits: 5 },
    })
  })

  test('only a comment has lines; what is too long is told and the rest taken', () => {
    const rows = start()
    useLedgerEdits()(
      [
        ['comment', 'one\ntwo'],
        ['terminal', ' X1:\n3 '],
        ['tag', 'T'.repeat(501)],
      ].map(([column, text]) => ({ row: rows[0]!, column: column!, text: text! })),
    )
    expect(Object.values(plan.stations['s1']!.signals)).toMatchObject([
      { tag: 'Old', comment: 'one\ntwo', terminal: 'X1: 3' },
    ])
    expect(told).toEqual(['Old: 501 characters are more than the 500 that its tag holds.'])
  })

  test.each([
    [
      'whose description says none is entered with its signal',
      'AO',
      '0-20 mA',
      ['0…20 mA', 'entered in this plan; the description says none'],
      null,
    ],
    ['that is none is refused', 'AO', 'wide', ['', ''], '"wide" is no range'],
    [
      'of a bit there is not',
      'DI',
      '4…20 mA',
      ['', ''],
      'tv-1, Name of S: a channel of the kind DI has no range.',
    ],
  ] as const)('a range %s', (_, module, text, expected, says) => {
    plan = smallPlan(insert('a', 2, module))
    told.length = 0
    const rowOf = () => ledgerRows(derive(plan, smallCatalog))[0]!
    useLedgerEdits()([{ row: rowOf(), column: 'range', text }])
    expect([rowOf().range, rowOf().rangeSource]).toEqual(expected)
    expect(told.join()).toContain(says ?? '')
  })

  test('emptied cells free the channel', () => {
    const rows = start()
    useLedgerEdits()(['tag', 'comment'].map((column) => ({ row: rows[0]!, column, text: '' })))
    expect(plan.stations['s1']!.signals).toEqual({})
  })
})
