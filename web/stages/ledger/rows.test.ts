import { describe, expect, test } from 'vitest'
import { derive } from '@kataxis/core'
import { demoPlan, insert, place, smallCatalog, smallPlan } from '../../../core/test/plans'
import { filterRows, isEditable, ledgerRows } from './rows'

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
  ])('"%s" leaves %d rows', (text, count) => expect(filterRows(rows, text)).toHaveLength(count))

  test('says what is wrong with a tag', () => {
    const edits = [['x', 0, 'a b'], ['y', 1, 'Twice'], ['z', 2, 'TWICE'], ['g', 3, 'Good']] as const
    const small = smallPlan(insert('a', 1, 'DI'), { type: 'editSignals', edits: edits.map(([id, offset, tag]) => ({ id, place: place('a', offset), tag })) })
    expect(ledgerRows(derive(small, smallCatalog)).slice(0, 4).map(({ fault }) => fault)).toEqual([expect.stringContaining('" "'), 'the tag stands more than once', 'the tag stands more than once', null])
  })

  test.each([['tag', true], ['comment', true], ['terminal', true], ['address', false], ['station', false]])('%s may be typed into: %s', (column, yes) => expect(isEditable(column)).toBe(yes))
})
