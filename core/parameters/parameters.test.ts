import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Parameter, ParameterRecord } from '../catalog'
import { decodeRecord, decodeValue, encodeRecord, encodeValue, type ValuePlace } from '.'
import { toHex, parseObjectIndex, fromHex, parseOctets } from '../vocabulary'

const place = (
  kind: ValuePlace['kind'],
  byteOrder: ValuePlace['byteOrder'],
  offsetBytes: number,
  offsetBits: number,
  bits: number,
): ValuePlace => ({ kind, byteOrder, offsetBytes, offsetBits, bits })
const record = (where: ValuePlace, value: number | string, before = '00 00 00 00 00 00') => {
  const bytes = fromHex(before)
  encodeValue(bytes, where, value)
  return toHex(bytes)
}

describe('values in a record', () => {
  test.each([
    [place('unsigned', 'big', 1, 0, 8), 0xab, '00 ab 00 00 00 00'],
    [place('unsigned', 'big', 1, 0, 16), 0x1234, '00 12 34 00 00 00'],
    [place('signed', 'big', 0, 0, 16), -2, 'ff fe 00 00 00 00'],
    [place('unsigned', 'big', 2, 0, 32), 0x01020304, '00 00 01 02 03 04'],
    // CIP is little-endian (CIP Vol. 1, App. C).
    [place('unsigned', 'little', 1, 0, 16), 0x1234, '00 34 12 00 00 00'],
    [place('signed', 'little', 0, 0, 32), -2, 'fe ff ff ff 00 00'],
    // IEEE 754: 1.5 = 0x3FC00000.
    [place('float', 'big', 0, 0, 32), 1.5, '3f c0 00 00 00 00'],
    [place('float', 'little', 0, 0, 32), 1.5, '00 00 c0 3f 00 00'],
    [place('unsigned', 'little', 2, 7, 1), 1, '00 00 80 00 00 00'],
    [place('unsigned', 'little', 2, 2, 3), 5, '00 00 14 00 00 00'],
    // A bit area over the octet's end goes on in the next one's low bits (GSDML leaves it open).
    [place('unsigned', 'little', 0, 6, 4), 0b1011, 'c0 02 00 00 00 00'],
    // An IODD field of 12 bits at bit 4 of two octets: the first octet and the second one's high
    // half.
    [place('unsigned', 'big', 0, 4, 12), 0xabc, 'ab c0 00 00 00 00'],
    // Short texts are filled with blanks (from memory).
    [place('text', 'big', 1, 0, 32), 'AB', '00 41 42 20 20 00'],
    // SHORT_STRING and STRING say their length first (CIP Vol. 1, App. C).
    [
      { ...place('text', 'little', 0, 0, 48), lengthOctets: 1 as const },
      'abc',
      '03 61 62 63 00 00',
    ],
    [
      { ...place('text', 'little', 0, 0, 48), lengthOctets: 2 as const },
      'abcdef',
      '04 00 61 62 63 64',
    ],
    [place('octets', 'big', 1, 0, 24), '0x01,0xff', '00 01 ff 00 00 00'],
    [place('unsigned', 'big', 5, 0, 16), 0x1234, '00 00 00 00 00 12'],
  ])('%j %s → %s', (where, value, expected) => expect(record(where, value)).toBe(expected))

  test('a bit that is cleared leaves its neighbours', () =>
    expect(record(place('unsigned', 'little', 0, 2, 2), 0, 'ff 00')).toBe('f3 00'))

  test('any whole number comes back, whatever stood around it stays', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('unsigned' as const, 'signed' as const),
        fc.constantFrom('big' as const, 'little' as const),
        fc.nat(3),
        fc.nat(7),
        fc.integer({ min: 1, max: 32 }),
        fc.nat(),
        fc.uint8Array({ minLength: 9, maxLength: 9 }),
        (kind, order, at, offsetBits, bits, any, before) => {
          const where = place(kind, order, at, offsetBits, bits)
          const value = kind === 'signed' ? (any % 2 ** bits) - 2 ** (bits - 1) : any % 2 ** bits
          const bytes = Uint8Array.from(before)
          encodeValue(bytes, where, value)
          expect(decodeValue(bytes, where)).toBe(value)
          encodeValue(bytes, where, decodeValue(before, where))
          expect(bytes).toEqual(before)
        },
      ),
    )
  })

  test('any text comes back', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(...'abcXYZ019_-'), maxLength: 6 }),
        fc.constantFrom(undefined, 1 as const, 2 as const),
        (text, lengthOctets) => {
          const bytes = new Uint8Array(10)
          const where = {
            ...place('text', 'little', 1, 0, 64),
            ...(lengthOctets && { lengthOctets }),
          }
          encodeValue(bytes, where, text)
          expect(decodeValue(bytes, where)).toBe(text)
        },
      ),
    )
  })

  test('any floating value and any octets come back', () => {
    fc.assert(
      fc.property(
        fc.float({ noNaN: true }),
        fc.uint8Array({ minLength: 4, maxLength: 4 }),
        (value, octets) => {
          const bytes = new Uint8Array(8)
          encodeValue(bytes, place('float', 'little', 1, 0, 32), value)
          expect(decodeValue(bytes, place('float', 'little', 1, 0, 32))).toBe(value)
          encodeValue(bytes, place('octets', 'big', 2, 0, 32), toHex(octets))
          expect(decodeValue(bytes, place('octets', 'big', 2, 0, 32))).toBe(toHex(octets))
        },
      ),
    )
  })
})

describe('a record with values', () => {
  const parameter = (key: string, more: Partial<Parameter>): Parameter => ({
    key,
    name: key,
    type: 'Unsigned8',
    ...place('unsigned', 'big', 0, 0, 8),
    default: 0,
    allowed: [],
    texts: {},
    visible: true,
    changeable: true,
    ...more,
  })
  const filter: ParameterRecord = {
    index: 1,
    length: 4,
    bytes: '01 00 00 ff',
    parameters: [
      parameter('mode', {
        allowed: [
          [0, 3],
          [7, 7],
        ],
        default: 1,
      }),
      parameter('limit', { ...place('signed', 'big', 1, 0, 16) }),
      parameter('locked', { offsetBytes: 3, changeable: false, default: 255 }),
    ],
  }
  test.each([
    [{ mode: 7 }, '07 00 00 ff', []],
    [{ limit: -1, mode: 2 }, '02 ff ff ff', []],
    [{ mode: 4 }, '01 00 00 ff', ['mode is 4; 0..3 7 is allowed.']],
    [{ limit: 40_000 }, '01 00 00 ff', ['limit is 40000; -32768..32767 is allowed.']],
    [{ mode: 1.5 }, '01 00 00 ff', ['mode is 1.5; a whole number is needed.']],
    [{ mode: 'much' }, '01 00 00 ff', ['mode is "much"; a number is needed.']],
    [{ locked: 3 }, '01 00 00 ff', ['locked cannot be changed; the description fixes it at 255.']],
  ])('%j → %s', (values, bytes, problems) => {
    const encoded = encodeRecord(filter, values as never)
    expect([encoded.bytes, encoded.problems.map(({ message }) => message)]).toEqual([
      bytes,
      problems,
    ])
  })

  test('gives its values back', () =>
    expect(decodeRecord(filter, fromHex('02 ff fe ff'))).toEqual({
      mode: 2,
      limit: -2,
      locked: 255,
    }))
})

test('hex comes back, however octets are written', () => {
  fc.assert(
    fc.property(
      fc.uint8Array({ maxLength: 20 }),
      fc.constantFrom(' ', ', ', ''),
      (bytes, between) => {
        expect(fromHex(toHex(bytes))).toEqual(bytes)
        expect(
          parseOctets([...bytes].map((octet) => octet.toString(16).padStart(2, '0')).join(between)),
        ).toEqual(bytes)
      },
    ),
  )
  expect(parseOctets('0x1,0xg')).toBeNull()
})

// An object's index is hexadecimal wherever it is written (CiA 301).
test.each([
  ['8010', 0x8010],
  ['0x8010', 0x8010],
  ['#x8010', 0x8010],
  [' 1C12 ', 0x1c12],
  ['0', 0],
  ['12345', null],
  ['80G0', null],
  ['', null],
  ['-1', null],
])('the index "%s"', (text, index) => expect(parseObjectIndex(text)).toBe(index))
