import { describe, expect, test } from 'vitest'
import { ref, shallowRef } from 'vue'
import { derive, type DerivedStation } from '@kataxis/core'
import { demoPlan } from '../../../core/test/plans'
import type { Cell } from './useLaneWalk'
import { idsBetween, useSelection } from './useSelection'
import { visibleLanes, zooms, zoomStep } from './zooms'

const { plan, catalog } = demoPlan()
const stations = [...derive(plan, catalog).stations.values()]
  .filter(({ station }) => station.networkId === 'n-intake')
  .sort((a, b) => a.station.position - b.station.position)
const cell = (text: string): Cell => ({
  stationId: text.split(':')[0]!,
  slot: Number(text.split(':')[1]),
})

describe('everything between two cells', () => {
  test.each([
    ['intake-a:2', 'intake-a:4', ['intake-a.2', 'intake-a.3', 'intake-a.4']],
    ['intake-a:4', 'intake-a:2', ['intake-a.2', 'intake-a.3', 'intake-a.4']],
    ['intake-b:1', 'intake-a:2', ['intake-a.1', 'intake-a.2', 'intake-b.1', 'intake-b.2']],
    ['intake-a:5', 'intake-a:9', ['intake-a.5']],
    // Heads select stations, never modules beside them.
    ['intake-a:0', 'screen-1:0', ['intake-a', 'intake-b', 'screen-1']],
    ['intake-a:0', 'intake-b:3', ['intake-a', 'intake-b']],
    ['gone:1', 'intake-a:2', []],
  ])('from %s to %s', (from, to, ids) =>
    expect([...idsBetween(stations, cell(from), cell(to))]).toEqual(ids),
  )
})

describe('a selection', () => {
  const begin = (at: string) => {
    const cursor = ref<Cell | null>(cell(at))
    return { cursor, ...useSelection(shallowRef<DerivedStation[]>(stations), cursor) }
  }
  test('grows with the cursor once it has an anchor', () => {
    const { cursor, extend, ids, clear } = begin('intake-a:2')
    cursor.value = cell('intake-a:3')
    expect(ids.value.size).toBe(0)
    extend()
    cursor.value = cell('intake-a:5')
    expect([...ids.value]).toEqual(['intake-a.3', 'intake-a.4', 'intake-a.5'])
    clear()
    expect(ids.value.size).toBe(0)
  })

  test('picks single ones, with what stood at the cursor, and lets go of them', () => {
    const { toggle, moduleIds, stationIds } = begin('intake-a:2')
    toggle('intake-b.1', 'intake-a.2')
    toggle('screen-1', 'intake-b.1')
    expect([moduleIds.value, stationIds.value]).toEqual([
      ['intake-a.2', 'intake-b.1'],
      ['screen-1'],
    ])
    toggle('intake-a.2', null)
    expect(moduleIds.value).toEqual(['intake-b.1'])
  })
})

describe('lanes in the window', () => {
  test.each([
    ['the beginning', 500, 44, 100, { top: 0, height: 700 }, { first: 0, last: 17 }],
    ['the middle', 500, 44, 100, { top: 10_000, height: 700 }, { first: 222, last: 244 }],
    ['the end', 500, 44, 100, { top: 22_000, height: 700 }, { first: 494, last: 500 }],
    ['a band far above', 10, 18, 100, { top: 9_000, height: 700 }, { first: 10, last: 10 }],
    ['a band far below', 10, 18, 9_000, { top: 0, height: 700 }, { first: 0, last: 0 }],
  ])('%s', (_, count, lane, top, view, range) =>
    expect(visibleLanes(count, lane, top, view)).toEqual(range),
  )

  test('no lane that can be seen is left out, at any zoom', () => {
    for (const { lane } of Object.values(zooms)) {
      for (let scrolled = 0; scrolled < 5000; scrolled += 37) {
        const { first, last } = visibleLanes(200, lane, 120, { top: scrolled, height: 700 }, 0)
        for (let i = 0; i < 200; i++) {
          const top = 120 + i * lane
          if (top + lane > scrolled && top < scrolled + 700)
            expect(i >= first && i < last).toBe(true)
        }
      }
    }
  })
  test.each([
    ['lane', 1, 'module'],
    ['module', 1, 'module'],
    ['lane', -1, 'plant'],
    ['plant', -1, 'plant'],
  ] as const)('from %s by %d to %s', (from, by, to) => expect(zoomStep(from, by)).toBe(to))
})
