import { expect, test } from 'vitest'
import { stationSettingsFor, type RowChange, type StationRow } from '@kataxis/core'
import type { ChangeEntry } from './repositories/changes'
import { overlap } from './services/overlap'

const row: StationRow = {
  id: 's',
  networkId: 'n',
  position: 1,
  name: 'a',
  deviceNumber: 1,
  settings: stationSettingsFor('profinet', { ip: '10.0.0.2' }),
  file: 'f',
  device: 'd',
  connection: '',
  comment: '',
  railMm: 0,
  plugged: {},
  layouts: {},
  links: {},
  ports: {},
  feed: null,
  secondFeed: null,
  reported: null,
  packsBits: null,
  switches: null,
  orders: {},
  values: {},
  iParameterSums: {},
  monitored: {},
  addresses: { 1: { in: 3 } },
}
const change = (
  after: Partial<StationRow> | null,
  before: StationRow | null = row,
  id = 's',
): RowChange => ({ table: 'stations', id, before, after: after && { ...row, ...after } })
const by = (...changes: RowChange[]) => [{ author: 'B', changes } as ChangeEntry]

test.each([
  ['nobody else was there', [], change({ name: 'x' }), null],
  [
    'another parameter of the same record',
    by(change({ values: { '1.1': { b: 2 } } })),
    change({ values: { '1.1': { a: 1 } } }),
    null,
  ],
  [
    'the same parameter',
    by(change({ values: { '1.1': { a: 2 } } })),
    change({ values: { '1.1': { a: 1, c: 3 } } }),
    'the station a',
  ],
  ['the same field', by(change({ name: 'y' })), change({ name: 'x' }), 'the station x'],
  [
    'different fields of one row',
    by(change({ settings: stationSettingsFor('profinet', { ip: '10.0.0.9' }) })),
    change({ name: 'x' }),
    null,
  ],
  [
    'the same field of different rows',
    by(change({ name: 'y' }, row, 't')),
    change({ name: 'x' }),
    null,
  ],
  ['a row that was removed by both', by(change(null)), change(null), 'the station a'],
  ['a row that was written unchanged', by(change({})), change({ name: 'x' }), null],
  [
    'nested values',
    by(change({ addresses: { 1: { in: 7 } } })),
    change({ addresses: { 1: { in: 9 } } }),
    'the station a',
  ],
])('%s', (_, others, mine, what) => {
  expect(overlap(others, [mine])).toEqual(
    what === null ? null : { by: 'B', what: expect.stringMatching(/^the station/) },
  )
})
