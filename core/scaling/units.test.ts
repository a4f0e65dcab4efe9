import fc from 'fast-check'
import Qty from 'js-quantities'
import { describe, expect, test } from 'vitest'
import { convertUnit, unitGroups, unitsLike, usualUnit } from './units'

describe('units', () => {
  // Definitions: SI brochure (9th ed.) and NIST SP 811, appendix B.
  test.each([
    [1, 'bar', 'kPa', 100],
    [1, 'psi', 'Pa', 6894.757],
    [1, 'atm', 'mbar', 1013.25],
    [100, '°C', '°F', 212],
    [0, '°C', 'K', 273.15],
    [1, 'm³/h', 'l/min', 16.6666666667],
    [1, 't/h', 'kg/h', 1000],
    [1, 'kWh', 'MJ', 3.6],
    [1, 'lb', 'kg', 0.45359237],
    [1, 'mS/cm', 'µS/cm', 1000],
    [1, 'gpm', 'l/min', 3.785411784],
  ])('%d %s in %s', (value, from, to, expected) => {
    expect(Math.abs(convertUnit(value, from, to)! / expected - 1)).toBeLessThan(1e-6)
  })
  test('every unit of a group goes into every other one and back', () => {
    const pairs = unitGroups.flatMap(([, units]) =>
      units.flatMap((a) => units.map((b) => [a, b] as const)),
    )
    fc.assert(
      fc.property(
        fc.constantFrom(...pairs),
        fc.double({ min: 0.001, max: 1000, noNaN: true }),
        ([a, b], value) => {
          const there = convertUnit(value, a, b)
          expect(there).not.toBeNull()
          expect(convertUnit(there!, b, a)! / value).toBeCloseTo(1, 5)
        },
      ),
      { numRuns: 400 },
    )
  })
  test('and only there', () => {
    expect(convertUnit(1, 'bar', 'm³/h')).toBeNull()
    expect(convertUnit(1, 'turns', 'bar')).toBeNull()
    expect(convertUnit(7, 'turns', 'turns')).toBe(7)
    expect(unitsLike('m³/h')[0]).toBe('m³/h')
    expect(unitsLike('turns')).toEqual(['turns'])
    expect(['m3/h', 'm^3/h', 'degC', 'uS/cm', 'bar', 'turns'].map(usualUnit)).toEqual([
      'm³/h',
      'm³/h',
      '°C',
      'µS/cm',
      'bar',
      'turns',
    ])
  })
  test('the library knows all of them', () => {
    expect(Qty.parse('m^3/h')).not.toBeNull()
  })
})
