import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { encodeValue, fromHex, toHex } from './encode-value'

const record = (type: string, offsetBytes: number, offsetBits: number, bits: number, value: number | string, before = '00 00 00 00 00 00') => {
  const bytes = fromHex(before)
  encodeValue(bytes, { type, offsetBytes, offsetBits, bits }, value)
  return toHex(bytes)
}

// PROFINET records are big-endian; bits count from the least significant one (GSDML specification, from memory).
describe('values in a record', () => {
  test.each([
    ['Unsigned8', 1, 0, 8, 0xab, '00 ab 00 00 00 00'],
    ['Unsigned16', 1, 0, 16, 0x1234, '00 12 34 00 00 00'],
    ['Integer16', 0, 0, 16, -2, 'ff fe 00 00 00 00'],
    ['Unsigned32', 2, 0, 32, 0x01020304, '00 00 01 02 03 04'],
    // IEEE 754: 1.5 = 0x3FC00000.
    ['Float32', 0, 0, 32, 1.5, '3f c0 00 00 00 00'],
    ['Bit', 2, 7, 1, 1, '00 00 80 00 00 00'],
    ['BitArea', 2, 2, 3, 5, '00 00 14 00 00 00'],
    // Over the octet's end it goes on in the next one's low bits.
    ['BitArea', 0, 6, 4, 0b1011, 'c0 02 00 00 00 00'],
    // Short texts are filled with blanks (from memory).
    ['VisibleString', 1, 0, 32, 'AB', '00 41 42 20 20 00'],
    ['Unsigned16', 5, 0, 16, 0x1234, '00 00 00 00 00 12'],
  ])('%s at %d.%d, %d bits: %s', (type, offsetBytes, offsetBits, bits, value, expected) => expect(record(type, offsetBytes, offsetBits, bits, value)).toBe(expected))

  test('a bit that is cleared leaves its neighbours', () => expect(record('BitArea', 0, 2, 2, 0, 'ff 00')).toBe('f3 00'))

  test('any bit area comes back, and nothing else changes', () => {
    fc.assert(fc.property(fc.nat(7), fc.integer({ min: 1, max: 15 }), fc.nat(0x7fff), (offsetBits, bits, any) => {
      const value = any % 2 ** bits
      const bytes = fromHex('00 00 00')
      encodeValue(bytes, { type: 'BitArea', offsetBytes: 0, offsetBits, bits }, value)
      expect(bytes.reduce((sum, octet, i) => sum + octet * 2 ** (8 * i), 0)).toBe(value * 2 ** offsetBits)
    }))
  })
})

test('hex comes back', () => {
  fc.assert(fc.property(fc.uint8Array({ maxLength: 20 }), (bytes) => {
    expect(fromHex(toHex(bytes))).toEqual(bytes)
  }))
})
