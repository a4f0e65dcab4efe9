import fc from 'fast-check'
import { expect, test } from 'vitest'
import { formatValueList, inRanges, parseValueList } from './value-list'

// GSDML specification, value lists (from memory).
test.each([
  [
    '0..7 9 11..13',
    [
      [0, 7],
      [9, 9],
      [11, 13],
    ],
  ],
  ['-20..20', [[-20, 20]]],
  [
    '-5 -3..-1',
    [
      [-5, -5],
      [-3, -1],
    ],
  ],
  ['0.5..1.5', [[0.5, 1.5]]],
  [
    '  1   2 ',
    [
      [1, 1],
      [2, 2],
    ],
  ],
  ['', []],
  ['5..1', null],
  ['1-3', null],
  ['1..', null],
  ['a', null],
])('"%s"', (text, expected) => expect(parseValueList(text)).toEqual(expected))

test('what is written is read again, and holds exactly its numbers', () => {
  const range = fc
    .tuple(fc.integer({ min: -1000, max: 1000 }), fc.nat(50))
    .map(([from, length]) => [from, from + length] as const)
  fc.assert(
    fc.property(fc.array(range), fc.integer({ min: -1100, max: 1100 }), (ranges, value) => {
      expect(parseValueList(formatValueList(ranges))).toEqual(ranges)
      expect(inRanges(ranges, value)).toBe(
        ranges.some(([from, to]) => from <= value && value <= to),
      )
    }),
  )
})
