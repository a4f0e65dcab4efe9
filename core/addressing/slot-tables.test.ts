import { describe, expect, test } from 'vitest'
import { nibbleOffset, nibbleOrders, nibbleTableBytes, rackOffset } from './slot-tables'
import { formatAddress, notations } from './notations'

/** The word and the bit in it that a flat bit of a table stands for. */
const inWords = (offset: number, highFirst: boolean) => ({
  word: offset >> 4,
  bit: (((offset >> 3) & 1) ^ Number(highFirst)) * 8 + (offset & 7),
})

describe('a gateway’s table of nibbles', () => {
  // Common practice: flags first, node n in word ⌊n/4⌋, bits 4·(n mod 4) to +3. Check value: node
  // 10 → word 2, bits 8 to 11.
  test.each([
    [10, 2, 8],
    [0, 0, 0],
    [3, 0, 12],
    [4, 1, 0],
    [31, 7, 12],
  ])('node %d stands in word %d from bit %d', (node, word, bit) => {
    expect(inWords(nibbleOffset(node, 'words-low-first'), false)).toEqual({ word, bit })
    expect(inWords(nibbleOffset(node, 'words-high-first'), true)).toEqual({ word, bit })
  })

  // Common practice: octet by octet the flags stand high and node 1 low.
  test('octet by octet flags are high and node 1 is low', () => {
    expect([0, 1, 2, 3].map((node) => nibbleOffset(node, 'octets-high-nibble-first'))).toEqual([
      4, 0, 12, 8,
    ])
  })

  test.each(nibbleOrders)('%s: every entry has its own four bits', (order) => {
    const bits = Array.from({ length: 32 }, (_, node) => nibbleOffset(node, order)).flatMap(
      (offset) => [0, 1, 2, 3].map((bit) => offset + bit),
    )
    expect(new Set(bits).size).toBe(128)
    expect(Math.max(...bits)).toBeLessThan(nibbleTableBytes(31) * 8)
  })
})

// Common practice: 6 + 4 × 16 = 70 octets each way for a rack of four slots with three modules;
// slot k begins at 6 + 16 (k − 1).
test('a rack’s slots stand at fixed places behind its header', () => {
  expect([1, 2, 3, 4].map((slot) => rackOffset(6, 16, slot - 1) / 8)).toEqual([6, 22, 38, 54])
  expect(rackOffset(6, 16, 4) / 8).toBe(70)
})

// Common practice, the octal trap: a block of 64 points at 0o200 reaches to 0o277; terminal Y10
// counts in hexadecimal, so it is point 16.
test('terminal Y10 of a block at Y200 is Y220 where the controller counts in octal', () => {
  const start = notations.octal.parse('Y200')!
  const point = (number: number) =>
    formatAddress(
      { direction: 'out', byte: start.byte + (number >> 3), bit: number & 7, bits: 1 },
      'octal',
    )
  expect([point(0), point(63), point(0x10)]).toEqual(['Y200', 'Y277', 'Y220'])
})
