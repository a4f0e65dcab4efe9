import { expect, test } from 'vitest'
import { whyNoNumber } from './number-limits'

test.each([
  ['5', { min: 1, max: 10 }, null],
  ['1,5', { min: 1, max: 10 }, null],
  ['-3', {}, null],
  ['1e3', { max: 1000 }, null],
  ['0', { min: 1, max: 125, unit: 'ms' }, 'It has to be 1 to 125 ms.'],
  ['0', { min: 1 }, 'It has to be 1 or more.'],
  ['9', { max: 8 }, 'It has to be 8 or less.'],
  ['abc', {}, '“abc” is no number.'],
  ['12 000', {}, '“12 000” is no number.'],
  [' ', {}, 'A number is needed here.'],
  ['Infinity', {}, '“Infinity” is no number.'],
] as const)('%s within %j', (text, limits, why) => expect(whyNoNumber(text, limits)).toBe(why))
