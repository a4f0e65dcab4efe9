import { describe, expect, test } from 'vitest'
import { ref, shallowRef } from 'vue'
import { derive, type DerivedStation } from '@kataxis/core'
import { demoPlan } from '../../../core/test/plans'
import { pipGrids, pipPaths } from './pips'
import { useLaneWalk, walkKeys } from './useLaneWalk'

const { plan, catalog } = demoPlan()
const { stations } = derive(plan, catalog)
const moduleAt = (station: string, slot: number) =>
  stations.get(station)!.modules.find((module) => module.slot === slot)!

describe('pips', () => {
  test.each([
    // 16 inputs of which 12 are named: two outlines, one dark and one pale.
    [
      'intake-a',
      3,
      [
        [false, true, 12],
        [false, false, 4],
      ],
    ],
    [
      'intake-a',
      4,
      [
        [true, true, 12],
        [true, false, 4],
      ],
    ],
    ['intake-b', 2, [[true, true, 8]]],
    ['intake-a', 1, []],
  ])('%s slot %d', (station, slot, expected) => {
    expect(
      pipPaths(moduleAt(station, slot), 'lane').map(({ filled, named, d }) => [
        filled,
        named,
        d.split('M').length - 1,
      ]),
    ).toEqual(expected)
  })

  test.each(['lane', 'plant'] as const)('stay inside their tile: %s', (size) => {
    for (const { modules } of stations.values()) {
      for (const module of modules) {
        for (const { d } of pipPaths(module, size)) {
          for (const [, x, y] of d.matchAll(/M([\d.]+) ([\d.]+)/g)) {
            expect(Number(x)).toBeLessThan(pipGrids[size].box.width)
            expect(Number(y)).toBeLessThan(pipGrids[size].box.height)
          }
        }
      }
    }
  })

  test('squares are digital, circles analog, diamonds other data', () => {
    const [square, circle] = [moduleAt('intake-a', 2), moduleAt('intake-a', 5)].map(
      (module) => pipPaths(module, 'lane')[0]!.d,
    )
    expect(square).toMatch(/h5.5v5.5h-5.5z/)
    expect(circle).toContain('a')
    expect(
      pipPaths(moduleAt('screen-1', 2), 'lane')
        .map(({ d }) => d)
        .join(''),
    ).toContain('l')
  })
})

describe('walking the Board', () => {
  const lanes = shallowRef<DerivedStation[]>([...stations.values()])
  const start = (stationId: string, slot: number) => {
    const walk = useLaneWalk(lanes, ref())
    walk.moveTo({ stationId, slot })
    return walk
  }
  test.each([
    ['intake-a', 2, 'ArrowRight', 'intake-a', 3],
    ['intake-a', 1, 'ArrowLeft', 'intake-a', 0],
    ['intake-a', 0, 'ArrowLeft', 'intake-a', 0],
    ['intake-a', 6, 'ArrowRight', 'intake-a', 6],
    ['intake-a', 3, 'ArrowDown', 'intake-b', 3],
    // A shorter lane: the nearest slot it shows.
    ['intake-a', 6, 'ArrowDown', 'intake-b', 5],
    ['intake-b', 2, 'ArrowUp', 'intake-a', 2],
    ['intake-a', 2, 'ArrowUp', 'intake-a', 2],
    ['membrane-1', 2, 'ArrowDown', 'membrane-1', 2],
  ])('from %s slot %d by %s to %s slot %d', (stationId, slot, key, toStation, toSlot) => {
    const walk = start(stationId, slot)
    walk.step(...walkKeys[key]!)
    expect(walk.cursor.value).toEqual({ stationId: toStation, slot: toSlot })
  })

  test('without a cursor the first step goes to the first head', () => {
    const walk = useLaneWalk(lanes, ref())
    walk.step(1, 0)
    expect(walk.cursor.value).toEqual({ stationId: 'intake-a', slot: 0 })
  })
})
