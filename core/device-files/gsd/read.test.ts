import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readDeviceFile } from '../read'
import { decodeConfiguration, dataItemsOf } from './configuration'

const octets = (hex: string) => hex.split(/[ ,]+/).map((octet) => parseInt(octet, 16))

// EN 50170-2 / IEC 61158-6-3, general identifier format.
describe('configuration bytes', () => {
  test.each([
    ['10', [1, 0]],
    ['20', [0, 1]],
    ['30', [1, 1]],
    ['50', [2, 0]],
    ['53', [8, 0]],
    ['60', [0, 2]],
    ['70', [2, 2]],
    ['1d', [14, 0]],
    ['d0', [2, 0]],
    ['f1', [4, 4]],
    ['40 8f', [16, 0]],
    ['c0 01 03', [4, 2]],
    ['00', [0, 0]],
    ['41 00 aa', [1, 0]],
    ['4f 03', [4, 0]],
    ['80 41', [0, 4]],
    ['10 20 50', [3, 1]],
    ['c2 00 40 01 02', [2, 1]],
  ])('%s', (hex, expected) => {
    const identifiers = decodeConfiguration(octets(hex))
    expect(identifiers).toBeInstanceOf(Array)
    expect(
      (['inputs', 'outputs'] as const).map(
        (direction) => dataItemsOf(identifiers as never, direction).bytes,
      ),
    ).toEqual(expected)
  })

  test.each(['40', 'c0 01', '42 01 aa'])('%s is cut off', (hex) =>
    expect(decodeConfiguration(octets(hex))).toMatch(/announces/),
  )

  test('any octets are decoded or refused, and items fill their bytes without a gap', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 12 }), (bytes) => {
        const identifiers = decodeConfiguration([...bytes])
        if (typeof identifiers === 'string') return
        for (const direction of ['inputs', 'outputs'] as const) {
          const { bytes: length, items } = dataItemsOf(identifiers, direction)
          let next = 0
          for (const { offsetBits, bits } of items) {
            expect(offsetBits).toBe(next)
            next += bits
          }
          expect(next).toBe(length * 8)
        }
      }),
    )
  })
})

const gsd = (more = '', modules = defaultModules) => `; Invented for tests
#Profibus_DP
GSD_Revision = 3
Vendor_Name = "Tarn & Vey"   ; a "comment"
Model_Name = "TV rack; wide"
Ident_Number = 0x0F12
Software_Release="V1.2"
9.6_supp = 1
MaxTsdr_9.6 = 60
1.5M_supp = 1
MaxTsdr_1.5M = 150
12M_supp = 0
Min_Slave_Intervall = 5
Modular_Station = 1
Max_Module = 4
Max_Input_Len = 32
Max_Output_Len = 16
Max_Data_Len = 40
Max_User_Prm_Data_Len = 20
Unit_Diag_Bit(3) = "No power"
Unit_Diag_Bit_Help(3) = "Look at the fuse"
PrmText = 1
Text(0) = "off"
Text(1) = "on"
EndPrmText
ExtUserPrmData = 1 "Wire break"
Bit(4) 1 0-1
Prm_Text_Ref = 1
EndExtUserPrmData
ExtUserPrmData = 2 "Filter"
Unsigned16 100 1,5,100
EndExtUserPrmData
ExtUserPrmData = 3 "Offset"
Signed8 -3 -20-20
EndExtUserPrmData
${more}
${modules}`
const defaultModules = `Module = "8 DI" 0x10
1
Info_Text = "Eight inputs"
EndModule
MODULE = "2 AI" 0x51, \\
 0x20
7
Ext_Module_Prm_Data_Len = 6
Ext_User_Prm_Data_Const(0) = 0xA0,0x00,\\
0x00,0x00,0x00,0x01
Ext_User_Prm_Data_Ref(0) = 1
Ext_User_Prm_Data_Ref(1) = 2
Ext_User_Prm_Data_Ref(3) = 3
Ext_User_Prm_Data_Ref(4) = 3
EndModule
`
const read = (text: string) => readDeviceFile(new TextEncoder().encode(text), 'TV01.gsd')
const lineOf = (text: string, part: string) => text.slice(0, text.indexOf(part)).split('\n').length

describe('a GSD file', () => {
  const { file, problems } = read(gsd())
  test('is read without a problem', () => expect(problems).toEqual([]))

  test('gives identity, limits and bus facts', () => {
    expect(file).toMatchObject({
      format: 'gsd',
      formatVersion: '3',
      vendor: { id: null, name: 'Tarn & Vey' },
      diagnoses: [{ kind: 'unit', code: 3, name: 'No power', help: 'Look at the fuse' }],
    })
    expect(file!.devices).toMatchObject([
      {
        name: 'TV rack; wide',
        firmware: 'V1.2',
        protocol: 'profibus',
        identity: { profibus: { identNumber: 0x0f12 } },
        limits: { inputBytes: 32, outputBytes: 16, dataBytes: 40, modules: 4, parameterBytes: 20 },
        profibus: {
          transmissionRates: [9.6, 1500],
          maxStationDelay: { 9.6: 60, 1500: 150 },
          minSlaveIntervalUs: 500,
          isModular: true,
        },
      },
    ])
    expect(file!.devices[0]!.slots).toEqual(
      [1, 2, 3, 4].map((slot) => ({ slot, fixed: null, default: null, allowed: ['1', '7'] })),
    )
  })

  test('gives modules with their data', () => {
    expect(file!.modules).toMatchObject([
      {
        key: '1',
        name: '8 DI',
        ident: 1,
        info: 'Eight inputs',
        inputBytes: 1,
        outputBytes: 0,
        configuration: '10',
      },
      {
        key: '7',
        name: '2 AI',
        ident: 7,
        inputBytes: 4,
        outputBytes: 1,
        configuration: '51 20',
        submodules: [
          {
            inputs: [
              { offsetBits: 0, bits: 16 },
              { offsetBits: 16, bits: 16 },
            ],
          },
        ],
      },
    ])
  })

  test('gives parameter bytes: constants, references over them, big-endian', () => {
    const record = file!.modules[1]!.parameters[0]!
    expect(record).toMatchObject({ index: null, length: 6, bytes: 'b0 00 64 fd fd 01' })
    expect(record.parameters).toMatchObject([
      {
        key: '1',
        name: 'Wire break',
        type: 'Bit(4)',
        offsetBytes: 0,
        offsetBits: 4,
        bits: 1,
        default: 1,
        allowed: [[0, 1]],
        texts: { 0: 'off', 1: 'on' },
      },
      {
        key: '2',
        type: 'Unsigned16',
        offsetBytes: 1,
        bits: 16,
        default: 100,
        allowed: [
          [1, 1],
          [5, 5],
          [100, 100],
        ],
      },
      { key: '3@3', type: 'Signed8', default: -3, allowed: [[-20, 20]] },
      { key: '3@4' },
    ])
  })

  test.each([
    ['CR LF', gsd().replaceAll('\n', '\r\n')],
    ['CR alone', gsd().replaceAll('\n', '\r')],
    [
      'capital letters',
      gsd().replace(/^(Gsd_Revision|vendor_name|model_name|ident_number)/gim, (word) =>
        word.toUpperCase(),
      ),
    ],
  ])('reads the same with %s', (_, text) => expect(read(text).file).toEqual(file))

  test('is taken as Windows-1252 where it is no UTF-8', () => {
    const latin = Uint8Array.from(gsd().replace('Tarn', 'Tärn'), (character) =>
      character.charCodeAt(0),
    )
    expect(readDeviceFile(latin, 'a.gsd').file!.vendor.name).toBe('Tärn & Vey')
  })

  // Slot definitions: name, default, then a list or a range (from memory).
  test.each([
    ['Slot(1) = "first" 1 1-7', { slot: 1, default: '1', allowed: ['1', '7'] }],
    ['Slot(2) = "other" 7 1', { slot: 2, default: '7', allowed: ['7', '1'] }],
    ['Slot(3) = "list" 1 1,7', { slot: 3, default: '1', allowed: ['1', '7'] }],
  ])('%s', (line, expected) =>
    expect(
      read(gsd(`SlotDefinition\n${line}\nEndSlotDefinition`)).file!.devices[0]!.slots,
    ).toMatchObject([expected]),
  )

  test('a compact device has one slot with its only configuration', () => {
    expect(
      read(
        gsd('', 'Module = "fixed" 0x11\n1\nEndModule').replace(
          'Modular_Station = 1',
          'Modular_Station = 0',
        ),
      ).file!.devices[0]!.slots,
    ).toEqual([{ slot: 1, fixed: '1', default: '1', allowed: ['1'] }])
  })

  test('parameters of the device itself', () => {
    const own = 'Ext_User_Prm_Data_Const(0) = 0x00,0x00,0x0A,0x09\nExt_User_Prm_Data_Ref(2) = 1'
    expect(read(gsd(own)).file!.devices[0]!.parameters).toMatchObject([
      { index: null, length: 4, bytes: '00 00 1a 09' },
    ])
    expect(
      read(gsd('User_Prm_Data_Len = 3\nUser_Prm_Data = 0x01,0x02,0x03')).file!.devices[0]!
        .parameters,
    ).toMatchObject([{ length: 3, bytes: '01 02 03', parameters: [] }])
  })
})

describe('one wrong value in a GSD file that otherwise makes sense', () => {
  test.each([
    ['a number that is none', gsd('Max_Diag_Data_Len = many'), 'gsd.number', 'Max_Diag_Data_Len'],
    [
      'configuration that is cut off',
      gsd('', 'Module = "x" 0x40\n1\nEndModule'),
      'gsd.configuration',
      'Module = "x"',
    ],
    [
      'configuration that is no list of octets',
      gsd('', 'Module = "x" 0x1G\n1\nEndModule'),
      'gsd.octets',
      'Module = "x"',
    ],
    [
      'a reference to nothing',
      gsd('', 'Module = "x" 0x10\n1\nExt_User_Prm_Data_Ref(0) = 99\nEndModule'),
      'reference.parameter',
      '(0) = 99',
    ],
    [
      'a type nobody knows',
      gsd('ExtUserPrmData = 9 "x"\nUnsigned12 0 0-1\nEndExtUserPrmData'),
      'gsd.type',
      'Unsigned12',
    ],
    [
      'a range that runs backwards',
      gsd('ExtUserPrmData = 9 "x"\nUnsigned8 0 9-1\nEndExtUserPrmData'),
      'gsd.range',
      'Unsigned8 0 9-1',
    ],
    [
      'text values that are missing',
      gsd(
        'ExtUserPrmData = 9 "x"\nUnsigned8 0 0-1\nPrm_Text_Ref = 5\nEndExtUserPrmData',
        'Module = "x" 0x10\n1\nExt_User_Prm_Data_Ref(0) = 9\nEndModule',
      ),
      'reference.text',
      'ExtUserPrmData = 9',
    ],
    [
      'a parameter behind the end',
      gsd(
        '',
        'Module = "x" 0x10\n1\nExt_Module_Prm_Data_Len = 1\nExt_User_Prm_Data_Ref(0) = 2\nEndModule',
      ),
      'record.length',
      'Ref(0) = 2',
    ],
    [
      'a module number that stands twice',
      gsd('', 'Module = "x" 0x10\n1\nEndModule\nModule = "y" 0x10\n1\nEndModule'),
      'id.duplicate',
      'Module = "y"',
    ],
    [
      'a slot for a module that is not there',
      gsd('SlotDefinition\nSlot(1) = "a" 5 1\nEndSlotDefinition'),
      'reference.module',
      'Slot(1)',
    ],
    ['a text without an end', gsd('Info_Text = "open'), 'gsd.quote', 'Info_Text = "open'],
  ])('%s is an error with its line', (_, text, code, marker) => {
    const { file, problems } = read(text)
    expect(file).not.toBeNull()
    expect(problems.filter(({ severity }) => severity === 'error')).toMatchObject([
      { code, line: lineOf(text, marker) },
    ])
  })
})

describe('a GSD file that cannot be read', () => {
  test.each([
    ['cut off inside a module', gsd().slice(0, -15)],
    ['cut off inside a text list', gsd().slice(0, gsd().indexOf('EndPrmText'))],
    ['a module without its end', gsd().replace('EndModule', '')],
    ['no head line', 'Vendor_Name = "x"'],
    ['only comments', '; nothing here'],
  ])('%s is refused with a line', (_, text) => {
    const { file, problems } = read(text)
    expect(file).toBeNull()
    expect(problems.at(-1)).toMatchObject({
      severity: 'error',
      line: expect.any(Number),
      message: expect.stringMatching(/\.$/),
    })
  })

  test('whatever is changed in it, reading neither crashes nor hangs', () => {
    const text = gsd()
    fc.assert(
      fc.property(
        fc.nat(text.length - 1),
        fc.constantFrom('', '"', '=', '\\', '\n', '(', 'x', '-', '99999999999'),
        fc.nat(30),
        (at, put, cut) => {
          const { file, problems } = read(text.slice(0, at) + put + text.slice(at + cut))
          if (!file) expect(problems.some(({ severity }) => severity === 'error')).toBe(true)
        },
      ),
      { numRuns: 500 },
    )
  })
})
