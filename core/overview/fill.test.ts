import { expect, test } from 'vitest'
import { derive, memoryMap } from '../derive'
import { wholeDemo } from '../test/plans'
import { fillOfAreas, fillOfStations } from './fill'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)

test('the areas of an image make the whole of it, and what is used in them all that is used', () => {
  const fills = fillOfAreas(derived)
  for (const { controller } of derived.controllers)
    for (const direction of ['in', 'out'] as const) {
      const own = fills.filter(
        (fill) => fill.controller === controller.name && fill.direction === direction,
      )
      const sum = (of: 'bytes' | 'usedBytes') => own.reduce((total, fill) => total + fill[of], 0)
      const side = memoryMap(derived, controller.id)![direction]
      expect([sum('bytes'), sum('usedBytes')]).toEqual([side.size, side.usedBytes])
    }
})

test('an area begins where its controller says, and ends where the next begins', () => {
  const [first] = derived.controllers
  const controller = {
    ...first!.controller,
    inputBytes: 1024,
    areas: [
      { content: 'analog' as const, networkId: '', in: 512, out: null },
      { content: 'digital' as const, networkId: '', in: 64, out: null },
    ],
  }
  const own = fillOfAreas({ ...derived, controllers: [{ ...first!, controller }] })
  expect(
    own
      .filter(({ direction }) => direction === 'in')
      .map(({ from, bytes, area }) => [from, bytes, area?.content]),
  ).toEqual([
    [0, 64, undefined],
    [64, 448, 'digital'],
    [512, 512, 'analog'],
  ])
})

test('stations add up to the plan', () => {
  const stations = fillOfStations(derived)
  const sum = (of: 'channels' | 'named') => stations.reduce((total, one) => total + one[of], 0)
  expect([stations.length, sum('channels'), sum('named')]).toEqual([
    derived.totals.stations,
    derived.totals.channels,
    derived.totals.named,
  ])
})
