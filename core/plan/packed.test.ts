import fc from 'fast-check'
import { expect, test } from 'vitest'
import { packSignals, rowsOfPlan, unpackSignals, type SignalRow } from './index'
import { wholeDemo } from '../test/plans'

const { signals } = rowsOfPlan(wholeDemo().plan)

test('signals come out of their packing as they went in', () => {
  const place = fc.option(
    fc.record({
      moduleId: fc.constantFrom('a.1', 'a.2'),
      subslot: fc.constantFrom(0, 1),
      direction: fc.constantFrom('in' as const, 'out' as const),
      offsetBits: fc.nat(64),
    }),
  )
  const signal = fc
    .record({ place, at: fc.nat(signals.length - 1) })
    .map(({ place, at }): SignalRow => ({ ...signals[at]!, place }))
  fc.assert(
    fc.property(fc.array(signal), (rows) => {
      const sent: unknown = JSON.parse(JSON.stringify(packSignals(rows)))
      expect(unpackSignals(sent as ReturnType<typeof packSignals>)).toEqual(rows)
    }),
  )
})

test('the demo’s take little more than half of the room, packed', () =>
  expect(JSON.stringify(packSignals(signals)).length).toBeLessThan(
    JSON.stringify(signals).length * 0.6,
  ))
