import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  addressAt,
  canMake,
  entrySteps,
  positionsFor,
  readPositions,
  switchCount,
  wordPositions,
} from './switches'
import { switchBank, type SwitchBank } from '../vocabulary/switch-bank'

const bank = (written: object) => switchBank.parse(written)
const rotary3 = bank({ style: 'rotary-decimal', digits: 3, sets: 'lastOctet' })
const rotaryHex = bank({ style: 'rotary-hex', digits: 2, first: 1, last: 125 })
const dip7 = bank({ style: 'dip-binary', count: 7, first: 0, last: 125 })
const dipRight = bank({ style: 'dip-binary', count: 8, lsb: 'right' })
const dipInverted = bank({ style: 'dip-binary', count: 4, on: 0 })
const weighted = bank({ style: 'dip-weighted', weights: [100, 80, 40, 20, 10, 8, 4, 2, 1] })
const offset = bank({ style: 'rotary-decimal', digits: 1, offset: 10 })
const jumper = bank({
  style: 'jumper',
  positions: [
    { label: 'A', value: 2 },
    { label: 'B', value: 4 },
  ],
})

describe('setting an address', () => {
  // Common practice: how each style counts.
  test.each<[string, SwitchBank, number, readonly number[] | null, string]>([
    ['28 → switches 0-2-8', rotary3, 28, [0, 2, 8], 'from left to right 0 – 2 – 8'],
    ['28 in hexadecimal', rotaryHex, 28, [1, 12], 'from left to right 1 – C'],
    ['more than the device takes', rotaryHex, 126, null, ''],
    [
      '10 with the lowest switch at the left',
      dip7,
      10,
      [0, 1, 0, 1, 0, 0, 0],
      '2, 4 ON; 1, 3, 5, 6, 7 OFF',
    ],
    [
      '10 with the lowest switch at the right',
      dipRight,
      10,
      [0, 0, 0, 0, 1, 0, 1, 0],
      '5, 7 ON; 1, 2, 3, 4, 6, 8 OFF',
    ],
    ['ON counts nothing', dipInverted, 1, [0, 1, 1, 1], '2, 3, 4 ON; 1 OFF'],
    ['0 where ON counts nothing', dipInverted, 0, [1, 1, 1, 1], 'all ON'],
    [
      'the fewest of several ways: 100 + 20 + 1',
      weighted,
      121,
      [1, 0, 0, 1, 0, 0, 0, 0, 1],
      '1, 4, 9 ON; 2, 3, 5, 6, 7, 8 OFF',
    ],
    ['more than all weights', weighted, 266, null, ''],
    ['an offset is taken off first', offset, 13, [3], 'from left to right 3'],
    ['less than the offset', offset, 9, null, ''],
    ['the jumper where its address stands', jumper, 4, [1], 'jumper on B'],
    ['no place of the jumper', jumper, 3, null, ''],
    ['more digits than switches', rotary3, 1000, null, ''],
  ])('%s', (_, switches, address, positions, words) => {
    const found = positionsFor(switches, address)
    expect(found).toEqual(positions)
    if (found) expect(wordPositions(switches, found)).toBe(words)
  })

  test('whatever can be set is read back as the same address, typed as it is seen', () => {
    const any = fc.constantFrom(
      rotary3,
      rotaryHex,
      dip7,
      dipRight,
      dipInverted,
      weighted,
      offset,
      jumper,
    )
    fc.assert(
      fc.property(any, fc.nat(300), (switches, address) => {
        const positions = positionsFor(switches, address)
        expect(canMake(switches, address)).toBe(positions !== null)
        if (!positions) return
        expect(addressAt(switches, positions)).toBe(address)
        const seen =
          switches.style === 'jumper'
            ? switches.positions[positions[0]!]!.label
            : positions.map((position) => position.toString(16)).join('')
        expect(readPositions(switches, seen)).toEqual({ positions })
      }),
      { numRuns: 500 },
    )
  })

  test('any positions make an address that leads to positions of the same address', () => {
    const any = fc.constantFrom(dipRight, dipInverted, weighted).chain((switches) =>
      fc.tuple(
        fc.constant(switches),
        fc.array(fc.constantFrom(0, 1), {
          minLength: switchCount(switches),
          maxLength: switchCount(switches),
        }),
      ),
    )
    fc.assert(
      fc.property(any, ([switches, positions]) => {
        const address = addressAt(switches, positions)!
        expect(addressAt(switches, positionsFor(switches, address)!)).toBe(address)
      }),
    )
  })
})

describe('reading positions off a housing', () => {
  test.each([
    [rotary3, '0 2 8', 28],
    [rotary3, '0-2-8', 28],
    [rotary3, ' 028 ', 28],
    [rotaryHex, '1c', 28],
    [rotaryHex, '1 C', 28],
    [dip7, 'off on off on off off off', 10],
    [dip7, '0101000', 10],
    [jumper, 'b', 4],
  ])('%#: "%s" makes %d', (switches, text, address) => {
    const read = readPositions(switches, text)
    expect('positions' in read && addressAt(switches, read.positions)).toBe(address)
  })

  test.each([
    [rotary3, '0 2', 'There are 3 switches; 2 positions are given.'],
    [rotary3, '0 A 8', '"a" is no position of a rotary switch with 10 positions.'],
    [dip7, '0102000', '"2" is no position of a DIP switch; type ON and OFF, or 1 and 0.'],
    [jumper, 'C', '"C" is no place of the jumper; there are A, B.'],
    [offset, '12', 'There is one switch; 2 positions are given.'],
  ])('%#: "%s" is told', (switches, text, fault) =>
    expect(readPositions(switches, text)).toEqual({ fault }),
  )
})

describe('an address that is entered', () => {
  const common = { offset: 0, first: null, last: null, powerCycle: true }
  const panel = {
    style: 'panel',
    menu: 'Menu › Network',
    octetByOctet: true,
    store: 'hold OK for 3 s',
    sets: 'lastOctet',
    ...common,
  } as const
  test('at a panel is entered octet by octet, stored, and read back', () => {
    expect(entrySteps(panel, 28, '192.168.60.28')).toEqual([
      'Press Menu › Network.',
      'Octet 1: set 192; the display shows 192.',
      'Octet 2: set 168; the display shows 168.',
      'Octet 3: set 60; the display shows 60.',
      'Octet 4: set 28; the display shows 28.',
      'Store it: hold OK for 3 s.',
      'Switch the device off and on.',
      'Open the menu again: it shows the same.',
    ])
    expect(readPositions(panel, '192.168.60.28')).toEqual({ positions: [28] })
    expect(readPositions(panel, 'abc')).toMatchObject({
      fault: expect.stringContaining('no number') as string,
    })
  })
  test('as a number alone says what the display shows', () =>
    expect(
      entrySteps(
        { ...panel, octetByOctet: false, sets: 'number', store: '', powerCycle: false },
        7,
      ),
    ).toEqual([
      'Press Menu › Network.',
      'Set 7; the display shows 7.',
      'Confirm it.',
      'Open the menu again: it shows the same.',
    ]))
  test('with a tool of the maker names the tool', () =>
    expect(
      entrySteps(
        { style: 'tool', tool: 'Node setup, page Address', sets: 'number', ...common },
        9,
      )[0],
    ).toBe('Node setup, page Address.'))
  test('can be whatever the device takes, and makes what was entered', () => {
    expect([canMake(panel, 0), canMake(panel, 254), canMake(panel, 255)]).toEqual([
      true,
      true,
      false,
    ])
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 65_535 }), (address) => {
        const positions = positionsFor({ ...panel, sets: 'number' }, address)!
        expect(addressAt({ ...panel, sets: 'number' }, positions)).toBe(address)
      }),
    )
  })
})
