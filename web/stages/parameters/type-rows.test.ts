import { describe, expect, test } from 'vitest'
import { derive } from '@kataxis/core'
import { wholeDemo } from '../../../core/test/plans'
import { editOf, modulesOfType, typeColumns, typeRows } from './type-rows'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const view = derived.stations.get('dosing-1')!
const module = view.modules.find(({ id }) => id === 'dosing-1.4')!
const columns = typeColumns(catalog, view, module, '')
const column = (heading: string) => columns.find((one) => one.heading === heading)!

describe('all modules of a type', () => {
  test('are found over all stations on the same file, with what is chosen', () => {
    const modules = modulesOfType(derived, view, module)
    expect(modules.map((one) => one.module.id).sort()).toEqual([
      'clean-1.4',
      'dosing-1.4',
      'intake-b.3',
      'membrane-1.1',
      'membrane-1.2',
      ...[1, 2, 3].flatMap((train) => [`train-${train}.5`, `train-${train}.6`]),
    ])
    const row = typeRows(modules, columns).find(({ id }) => id === 'dosing-1.4')!
    expect([
      row.values[column('Channel 0 · Smoothing').key],
      row.values[column('Channel 7 · Signal range').key],
    ]).toEqual(['strong', 'channel off'])
    expect([...row.chosen]).toHaveLength(4)
  })
  test('heads are of a type too', () => {
    expect(
      modulesOfType(derived, view, view.modules[0]!).every((one) => one.module.row === null),
    ).toBe(true)
  })
  test('columns are searched by their words', () => {
    expect(
      typeColumns(catalog, view, module, 'channel 3 wire').map(({ heading }) => heading),
    ).toEqual(['Channel 3 · Diagnosis wire break'])
  })
})

test.each([
  ['Channel 0 · Signal range', '0 to 10 V', 3],
  ['Channel 0 · Signal range', '0…20 mA', 2],
  ['Channel 0 · Signal range', '2', 2],
  ['Channel 0 · Upper limit', '-5', -5],
  ['Channel 0 · Upper limit', '', null],
])('in %s "%s" means %s', (heading, text, value) => {
  const { key, row } = column(heading)
  expect(editOf('m', column(heading), text)).toEqual({
    moduleId: 'm',
    record: row.placed.key,
    parameter: key.split('/')[1],
    value,
  })
})
test('what means nothing is told with what it may be', () => {
  expect(editOf('m', column('Channel 0 · Smoothing'), 'huge')).toBe(
    'Smoothing takes none, weak, medium, strong; "huge" is none of these.',
  )
})
