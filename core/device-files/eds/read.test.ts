import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { shownValue, typedValue, withLinks } from '../../parameters'
import { readDeviceFile } from '../read'
import { cipTypes } from '../../catalog/cip-types'
import { assemblyInstance, parsePath } from '../../protocols/ethernet-ip/paths'

const eds = ({
  params = '',
  assemblies = '',
  connections = '',
  more = '',
} = {}) => `$ Invented for tests
[File]
  DescText = "Wide " "coupler";   $ texts that stand together join
  Revision = 1.2;
[Device]
  VendCode = 1234; VendName = "Tarn, Vey; Sons";
  ProdType = 12; ProdTypeStr = "Communications Adapter";
  ProdCode = 77; MajRev = 2; MinRev = 5;
  ProdName = "TV coupler"; Catalog = "TV-EN1";
[Params]
  Param1 = 0, , , 0x0000, 0xC6, 1, "Filter", "ms", "Input filter", 0, 3, 1, , , , , , , , , 0;
  Enum1 = 0, "off", 1, "short", 2, "middle", 3, "long";
  Param2 = 0,,,0,0xC3,2,"Offset","","",-100,100,-5;
  Param3 = 0,,,0,0xC7,2,"Interval","us","",1000,65000,10000;
  Param4 = 0,,,0x10,0xD2,2,"Status","","",,,0;
  Param5 = 0,,,0,0xC1,1,"Hold","","",0,1,1;
  Param6 = 0,,,0,0xCA,4,"Gain","","",0,10,1.5;
  ${params}
[Assembly]
  Assem100 = "In", "20 04 24 64 30 03", , 0, , , 16, Param4, 8, ;
  Assem101 = "Out", "20 04 24 65 30 03", 4, 0,,, 32, ;
  Assem102 = "Config", "20 04 24 66 30 03", , 0,,, , Assem103, 1, Param5, 7, , 8, 0x7F, , Param2;
  Assem103 = "Part", "", , 0,,, 8, Param1, 32, Param6;
  ${assemblies}
[Connection Manager]
  Connection1 = 0x04010002, 0x44640405, Param3, , Assem101, 20000, 3, Assem100, , , , Assem102, "Exclusive owner", "Both ways", "20 04 24 66 2C 65 2C 64";
  Connection2 = 0x02030002, 0x44640305, , 0, , 5000, , Assem100, 2, , 3, , "Input only", "", "20 04 24 66 2C C7 25 00 00 01";
  ${connections}
[Capacity]
  MaxIOConnections = 5;
[1234_Params]
  Param1 = "not ours";
${more}`
const read = (text: string) => readDeviceFile(new TextEncoder().encode(text), 'tv.eds')
const lineOf = (text: string, part: string) => text.slice(0, text.indexOf(part)).split('\n').length

describe('an EDS file', () => {
  const { file, problems } = read(eds())
  const device = file!.devices[0]!
  const [config, others] = device.parameters

  test('is read without a problem', () => expect(problems).toEqual([]))

  test('gives identity and facts', () => {
    expect(file).toMatchObject({
      format: 'eds',
      formatVersion: '1.2',
      vendor: { id: 1234, name: 'Tarn, Vey; Sons' },
    })
    expect(device).toMatchObject({
      name: 'TV coupler',
      orderNumber: 'TV-EN1',
      info: 'Wide coupler',
      protocol: 'ethernet-ip',
      identity: {
        'ethernet-ip': {
          vendorCode: 1234,
          productType: 12,
          productCode: 77,
          majorRevision: 2,
          minorRevision: 5,
        },
      },
      ethernetIp: { maxConnections: 5 },
    })
  })

  test('gives connections with sizes, paths and intervals', () => {
    expect(device.connections).toMatchObject([
      {
        key: 'Connection1',
        name: 'Exclusive owner',
        outputBytes: 4,
        inputBytes: 3,
        configBytes: 9,
        path: '20 04 24 66 2c 65 2c 64',
        requestedIntervalUs: 10_000,
        requestedInputIntervalUs: 20_000,
        hasRunIdleHeader: true,
      },
      {
        key: 'Connection2',
        outputBytes: 0,
        inputBytes: 3,
        configBytes: 5,
        requestedIntervalUs: 5000,
        requestedInputIntervalUs: 5000,
        path: '20 04 24 66 2c c7 25 00 00 01',
        hasRunIdleHeader: false,
      },
    ])
    expect(device.connections[0]!.inputs).toEqual([
      {
        name: 'Status',
        type: '0xD2',
        holds: 'word',
        offsetBits: 0,
        bits: 16,
        asBits: true,
        channels: [],
      },
    ])
  })

  test('puts the default of a parameter where a path names it', () => {
    const connections =
      'Connection3 = 0, 0, 1000, 0,, 1000, 0,, ,,,, "x", "", "20 04 24 [Param1] 2C Param5";'
    const made = read(eds({ connections })).file!.devices[0]!.connections
    expect(made.at(-1)!.path).toBe('20 04 24 01 2c 01')
  })

  // Little-endian; members nested and packed bit by bit; literals and pads (CIP Vol. 1, ch. 7, from
  // memory). 1.5 = 0x3FC00000 (IEEE 754).
  test('gives the configuration with its defaults', () => {
    expect(config).toMatchObject({ index: 0x66, length: 9, bytes: '01 00 00 c0 3f 01 7f fb ff' })
    expect(
      config!.parameters.map(({ key, offsetBytes, offsetBits, bits }) => [
        key,
        offsetBytes,
        offsetBits,
        bits,
      ]),
    ).toEqual([
      ['Param1', 0, 0, 8],
      ['Param6', 1, 0, 32],
      ['Param5', 5, 0, 1],
      ['Param2', 7, 0, 16],
    ])
    expect(config!.parameters[0]).toMatchObject({
      name: 'Filter',
      type: '0xC6',
      default: 1,
      allowed: [[0, 3]],
      texts: { 0: 'off', 3: 'long' },
      unit: 'ms',
    })
  })

  test('gives parameters that stand in no configuration', () => {
    expect(others).toMatchObject({
      index: null,
      length: 4,
      parameters: [
        { key: 'Param3', offsetBytes: 0 },
        { key: 'Param4', offsetBytes: 2, allowed: [], changeable: false },
      ],
    })
  })

  test.each([
    ['CR LF', eds().replaceAll('\n', '\r\n')],
    ['everything in one line', eds().replace(/\$.*/g, '').replaceAll('\n', ' ')],
  ])('reads the same with %s', (_, text) => expect(read(text).file).toEqual(file))
})

// CIP Vol. 1, App. C.
test.each([
  [0xc1, 'BOOL', 1],
  [0xc2, 'SINT', 1],
  [0xc3, 'INT', 2],
  [0xc4, 'DINT', 4],
  [0xc5, 'LINT', 8],
  [0xc6, 'USINT', 1],
  [0xc7, 'UINT', 2],
  [0xc8, 'UDINT', 4],
  [0xc9, 'ULINT', 8],
  [0xca, 'REAL', 4],
  [0xcb, 'LREAL', 8],
  [0xd1, 'BYTE', 1],
  [0xd2, 'WORD', 2],
  [0xd3, 'DWORD', 4],
  [0xd4, 'LWORD', 8],
])('type 0x%x is %s of %d octets', (code, name, octets) => {
  expect(cipTypes[code]).toMatchObject({ name, octets })
})

// CIP Vol. 1, App. C: logical segments of 8 and 16 bits, an electronic key before them.
test.each([
  ['20 04 24 66 2C 65 2C 64', 0x66],
  ['20 04 25 00 2C 01 2D 00 01 01', 0x12c],
  ['34 04 D2 04 0C 00 4D 00 02 05 20 04 24 07', 7],
  ['2004 2407', 7],
  ['20 0F 24 01', null],
  ['', null],
])('path %s ends at instance %s', (text, instance) =>
  expect(assemblyInstance(parsePath(text, () => 1) as number[])).toBe(instance),
)

describe('one wrong value in an EDS file that otherwise makes sense', () => {
  test.each([
    [
      'a member that is not there',
      eds({ assemblies: 'Assem110 = "x", , , 0,,, 8,\nParam99;' }),
      'reference.member',
      'Param99',
    ],
    [
      'an assembly that is not there',
      eds({
        connections: 'Connection3 = 0, 0, 1000, 0,, 1000, 0,\nAssem999, ,,,, "x", "", "20 04";',
      }),
      'reference.assembly',
      'Assem999',
    ],
    [
      'members that do not fit',
      eds({ assemblies: 'Assem110 = "x", ,\n1, 0,,, 16, Param2;' }),
      'eds.size',
      '1, 0,,, 16',
    ],
    [
      'a type nobody knows',
      eds({ params: 'Param9 = 0,,,0,\n0xAB,1,"x","","",0,1,0;' }),
      'eds.type',
      '0xAB',
    ],
    [
      'a number that is none',
      eds({ params: 'Param9 = 0,,,0,0xC6,1,"x","","",\nzero,1,0;' }),
      'eds.number',
      'zero',
    ],
    [
      'a range that runs backwards',
      eds({ params: 'Param9 = 0,,,0,0xC6,1,"x","","",\n9,1,5;' }),
      'eds.range',
      '9,1,5',
    ],
    [
      'a path that is none',
      eds({ connections: 'Connection3 = 0, 0, 1000, 0,, 1000, 0,, ,,,, "x", "",\n"20 0Z";' }),
      'eds.path',
      '"20 0Z"',
    ],
    [
      'an entry without its semicolon',
      eds({ params: 'Param9 = 0,,,0,0xC6,1,"x","","",0,1,0' }),
      'eds.semicolon',
      'Param9',
    ],
    [
      'a parameter that stands twice',
      eds({ params: 'Param2 = 0,,,0,0xC6,1,"again","","",0,1,0;' }),
      'id.duplicate',
      'Param2 = 0,,,0,0xC6',
    ],
    [
      'texts for no parameter',
      eds({ params: 'Enum77 = 0, "x";' }),
      'reference.parameter',
      'Enum77',
    ],
  ])('%s is an error with its line', (_, text, code, marker) => {
    const { file, problems } = read(text)
    expect(file).not.toBeNull()
    expect(problems.filter(({ severity }) => severity === 'error')).toMatchObject([
      { code, line: lineOf(text, marker) },
    ])
  })

  test('assemblies that name each other end', () => {
    expect(
      read(
        eds({ assemblies: 'Assem200 = "a",,,0,,,8,Assem201;\nAssem201 = "b",,,0,,,8,Assem200;' }),
      ).file,
    ).not.toBeNull()
  })
})

describe('an EDS file that cannot be read', () => {
  test.each([
    ['cut off inside an entry', eds().slice(0, eds().indexOf('"Gain"'))],
    ['cut off inside a text', eds().slice(0, eds().indexOf('clusive owner'))],
    ['no device', '[File]\nRevision = 1.0;'],
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
    const text = eds()
    fc.assert(
      fc.property(
        fc.nat(text.length - 1),
        fc.constantFrom('', '"', '=', ';', '\n[', ',', '$', 'Assem102', '-1', '1e99'),
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

// CIP Vol. 1, ch. 7 (from memory): groups name parameters by number; engineering value = (value +
// offset) × multiplier × base / divider.
describe('groups and scaling', () => {
  const parametersOf = (text: string) => {
    const { file, problems } = read(text)
    const all = file!.devices[0]!.parameters.flatMap(({ parameters }) => parameters)
    return {
      of: (key: string) => all.find((one) => one.key === key)!,
      codes: problems.map(({ code }) => code),
    }
  }
  test('a group is a menu', () => {
    const { of, codes } = parametersOf(eds({ more: '[Groups]\n  Group1 = "Timing", 2, 3, 1;\n' }))
    expect(codes).toEqual([])
    expect([of('Param3').menus, of('Param1').menus, of('Param2').menus]).toEqual([
      [{ path: ['Timing'], rank: 0 }],
      [{ path: ['Timing'], rank: 1 }],
      undefined,
    ])
  })
  test.each([
    [
      'a number that no parameter has',
      '[Groups]\n  Group1 = "Timing", 1, 99;\n',
      'reference.parameter',
    ],
    ['another count than it says', '[Groups]\n  Group1 = "Timing", 3, 1, 2;\n', 'eds.group'],
  ])('%s is told', (_, more, code) => expect(parametersOf(eds({ more })).codes).toEqual([code]))
  test('what travels as process data, and how often, is no setting', () => {
    const { of } = parametersOf(eds())
    expect(
      ['Param1', 'Param3', 'Param4'].map((key) => [of(key).visible, of(key).changeable]),
    ).toEqual([
      [true, true],
      [false, false],
      [false, false],
    ])
  })
  test('a scaling by the values of other parameters follows them', () => {
    const { of } = parametersOf(
      eds({
        params:
          'Param9 = 0,,,0,0xC7,2,"Scaled","","",0,1000,10,1,1,1,0,8,,,,2; Param8 = 0,,,0,0xC6,1,"Factor","","",1,100,5;',
      }),
    )
    const linked = withLinks(of('Param9'), (key) => (key === 'Param8' ? 20 : undefined))
    expect([shownValue(of('Param9'), 10), shownValue(linked, 10)]).toEqual(['10.00', '200.00'])
    expect(typedValue(linked, '200')).toBe(10)
  })
  test.each([
    [', , , , , , , , , 0', undefined],
    [', 5, 100, 1, 0, , , , , 2', { factor: 0.05, offset: 0, decimals: 2 }],
    [', 1, 1, 2, 10, , , , , 0', { factor: 2, offset: 20, decimals: 0 }],
  ])('%s', (fields, display) =>
    expect(
      parametersOf(eds({ params: `Param9 = 0,,,0,0xC7,2,"Scaled","","",0,1000,10${fields};` })).of(
        'Param9',
      ).display,
    ).toEqual(display),
  )
})
