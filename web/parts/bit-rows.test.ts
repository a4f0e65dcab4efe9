import { expect, test } from 'vitest'
import type { DataItem } from '@kataxis/core'
import { bitRows } from './bit-rows'

const item = (
  name: string,
  offsetBits: number,
  bits: number,
  more: Partial<DataItem> = {},
): DataItem => ({
  name,
  type: 'T',
  offsetBits,
  bits,
  holds: 'unsigned',
  asBits: false,
  channels: [],
  ...more,
})
const drawn = (items: DataItem[], bytes: number, fromEnd = false) =>
  bitRows(items, bytes, 'in', fromEnd, 8).map(({ cells }) =>
    cells.map(({ bits, words, unused }) => `${unused ? '-' : words}:${bits}`).join(' '),
  )

test.each([
  ['single bits, highest left', [item('a', 0, 1), item('b', 7, 1)], 1, false, ['b:1 -:6 a:1']],
  ['a word over two octets', [item('w', 0, 16)], 2, false, ['w · T:8']],
  [
    'a row of bits',
    [item('x', 0, 8, { asBits: true })],
    1,
    false,
    ['7:1 6:1 5:1 4:1 3:1 2:1 1:1 0:1'],
  ],
  [
    'named bits',
    [item('x', 0, 8, { channels: [{ name: 'lamp', offsetBits: 3 }] })],
    1,
    false,
    ['-:4 lamp:1 -:3'],
  ],
  // "octet 0, bit 2" for 4 octets is offset 26 (IO-Link interface specification 1.1).
  [
    'IO-Link counts from the last octet',
    [item('f', 26, 1)],
    4,
    true,
    ['-:5 f:1 -:2', '-:8', '-:8', '-:8'],
  ],
  ['fourteen bits from the end', [item('l', 2, 14)], 2, true, ['l · T:8', '…:6 -:2']],
])('%s', (_, items, bytes, fromEnd, expected) =>
  expect(drawn(items, bytes, fromEnd)).toEqual(expected),
)
