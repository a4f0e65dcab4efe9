import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { DataField, DataLayout, FieldType } from '../vocabulary/data-layout'
import { readFieldType, wordFieldType } from '../vocabulary/data-layout'
import { makeSubmodule } from './blank'
import type { DataItem, DeviceFile } from './model'
import { layoutOfSubmodules } from './layout'
import { faultsOfFields, layoutsIn, withFields, withOwnData, wordFieldFault } from './own-data'

const item = (name: string, offsetBits: number, bits: number, more: Partial<DataItem> = {}) => ({
  name,
  type: 'T',
  holds: 'other' as const,
  offsetBits,
  bits,
  asBits: false,
  channels: [],
  ...more,
})
const field = (
  name: string,
  type: FieldType,
  offsetBits: number,
  bits: number,
  more: Partial<DataField> = {},
): DataField => ({ name, type, offsetBits, bits, ...more })

const octets = item('Octets', 0, 64)
const word = item('Status', 0, 16, { holds: 'unsigned' })
const row = item('Inputs', 0, 8, { asBits: true, holds: 'word' })
const laid = (items: readonly DataItem[], fields: readonly DataField[]) =>
  withFields(items, fields).map(({ name, offsetBits, bits }) => [name, offsetBits, bits])
const channelsOf = (items: readonly DataItem[], fields: readonly DataField[], bytes = 8) =>
  layoutOfSubmodules([
    makeSubmodule({ key: 's', name: 'S', inputBytes: bytes, inputs: withFields(items, fields) }),
  ]).channels.map(({ name, offsetBits, bits, part }) => [name, offsetBits, bits, part ?? false])

describe('fields over described data', () => {
  test.each<[string, DataItem[], DataField[], unknown]>([
    [
      'octets are split around a field',
      [octets],
      [field('Level', 'signed', 16, 16)],
      [
        ['Octets 0…1', 0, 16],
        ['Level', 16, 16],
        ['Octets 4…7', 32, 32],
      ],
    ],
    [
      'bits that share an octet with a named one are filler',
      [octets],
      [field('Run', 'bit', 3, 1)],
      [
        ['Run', 3, 1],
        ['Octets 1…7', 8, 56],
      ],
    ],
    ['filler has no name', [octets], [field('', 'unused', 0, 56)], [['Octets 7', 56, 8]]],
    ['what is covered is replaced', [word], [field('Mode', 'signed', 0, 16)], [['Mode', 0, 16]]],
    [
      'what no description names at all can be named',
      [],
      [field('Flow', 'float', 32, 32)],
      [['Flow', 32, 32]],
    ],
    [
      'single octets become one number',
      [item('A', 0, 8), item('B', 8, 8)],
      [field('AB', 'unsigned', 0, 16)],
      [['AB', 0, 16]],
    ],
  ])('%s', (_, items, fields, expected) => expect(laid(items, fields)).toEqual(expected))

  test('a number stays readable as a whole beside its named bits', () =>
    expect(
      channelsOf([word], [field('Ready', 'bit', 0, 1), field('Code', 'unsigned', 4, 4)]),
    ).toEqual([
      ['Status', 0, 16, false],
      ['Ready', 0, 1, true],
      ['Code', 4, 4, true],
    ]))
  test('so does a number of one’s own', () =>
    expect(
      channelsOf([octets], [field('State', 'unsigned', 0, 8), field('On', 'bit', 7, 1)], 1),
    ).toEqual([
      ['State', 0, 8, false],
      ['On', 7, 1, true],
      ['Octets 1…7', 8, 56, false],
    ]))
  test('a row of bits keeps the names of those that are not named anew', () =>
    expect(channelsOf([row], [field('Door', 'bit', 2, 1)]).map(([name]) => name)).toEqual([
      'Inputs 0',
      'Inputs 1',
      'Inputs 3',
      'Inputs 4',
      'Inputs 5',
      'Inputs 6',
      'Inputs 7',
      'Door',
    ]))

  test.each<[string, DataItem[], DataField[], unknown]>([
    ['beyond the data', [], [field('A', 'unsigned', 56, 16)], [[0, 'outside']]],
    [
      'two fields on one bit',
      [],
      [field('A', 'unsigned', 0, 16), field('B', 'unsigned', 8, 16)],
      [[1, 'overlap']],
    ],
    [
      'the same bits twice',
      [],
      [field('A', 'bit', 1, 1), field('B', 'bit', 1, 1)],
      [[1, 'overlap']],
    ],
    [
      'two parts of a number on one bit',
      [word],
      [field('W', 'unsigned', 0, 16), field('A', 'unsigned', 0, 4), field('B', 'bit', 3, 1)],
      [[2, 'overlap']],
    ],
    [
      'a part of a part of a described number',
      [word],
      [field('Low', 'unsigned', 0, 8), field('A', 'bit', 0, 1)],
      [[1, 'overlap']],
    ],
    ['half of a number and more', [word], [field('A', 'unsigned', 8, 16)], [[0, 'splits']]],
    [
      'a piece of a float',
      [item('F', 0, 32, { holds: 'float' })],
      [field('A', 'bit', 0, 1)],
      [[0, 'splits']],
    ],
    [
      'octets of the fail-safe layer',
      [item('Trailer', 0, 32, { holds: 'trailer' })],
      [field('A', 'octets', 0, 32)],
      [[0, 'splits']],
    ],
    ['a float of 16 bits', [], [field('A', 'float', 0, 16)], [[0, 'width']]],
    ['a word across octets', [], [field('A', 'unsigned', 3, 16)], [[0, 'width']]],
    ['a clean one', [octets], [field('A', 'unsigned', 3, 12)], []],
  ])('%s: told', (_, items, fields, expected) =>
    expect(faultsOfFields(fields, items, 8).map(({ field: at, code }) => [at, code])).toEqual(
      expected,
    ),
  )
  test('a fault names the field and its place', () =>
    expect(
      wordFieldFault(
        { fields: [field('A', 'unsigned', 8, 16)], bytes: 8 },
        {
          field: 0,
          code: 'splits',
          other: 'Status',
        },
      ),
    ).toBe('field 1 "A" at 1.0 splits "Status", which the description names as one value'))

  test('no bit is in two channels, and none is lost that is not filler', () =>
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 31 }), { maxLength: 8 }), (places) => {
        const fields = places.map((octet) => field(`F${octet}`, 'unsigned', octet * 8, 8))
        const bits = withFields([item('O', 0, 256)], fields).flatMap((one) =>
          Array.from({ length: one.bits }, (_, i) => one.offsetBits + i),
        )
        expect(bits.sort((a, b) => a - b)).toEqual(Array.from({ length: 256 }, (_, i) => i))
      }),
    ))
})

test('a type is read as it is written', () => {
  const widths: [FieldType, number[]][] = [
    ['bit', [1]],
    ['unsigned', [2, 8, 12, 16, 32, 64]],
    ['signed', [8, 13, 16, 32, 64]],
    ['float', [32, 64]],
  ]
  for (const [type, all] of widths)
    for (const bits of all)
      expect(readFieldType(wordFieldType({ type, bits }))).toEqual({ type, bits })
  expect(readFieldType('port 3')).toEqual({ type: 'port', bits: null, port: 3 })
  expect(readFieldType('6 octets')).toEqual({ type: 'octets', bits: 48 })
  expect(readFieldType('reserved')).toEqual({ type: 'unused', bits: null })
  expect(readFieldType('WORDS')).toBeNull()
})

describe('a catalog with layouts of its own', () => {
  const module = (key: string) => ({
    key,
    submodules: [makeSubmodule({ key: 's', name: 'S', inputBytes: 8, inputs: [octets] })],
  })
  const file = {
    devices: [],
    submodules: [],
    modules: [module('a'), module('b')],
  } as unknown as DeviceFile
  const base = new Map([['f', file]])
  const layout: DataLayout = {
    name: 'L',
    file: 'f',
    of: 'module',
    key: 'a',
    subslot: 1,
    direction: 'in',
    bytes: 8,
    everywhere: true,
    fields: [field('Level', 'signed', 0, 16)],
  }
  test('has them over the type they are for, and keeps all others as they are', () => {
    const made = withOwnData(base, { l: layout })
    expect(made.get('f')!.modules[0]!.submodules[0]!.inputs[0]!.name).toBe('Level')
    expect(made.get('f')!.modules[1]).toBe(file.modules[1])
    expect(layoutsIn(made)).toEqual({ l: layout })
  })
  test('is the same object for the same layouts, and the old one without any', () => {
    const layouts = { l: layout }
    const made = withOwnData(base, layouts)
    expect(withOwnData(base, layouts)).toBe(made)
    expect(withOwnData(made, layouts)).toBe(made)
    expect(withOwnData(made, {})).toBe(base)
    expect(withOwnData(made, { l: layout }).get('f')).toBe(made.get('f'))
  })
  test.each([
    ['another size', { ...layout, bytes: 4 }],
    ['a fault', { ...layout, fields: [field('X', 'float', 0, 16)] }],
    ['one that is not for all of the type', { ...layout, everywhere: false }],
    ['another file', { ...layout, file: 'g' }],
  ])('%s changes nothing', (_, one) =>
    expect(withOwnData(base, { l: one }).get('f')!.modules[0]!.submodules[0]!.inputs).toEqual([
      octets,
    ]),
  )
})
