import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { nextPortCycle, portCycleOctet, portCycleOf } from './port-cycle'

// IO-Link interface specification 1.1, annex B.1.3 (from memory): base 0.1 ms from 0.4 to 6.3, 0.4
// ms from 6.4 to 31.6, 1.6 ms from 32 to 132.8 ms.
describe('the octet of a port’s cycle time', () => {
  test.each([
    [0, 0x00],
    [400, 0x04],
    [2300, 0x17],
    [6300, 0x3f],
    [6400, 0x40],
    [31_600, 0x7f],
    [32_000, 0x80],
    [132_800, 0xbf],
  ])('%i µs is %i', (us, octet) => {
    expect(portCycleOctet(us)).toBe(octet)
    expect(portCycleOf(octet)).toBe(us)
  })
  test.each([100, 350, 6350, 6500, 31_700, 133_000])('%i µs cannot be said', (us) =>
    expect(portCycleOctet(us)).toBeNull(),
  )

  test('every octet that says a time is found again, reserved ones say none', () => {
    for (let octet = 0; octet < 256; octet++) {
      const us = portCycleOf(octet)
      if (us === null) expect(octet >> 6 === 3 || octet < 4).toBe(true)
      else expect(portCycleOctet(us)).toBe(octet)
    }
  })
  test('the next time is the shortest that is not shorter', () => {
    const all = Array.from({ length: 256 }, (_, octet) => portCycleOf(octet))
      .filter((us): us is number => us !== null && us > 0)
      .sort((a, b) => a - b)
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 140_000 }), (us) => {
        expect(nextPortCycle(us)).toBe(all.find((one) => one >= us) ?? null)
      }),
    )
  })
})
