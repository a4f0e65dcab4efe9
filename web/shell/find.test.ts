import { expect, test } from 'vitest'
import { check, derive } from '@kataxis/core'
import { demoPlan } from '../../core/test/plans'
import { findPlaces } from './find'

const { plan, catalog } = demoPlan()
const derived = derive(plan, catalog)
const { all } = check(derived)

test.each([
  ['membrane-1', 'Station', 'membrane-1', 'board', 'station:membrane-1'],
  ['192.168.40.12', 'Station', 'intake-b', 'board', 'station:intake-b'],
  ['QM-4104', 'Module', 'membrane-1 · slot 3', 'board', 'module:membrane-1.3'],
  ['resistance', 'Module', 'intake-b · slot 4', 'board', 'module:intake-b.4'],
  ['K1 water', 'Controller', 'K1', 'board', 'controller:k1'],
  ['A1-X5:1', 'Tag', 'INT_LT_101', 'ledger', 'signal:s041'],
  // The sign of an address may be left out.
  ['IX0.3', 'Tag', 'INT_P101_Rdy', 'memory', 'signal:'],
  ['iw0', 'Tag', 'INT_P101_Run', 'memory', 'signal:'],
  ['turbid', null, '', '', ''],
  ['INT_FT_104', 'Tag', 'INT_FT_104', 'ledger', 'signal:'],
  ['%IX0.3', 'Tag', 'INT_P101_Rdy', 'memory', 'signal:'],
  // A word finds the bits in it, and a bit finds the word it lies in.
  ['%IW0', 'Tag', 'INT_P101_Run', 'memory', 'signal:'],
  ['%IX5.0', 'Tag', 'INT_LT_101', 'memory', 'signal:'],
  // A free channel leads to its module.
  ['%IX3.7', 'Channel', 'intake-a · slot 3 · Channel 15', 'memory', 'module:intake-a.3'],
  // The same bit counted through, and a place that nothing has.
  ['X37 octal', 'Channel', 'intake-a · slot 3 · Channel 15', 'memory', 'module:intake-a.3'],
  ['in word 900.3', 'Address', 'in word 900.3 is %IX1800.3', 'memory', 'controller:k1'],
  // Places in a device.
  ['in 5/1 0', 'Tag', 'INT_LT_101', 'memory', 'module:intake-a.5'],
  ['upper-case', 'Finding', 'is no PROFINET station name', 'board', 'station:screen-1'],
])('"%s" finds the %s %s', (text, kind, words, stage, focus) => {
  const [hit] = findPlaces(text, derived, all)
  if (kind === null) return expect(hit).toBeUndefined()
  expect(hit).toMatchObject({ kind, stage, words: expect.stringContaining(words) })
  expect(`${hit!.focus.kind}:${hit!.focus.id}`).toContain(focus)
})

test('never more than forty, and nothing for nothing', () => {
  expect(findPlaces('e', derived, all).length).toBeLessThanOrEqual(40)
  expect(findPlaces('  ', derived, all)).toEqual([])
})
