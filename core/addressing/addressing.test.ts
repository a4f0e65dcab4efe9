import { BlockList } from 'node:net'
import { domainToASCII } from 'node:url'
import fc from 'fast-check'
import { toASCII } from 'tr46'
import { describe, expect, test } from 'vitest'

import { formatIp, ipFault, nextFreeIp, parseIp, subnetOf } from './ip'
import {
  formatAddress,
  notationNames,
  notations,
  readAddress,
  readTyped,
  wordExtent,
  wordStart,
  type ImageAddress,
  type NotationName,
} from './notations'
import {
  legalStationName,
  nextName,
  stationNameFault,
  wireName,
} from '../protocols/profinet/station-name'

describe('notations', () => {
  // IEC 61131-3:2013, 6.5.5.2.
  test.each([
    ['%IX12.3', { direction: 'in', byte: 12, bit: 3, bits: 1 }],
    ['%QX0.7', { direction: 'out', byte: 0, bit: 7, bits: 1 }],
    ['%IB4', { direction: 'in', byte: 4, bit: 0, bits: 8 }],
    ['%QW12', { direction: 'out', byte: 12, bit: 0, bits: 16 }],
    ['%ID8', { direction: 'in', byte: 8, bit: 0, bits: 32 }],
  ] as const)('%s', (text, address) => {
    expect(notations.iec.format(address)).toBe(text)
    expect(notations.iec.parse(text.toLowerCase())).toEqual(address)
  })

  test.each(['%IX12.8', '%IX12', '%MW3', 'IX1.0', '%IW-1', '%IW1.2', ''])(
    '"%s" is no address',
    (text) => expect(notations.iec.parse(text)).toBeNull(),
  )

  // Common practice, except where a standard is named.
  test.each<[NotationName, string, ImageAddress]>([
    ['iec-words-low', '%IW6', { direction: 'in', byte: 12, bit: 0, bits: 16 }],
    ['iec-words-low', '%IX6.11', { direction: 'in', byte: 13, bit: 3, bits: 1 }],
    ['iec-words-high', '%IX6.11', { direction: 'in', byte: 12, bit: 3, bits: 1 }],
    ['iec-words-low', '%QD2', { direction: 'out', byte: 8, bit: 0, bits: 32 }],
    ['octal', 'X220', { direction: 'in', byte: 18, bit: 0, bits: 1 }],
    ['octal', 'Y7', { direction: 'out', byte: 0, bit: 7, bits: 1 }],
    ['hex', 'Y1F', { direction: 'out', byte: 3, bit: 7, bits: 1 }],
    ['decimal', 'X16:16', { direction: 'in', byte: 2, bit: 0, bits: 16 }],
    ['word-bit', 'in word 6.11', { direction: 'in', byte: 13, bit: 3, bits: 1 }],
    // MODBUS Application Protocol V1.1b3, 4.4: references from 1 stand for addresses from 0.
    ['modbus-5', '00001', { direction: 'out', byte: 0, bit: 0, bits: 1 }],
    ['modbus-5', '10001', { direction: 'in', byte: 0, bit: 0, bits: 1 }],
    ['modbus-5', '30001', { direction: 'in', byte: 0, bit: 0, bits: 16 }],
    ['modbus-5', '40013', { direction: 'out', byte: 24, bit: 0, bits: 16 }],
    ['modbus-6', '400013', { direction: 'out', byte: 24, bit: 0, bits: 16 }],
    ['modbus-0', 'holding 12', { direction: 'out', byte: 24, bit: 0, bits: 16 }],
  ])('%s: %s', (name, text, address) => {
    expect(notations[name].format(address)).toBe(text)
    expect(notations[name].parse(text)).toEqual(address)
  })

  // The terminal that a module counts in hex and the controller in octal: block at octal 200,
  // terminal Y10 of the module is its point 16.
  test('the octal trap', () => {
    const block = notations.octal.parse('Y200')!
    const terminal = notations.hex.parse('Y10')!
    const point = block.byte * 8 + terminal.byte * 8 + terminal.bit
    expect(
      formatAddress({ direction: 'out', byte: point >> 3, bit: point & 7, bits: 1 }, 'octal'),
    ).toBe('Y220')
  })

  // Typed by somebody who looks at one side of the image: in full, without the sign, or the number
  // alone.
  test.each<[NotationName, 'in' | 'out', string, string | null]>([
    ['iec', 'in', '%IX12.3', '%IX12.3'],
    ['iec', 'in', 'IW12', '%IW12'],
    ['iec', 'in', '%I12.3', '%IX12.3'],
    ['iec', 'in', '12', '%IB12'],
    ['iec', 'out', '12.3', '%QX12.3'],
    ['iec', 'in', '%QX12.3', null],
    ['iec', 'in', '0o40', null],
    ['iec', 'in', '1e3', null],
    ['iec', 'in', '', null],
    ['iec', 'in', 'abc', null],
    ['octal', 'in', 'X300', '%IX24.0'],
    ['octal', 'out', 'Y220', '%QX18.0'],
    ['octal', 'in', '300', '%IX24.0'],
    ['octal', 'out', '40', '%QX4.0'],
    ['octal', 'in', '0o40', null],
    ['octal', 'in', '80', null],
    ['hex', 'in', 'C0', '%IX24.0'],
    ['decimal', 'in', '192', '%IX24.0'],
    ['iec-words-low', 'in', '6', '%IW12'],
    ['word-bit', 'in', '6.11', '%IX13.3'],
    ['plain', 'in', '12', '%IB12'],
    ['modbus-5', 'out', '40013', '%QW24'],
    ['modbus-0', 'in', '12', '%IW24'],
    ['modbus-5', 'in', '%IB24', '%IB24'],
  ])('in %s and %s "%s" is %s', (notation, direction, text, expected) => {
    const place = readTyped(text, notation, direction)
    expect(place && formatAddress(place)).toBe(expected)
  })

  test.each<[NotationName, 'in' | 'out', number, number, string]>([
    ['octal', 'out', 128, 64, 'Y200 … Y277, 64 points'],
    ['iec', 'out', 32, 32, '%QB4 … %QB7, 4 bytes'],
    ['iec', 'in', 34, 2, '%IX4.2 … %IX4.3, 2 bits'],
    ['iec', 'in', 32, 8, '%IB4, 1 byte'],
    ['word-bit', 'in', 32, 32, 'in word 2 … in word 3, 4 bytes'],
    ['modbus-5', 'out', 32, 16, '40003, 2 bytes'],
    ['hex', 'in', 16, 1, 'X10, 1 point'],
  ])(
    'in %s a block of the side %s at %i with %i bits is %s',
    (notation, direction, start, bits, words) =>
      expect(wordExtent(direction, start, bits, notation)).toBe(words),
  )

  test('where a block begins is read back as it is written', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...notationNames),
        fc.constantFrom('in' as const, 'out' as const),
        fc.nat(4000),
        fc.constantFrom(8, 16, 24, 32),
        (notation, direction, byte, bits) => {
          expect(
            readTyped(wordStart(direction, byte * 8, bits, notation), notation, direction),
          ).toMatchObject({ direction, byte, bit: 0 })
        },
      ),
    )
  })

  test.each<[NotationName, string]>([
    ['octal', 'X8'],
    ['hex', 'X1G'],
    ['modbus-5', '40000'],
    ['modbus-5', '50001'],
    ['modbus-6', '465537'],
    ['modbus-0', 'holding 65536'],
    ['iec-words-low', '%IX6.16'],
    ['word-bit', 'in word 6.16'],
  ])('%s has no "%s"', (name, text) => expect(notations[name].parse(text)).toBeNull())

  test.each<[string, NotationName[], [NotationName, string][]]>([
    [
      '%IW12',
      [],
      [
        ['iec', '%IW12'],
        ['iec-words-low', '%IW24'],
      ],
    ],
    [
      '%IW12',
      ['iec-words-low'],
      [
        ['iec-words-low', '%IW24'],
        ['iec', '%IW12'],
      ],
    ],
    ['X220 octal', [], [['octal', '%IX18.0']]],
    [
      'X10',
      [],
      [
        ['decimal', '%IX1.2'],
        ['octal', '%IX1.0'],
        ['hex', '%IX2.0'],
      ],
    ],
    ['40013', [], [['modbus-5', '%QW24']]],
    ['P-101', [], []],
  ])('"%s" may mean, where controllers use %j: %j', (text, preferred, meanings) => {
    expect(
      readAddress(text, preferred).map(({ notation, address }) => [
        notation,
        formatAddress(address),
      ]),
    ).toEqual(meanings)
  })

  test.each(notationNames)('%s reads what it writes', (name) => {
    const address = fc.record({
      direction: fc.constantFrom('in' as const, 'out' as const),
      byte: fc.nat(65_535),
      bit: fc.nat(7),
      bits: fc.constantFrom(1, 8, 16, 32, 64),
    })
    fc.assert(
      fc.property(address, (any) => {
        const given = any.bits === 1 ? any : { ...any, bit: 0 }
        const written = notations[name].format(given)
        if (written === null) expect(formatAddress(given, name)).toBe(formatAddress(given))
        else expect(notations[name].parse(written)).toEqual(given)
      }),
    )
  })
})

describe('IP addresses', () => {
  test.each(['0.0.0.0', '10.1.2.3', '255.255.255.255'])('%s is one', (text) =>
    expect(formatIp(parseIp(text)!)).toBe(text),
  )
  test.each([
    '',
    '10.0.0',
    '10.0.0.256',
    '010.0.0.1',
    '10.0.0.1.2',
    ' 10.0.0.1',
    '0x0a.0.0.1',
    'a.b.c.d',
    '1e1.0.0.1',
  ])('"%s" is none', (text) => expect(parseIp(text)).toBeNull())

  test.each([
    ['192.168.40.12', null],
    ['192.168.41.12', 'outside'],
    ['192.168.40.0', 'network'],
    ['192.168.40.255', 'broadcast'],
    ['192.168.40', 'illegal'],
  ])('%s in 192.168.40.1/24: %s', (ip, fault) =>
    expect(ipFault(ip, subnetOf('192.168.40.1', 24))).toBe(fault),
  )

  // Second opinion: Node's own subnet arithmetic.
  test('agrees with an independent implementation', () => {
    const ip = fc.nat(0xffffffff).map(formatIp)
    fc.assert(
      fc.property(ip, ip, fc.integer({ min: 1, max: 30 }), (one, other, prefixLength) => {
        const list = new BlockList()
        list.addSubnet(one, prefixLength)
        const inside = !['outside', 'illegal'].includes(
          ipFault(other, subnetOf(one, prefixLength)) ?? '',
        )
        expect(inside).toBe(list.check(other))
      }),
    )
  })

  test('the next free one leaves out what is taken, and ends with the subnet', () => {
    const subnet = subnetOf('10.0.0.1', 30)!
    expect(nextFreeIp(subnet, new Set([parseIp('10.0.0.1')!]))).toBe(parseIp('10.0.0.2'))
    expect(
      nextFreeIp(subnet, new Set(['10.0.0.1', '10.0.0.2'].map((ip) => parseIp(ip)!))),
    ).toBeNull()
  })
})

describe('PROFINET station names', () => {
  // IEC 61158-6-10 (clauses from memory).
  test.each([
    'a',
    'intake-a',
    'x1.y2',
    'a'.repeat(63),
    'port-1',
    'port-0012',
    'sub.port-001',
    '1.2.3',
    'pümpe',
    [...Array(4)].map(() => 'b'.repeat(59)).join('.'),
  ])('%s is legal', (name) => expect(stationNameFault(name)).toBeNull())
  test.each([
    ['', 'empty'],
    ['Intake', '"I"'],
    ['in take', '" "'],
    ['in_take', '"_"'],
    ['-a', 'dash'],
    ['a-', 'dash'],
    ['a..b', 'dots'],
    ['192.168.0.1', 'IP address'],
    ['999.0.0.0', 'IP address'],
    ['port-001', 'port'],
    ['port-001-00012', 'port'],
    ['port-001.x', 'port'],
    ['a'.repeat(64), '64'],
    [[...Array(5)].map(() => 'c'.repeat(50)).join('.'), '240'],
    // 63 characters on paper, more in the form that travels.
    [`${'a'.repeat(62)}ü`, 'characters'],
  ])('%s is not: %s', (name, why) => expect(stationNameFault(name)).toContain(why))

  // Second opinion: the registry's UTS 46 implementation.
  // Third opinion: the platform's own.
  test.each(['pümpe', 'straße-1'.replace('ß', 'ss'), 'wäge.öl', 'насос', 'intake-a'])(
    '%s travels as IDNA says',
    (name) => {
      expect(wireName(name)).toBe(toASCII(name))
      expect(wireName(name)).toBe(domainToASCII(name))
    },
  )

  test('what is proposed is legal', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (name) => {
        expect(stationNameFault(legalStationName(name))).toBeNull()
      }),
    )
  })

  test.each([
    ['intake-1', ['intake-1', 'intake-2'], 'intake-3'],
    ['well', ['well'], 'well-2'],
    ['p-009', ['p-009'], 'p-010'],
  ])('after %s comes the next free name', (name, taken, next) =>
    expect(nextName(name, new Set(taken))).toBe(next),
  )
})
