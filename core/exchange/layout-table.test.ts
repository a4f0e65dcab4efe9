import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { DataField, FieldType } from '../vocabulary/data-layout'
import { readLayoutTable, writeLayoutTable } from './layout-table'

/** Tables as data sheets print them (common practice), pasted from a spreadsheet or a text. */
describe('a table of fields', () => {
  test.each<[string, string, Partial<DataField>[]]>([
    [
      'offset, bits, name and type without headings',
      '0\t16\tLevel\tINT\n2\t1\tAlarm\tBOOL\n2.1\t1\tFault\tBOOL',
      [
        { offsetBits: 0, bits: 16, name: 'Level', type: 'signed' },
        { offsetBits: 16, bits: 1, name: 'Alarm', type: 'bit' },
        { offsetBits: 17, bits: 1, name: 'Fault', type: 'bit' },
      ],
    ],
    [
      'headings in another order, bits from the type',
      'Name;Data type;Byte;Bit\nRun;BOOL;4;7\nFlow;REAL;8;',
      [
        { offsetBits: 39, bits: 1, name: 'Run', type: 'bit' },
        { offsetBits: 64, bits: 32, name: 'Flow', type: 'float' },
      ],
    ],
    [
      'hexadecimal offsets, and names with commas in quotation marks',
      'Offset,Bits,Name,Type\n0x10,8,"Mode, see manual",USINT',
      [{ offsetBits: 128, bits: 8, name: 'Mode, see manual', type: 'unsigned' }],
    ],
    [
      'filler, octets and ports',
      'Offset\tBits\tName\tType\n0\t8\t\treserved\n1\t\tSerial\t6 octets\n8\t256\tPort 1\tport 1',
      [
        { offsetBits: 0, bits: 8, type: 'unused' },
        { offsetBits: 8, bits: 48, type: 'octets' },
        { offsetBits: 64, bits: 256, type: 'port', port: 1 },
      ],
    ],
    [
      'an order of octets',
      'Offset\tType\tOrder\n0\tUINT\tbig endian',
      [{ offsetBits: 0, bits: 16, order: 'big' }],
    ],
    ['a bit where nothing says its type', '3.2', [{ offsetBits: 26, bits: 1, type: 'bit' }]],
  ])('%s', (_, text, fields) => {
    const read = readLayoutTable(text)
    expect(read.faults).toEqual([])
    expect(read.fields).toMatchObject(fields)
  })

  test.each([
    ['x\t8\tA', 'Line 1: "x" is no offset; 3, 3.5 and 0x1F are some.'],
    ['0\t8\tA\n1\t8\tB\tFUZZY', 'Line 2: "FUZZY" is no type; UINT16 and BOOL are some.'],
    ['0\t8\tA\tINT', 'Line 1: INT has 16 bits, the table says 8.'],
    ['0\t\tA\toctets', 'Line 1: the type "octets" needs its number of bits.'],
    ['0\t-4\tA', 'Line 1: "-4" is no number of bits.'],
    [
      'Offset\tType\tOrder\n0\tINT\tmiddle',
      'Line 2: "middle" is no order of octets; big and little are.',
    ],
    ['9999\t8\tA', 'Line 1: "9999" is no offset; 3, 3.5 and 0x1F are some.'],
  ])('%j is told with its line, and the other rows are read', (text, sentence) =>
    expect(readLayoutTable(text).faults.map((one) => one.sentence)).toEqual([sentence]),
  )

  test('what is written is read again', () => {
    const widths: Record<Exclude<FieldType, 'unused' | 'port'>, number[]> = {
      bit: [1],
      unsigned: [2, 8, 12, 16, 32],
      signed: [8, 16, 24, 32],
      float: [32, 64],
      octets: [8, 48],
    }
    const fields = fc
      .constantFrom(...(Object.keys(widths) as (keyof typeof widths)[]))
      .chain((type) =>
        fc.record({
          name: fc.string({ maxLength: 20 }).map((name) => name.replace(/^[\s']+/, '').trim()),
          type: fc.constant(type),
          offsetBits: fc.integer({ min: 0, max: 4000 }),
          bits: fc.constantFrom(...widths[type]),
        }),
      )
    fc.assert(
      fc.property(fc.array(fields, { minLength: 1, maxLength: 20 }), (all) => {
        expect(readLayoutTable(writeLayoutTable(all))).toEqual({ fields: all, faults: [] })
      }),
    )
  })
})
