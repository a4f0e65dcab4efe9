import { describe, expect, test } from 'vitest'
import { applyCommand, check, derive } from '@kataxis/core'
import { demoPlan, insert, place, smallCatalog, smallPlan } from '../../../core/test/plans'
import { compareRows, doubledTags, filterRows, isEditable, ledgerRows, wordTagFault } from './rows'

const { plan, catalog } = demoPlan()
const rows = ledgerRows(derive(plan, catalog))

describe('the Ledger', () => {
  test('has a row for every channel and every signal without one, each with a key of its own', () => {
    expect(rows).toHaveLength(151)
    expect(new Set(rows.map(({ key }) => key)).size).toBe(151)
    expect(rows.at(-1)).toMatchObject({ station: 'no channel', tag: 'INT_AT_105', place: null })
  })

  test.each([
    ['intake-a 4 do', 16],
    ['%IW4', 1],
    ['analog membrane free', 1],
    ['INT_AT_105', 1],
    ['nothing has this', 0],
    ['', 151],
    // Exact phrases, and what a field says.
    ['"Channel 1" intake-a', 4],
    ['intake-a slot 4', 16],
    ['intake-a slot:4', 16],
    ['channel:"Channel 1" intake-a', 4],
    ['kind:ai intake-a', 4],
    ['tag:int_pt_102', 1],
    ['tag:int_pt', 2],
  ])('"%s" leaves %d rows', (text, count) => expect(filterRows(rows, text)).toHaveLength(count))

  test('says what is wrong with a tag', () => {
    const edits = [
      ['x', 0, 'a b'],
      ['y', 1, 'Twice'],
      ['z', 2, 'TWICE'],
      ['g', 3, 'Good'],
    ] as const
    const small = smallPlan(insert('a', 1, 'DI'), {
      type: 'editSignals',
      edits: edits.map(([id, offset, tag]) => ({ id, place: place('a', offset), tag })),
    })
    const derived = derive(small, smallCatalog)
    const doubled = doubledTags(check(derived).all)
    expect(
      ledgerRows(derived)
        .slice(0, 4)
        .map(({ tag }) => wordTagFault(tag, small.project, doubled)),
    ).toEqual([
      expect.stringContaining('" "'),
      'the tag stands more than once',
      'the tag stands more than once',
      null,
    ])
  })

  test('going down, what has none comes last too', () => {
    const sorted = [...rows].sort((a, b) => compareRows('tag', a, b, true)).map(({ tag }) => tag)
    expect(sorted[0]).toBe('SCR_Wash_Flow')
    expect(sorted.at(-1)).toBe('')
  })

  test.each([
    ['slot', ['1', '2', '3', '4', '5']],
    ['channel', ['Antenna dirty', 'Channel 0', 'Channel 1', 'Channel 2', 'Channel 3']],
    ['tag', ['GAL_PT_31', 'GAL_PT_32', 'GAL_PT_33', 'GAL_PT_34', 'GAL_PT_35']],
    ['address', ['%IX0.0', '%IX0.1', '%IX0.2', '%IX0.3', '%IX0.4']],
  ] as const)('is sorted by %s, and what has none comes last', (by, first) => {
    const sorted = [...rows].sort((a, b) => compareRows(by, a, b)).map((row) => row[by])
    expect([...new Set(sorted)].slice(0, 5)).toEqual(first)
    expect(sorted.at(-1)).toBe('')
  })

  test('keeps the rows of stations that an edit does not touch', () => {
    const { plan: edited } = applyCommand(plan, catalog, {
      type: 'editSignals',
      edits: [{ id: 's041', comment: 'new' }],
    }) as { plan: typeof plan }
    const after = ledgerRows(derive(edited, catalog))
    expect(
      new Set(after.filter((row, i) => row !== rows[i]).map(({ station }) => station)),
    ).toEqual(new Set(['intake-a', 'no channel']))
    expect(after.find(({ signalId }) => signalId === 's041')?.comment).toBe('new')
    expect(ledgerRows(derive(edited, catalog), 'octal').some((row) => after.includes(row))).toBe(
      false,
    )
  })

  test.each([
    ['tag', true],
    ['comment', true],
    ['terminal', true],
    ['address', false],
    ['station', false],
  ])('%s may be typed into: %s', (column, yes) => expect(isEditable(column)).toBe(yes))
})
