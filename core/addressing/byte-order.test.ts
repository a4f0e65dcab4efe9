import { Buffer } from 'node:buffer'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { fromOctets, passage, sameTurn, toOctets, turnNeeded, turnOctets } from './byte-order'
import { turnNames, type Turn } from '../vocabulary/byte-order'

const hex = (octets: Uint8Array) =>
  [...octets].map((octet) => octet.toString(16).padStart(2, '0')).join(' ')
const turns: readonly Turn[] = ['', ...turnNames]

// Common practice: A is the octet that comes first.
test.each([
  ['', '0a 0b 0c 0d', '0a 0b'],
  ['BADC', '0b 0a 0d 0c', '0b 0a'],
  ['CDAB', '0c 0d 0a 0b', '0a 0b'],
  ['DCBA', '0d 0c 0b 0a', '0b 0a'],
] as const)('%s of ABCD', (turn, four, two) => {
  expect(hex(turnOctets(Uint8Array.of(10, 11, 12, 13), turn))).toBe(four)
  expect(hex(turnOctets(Uint8Array.of(10, 11), turn))).toBe(two)
})

test('turned twice is as it was', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...turns),
      fc
        .constantFrom(2, 4, 8)
        .chain((length) => fc.uint8Array({ minLength: length, maxLength: length })),
      (turn, octets) => {
        expect(turnOctets(turnOctets(octets, turn), turn)).toEqual(octets)
      },
    ),
  )
})

// Second opinion: the platform's own readers and writers of numbers.
describe('numbers as octets', () => {
  test.each([
    ['unsigned', 2, 'big', (b: Buffer, v: number) => b.writeUInt16BE(v & 0xffff)],
    ['signed', 2, 'little', (b: Buffer, v: number) => b.writeInt16LE((v << 16) >> 16)],
    ['unsigned', 4, 'little', (b: Buffer, v: number) => b.writeUInt32LE(v >>> 0)],
    ['signed', 4, 'big', (b: Buffer, v: number) => b.writeInt32BE(v)],
    ['float', 4, 'big', (b: Buffer, v: number) => b.writeFloatBE(v)],
    ['float', 8, 'little', (b: Buffer, v: number) => b.writeDoubleLE(v)],
  ] as const)('%s of %d octets, %s', (kind, length, order, write) => {
    fc.assert(
      fc.property(fc.integer(), (value) => {
        const expected = Buffer.alloc(length)
        write(expected, value)
        const octets = toOctets(value, length, kind, order)
        expect([...octets]).toEqual([...expected])
        expect(toOctets(fromOctets(octets, kind, order), length, kind, order)).toEqual(octets)
      }),
    )
  })
})

describe('on the way to the program', () => {
  test('a word without a turn shows swapped where the orders differ', () => {
    expect(passage(1000, 16, 'signed', { wire: 'big', turn: '', program: 'little' })).toMatchObject(
      { seen: -6141 },
    )
    expect(
      passage(1000, 16, 'signed', { wire: 'big', turn: 'BADC', program: 'little' }),
    ).toMatchObject({ seen: 1000 })
    expect(
      passage(1000, 16, 'signed', { wire: 'big', turn: '', program: 'network' }),
    ).toMatchObject({ seen: 1000 })
  })

  test('with the turn that is asked for the program reads what the device means', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(16, 32, 64),
        fc.constantFrom('big' as const, 'little' as const),
        fc.constantFrom('big' as const, 'little' as const, 'network' as const),
        fc.nat(30_000),
        (bits, wire, program, value) => {
          const turn = turnNeeded(bits, wire, program)
          expect(passage(value, bits, 'unsigned', { wire, turn, program }).seen).toBe(value)
          for (const other of turns)
            expect(
              passage(0x01020304, bits, 'unsigned', { wire, turn: other, program }).seen ===
                passage(0x01020304, bits, 'unsigned', { wire, turn, program }).seen,
            ).toBe(sameTurn(bits, other, turn))
        },
      ),
    )
  })
})
