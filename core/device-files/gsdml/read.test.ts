import { describe, expect, test } from 'vitest'
import { gsdml, moduleItem, submoduleItem } from '../../test/gsdml'
import { demoBytes, demoFiles, readText } from '../../test/plans'
import { readDeviceFile } from '../read'

const lineOf = (text: string, part: string) => text.slice(0, text.indexOf(part)).split('\n').length
const submodule = (ioData: string, more = '') =>
  readText(
    gsdml({
      modules:
        moduleItem('DI', '0x10', submoduleItem('S', ioData, more)) + moduleItem('AO', '0x20', ''),
    }),
  ).file!.modules[0]!.submodules[0]!

describe('a GSDML file', () => {
  const { file, problems } = readText(gsdml())
  const device = file!.devices[0]!

  test('is read without a problem', () => expect(problems).toEqual([]))

  test('gives identity, texts and limits', () => {
    expect(file).toMatchObject({
      format: 'gsdml',
      formatVersion: '2.35',
      vendor: { id: 0x0f01, name: 'Tarn & Vey' },
      family: { product: 'TV' },
    })
    expect(device).toMatchObject({
      key: 'DAP',
      name: 'Name of DAP',
      orderNumber: 'TV-1',
      firmware: 'V1.0',
      protocol: 'profinet',
      identity: { profinet: { vendorId: 0x0f01, deviceId: 2, moduleIdent: 1 } },
      // MaxDataLength left out: the sum of both directions (from memory).
      limits: { inputBytes: 4, outputBytes: 8, dataBytes: 12, modules: 4 },
      profinet: { dnsCompatibleName: 'tv', minDeviceIntervalUs: 1000 },
    })
  })

  test('lists interface and ports with their subslots', () => {
    expect(device.submodules.map(({ key, subslot }) => [key, subslot])).toEqual([
      ['IF', 32768],
      ['P1', 32769],
      ['P2', 32770],
    ])
  })

  // GSDML specification, ModuleItemRef (from memory): allowed, used, fixed; fixed alone means only
  // there.
  test.each([
    [
      'AllowedInSlots="1..3"',
      {
        1: ['DI', null, null],
        2: ['DI', null, null],
        3: ['DI', null, null],
        4: [null, null, null],
      },
    ],
    [
      'AllowedInSlots="1 3" UsedInSlots="3"',
      {
        1: ['DI', null, null],
        2: [null, null, null],
        3: ['DI', null, 'DI'],
        4: [null, null, null],
      },
    ],
    [
      'FixedInSlots="2"',
      {
        1: [null, null, null],
        2: ['DI', 'DI', null],
        3: [null, null, null],
        4: [null, null, null],
      },
    ],
    [
      '',
      {
        1: ['DI', null, null],
        2: ['DI', null, null],
        3: ['DI', null, null],
        4: ['DI', null, null],
      },
    ],
  ])('slots of a module with %s', (attributes, expected) => {
    const { slots } = readText(
      gsdml({ useable: `<ModuleItemRef ModuleItemTarget="DI" ${attributes}/>` }),
    ).file!.devices[0]!
    expect(
      Object.fromEntries(
        slots.map(({ slot, allowed, fixed, default: standard }) => [
          slot,
          [allowed[0] ?? null, fixed, standard],
        ]),
      ),
    ).toEqual(expected)
  })

  // Octets of the data types: GSDML specification (from memory); offsets run on.
  test.each([
    [
      '<DataItem DataType="Unsigned8"/><DataItem DataType="Integer16"/><DataItem DataType="Float32"/>',
      [
        [0, 8],
        [8, 16],
        [24, 32],
      ],
    ],
    [
      '<DataItem DataType="Float32+Unsigned8"/><DataItem DataType="Float32+Unsigned8"/>',
      [
        [0, 40],
        [40, 40],
      ],
    ],
    [
      '<DataItem DataType="OctetString" Length="16"/><DataItem DataType="F_MessageTrailer4Byte"/>',
      [
        [0, 128],
        [128, 32],
      ],
    ],
    [
      '<DataItem DataType="TimeOfDay" Length="4"/><DataItem DataType="Date"/><DataItem DataType="Boolean"/>',
      [
        [0, 32],
        [32, 56],
        [88, 8],
      ],
    ],
    [
      '<DataItem DataType="Unsigned64"/><DataItem DataType="Unsigned8+Unsigned8"/>',
      [
        [0, 64],
        [64, 16],
      ],
    ],
  ])('data items %s', (items, expected) => {
    expect(
      submodule(`<Input>${items}</Input>`).inputs.map(({ offsetBits, bits: width }) => [
        offsetBits,
        width,
      ]),
    ).toEqual(expected)
  })

  // PROFINET is big-endian, so bit 0 of a 16-bit value stands in its last octet; octet strings
  // count from the front (from memory).
  test.each([
    ['DataType="Unsigned8"', 0, 0],
    ['DataType="Unsigned8"', 7, 7],
    ['DataType="Unsigned16"', 0, 8],
    ['DataType="Unsigned16"', 15, 7],
    ['DataType="Unsigned32"', 0, 24],
    ['DataType="OctetString" Length="2"', 9, 9],
  ])('bit %s %d stands at offset %d', (type, bit, offsetBits) => {
    const item = submodule(
      `<Input><DataItem ${type} UseAsBits="true"><BitDataItem BitOffset="${bit}" TextId="T_S"/></DataItem></Input>`,
    ).inputs[0]!
    expect(item.channels).toEqual([{ name: 'Name of S', offsetBits }])
  })

  // A reference's default lies over the constant beneath it; bytes with neither are 0 (GSDML
  // specification, from memory).
  test('gives the default record and its parameters', () => {
    const record = submodule(
      '',
      `<RecordDataList><ParameterRecordDataItem Index="7" Length="5"><Const Data="0xAA,0xBB,0x00" ByteOffset="0"/>
      <Ref ByteOffset="1" BitOffset="4" BitLength="3" DataType="BitArea" DefaultValue="5" AllowedValues="0..3 5" TextId="T_S"/>
      <Ref ByteOffset="3" DataType="Unsigned16" DefaultValue="258" TextId="T_S"/></ParameterRecordDataItem></RecordDataList>`,
    ).parameters[0]!
    expect(record).toMatchObject({ index: 7, length: 5, bytes: 'aa db 00 01 02' })
    expect(record.parameters[0]).toMatchObject({
      type: 'BitArea',
      offsetBytes: 1,
      offsetBits: 4,
      bits: 3,
      default: 5,
      allowed: [
        [0, 3],
        [5, 5],
      ],
    })
  })

  test('takes the primary language, then any other, then the text’s own id', () => {
    const text = gsdml({
      texts: '<Text TextId="T_DAP" Value="Head"/><Text TextId="T_S" Value="S"/>',
      languages: '<Language xml:lang="de"><Text TextId="T_DI" Value="Eingänge"/></Language>',
    })
    const read = readText(text)
    expect([read.file!.devices[0]!.name, ...read.file!.modules.map(({ name }) => name)]).toEqual([
      'Head',
      'Eingänge',
      'T_AO',
    ])
    expect(read.problems.map(({ code, severity }) => [code, severity])).toEqual([
      ['text.language', 'warning'],
      ['reference.text', 'error'],
    ])
  })

  test('several access points stand side by side', () => {
    const quillane = readDeviceFile(demoBytes(demoFiles[0]), demoFiles[0]).file!
    expect(quillane.devices.map(({ firmware, slots }) => [firmware, slots.length])).toEqual([
      ['V2.1', 32],
      ['V2.3', 48],
    ])
  })

  test('a name that says another schema than the content is a warning', () => {
    expect(readText(gsdml(), 'GSDML-V2.4-X-Y-20260101.xml').problems).toMatchObject([
      { severity: 'warning', code: 'gsdml.filename' },
    ])
  })
})

describe('one wrong value in a file that otherwise makes sense', () => {
  test.each([
    [
      'a target that is not there',
      { useable: '\n<ModuleItemRef ModuleItemTarget="NONE" AllowedInSlots="1"/>' },
      'reference.module',
      'NONE',
    ],
    [
      'a slot list that is none',
      { useable: '\n<ModuleItemRef ModuleItemTarget="DI" AllowedInSlots="3..1"/>' },
      'attribute.list',
      '3..1',
    ],
    [
      'an ident that is no number',
      { modules: `${moduleItem('DI', '0x10', '')}\n${moduleItem('AO', 'zwanzig', '')}` },
      'attribute.number',
      'zwanzig',
    ],
    [
      'an id that stands twice',
      {
        modules: `${moduleItem('DI', '0x10', '')}\n${moduleItem('DI', '0x11', '')}${moduleItem('AO', '0x12', '')}`,
      },
      'id.duplicate',
      'ModuleIdentNumber="0x11"',
    ],
    [
      'a data type nobody knows',
      {
        modules:
          moduleItem('AO', '1', '') +
          moduleItem(
            'DI',
            '0x10',
            submoduleItem('S', '<Input>\n<DataItem DataType="Unsigned12"/></Input>'),
          ),
      },
      'data.type',
      'Unsigned12',
    ],
    [
      'a data type that only JavaScript knows',
      {
        modules:
          moduleItem('AO', '1', '') +
          moduleItem(
            'DI',
            '0x10',
            submoduleItem(
              'S',
              '<Input>\n<DataItem DataType="toString"/></Input>',
              '<RecordDataList><toString/></RecordDataList>',
            ),
          ),
      },
      'data.type',
      '"toString"',
    ],
    [
      'a bit outside its item',
      {
        modules:
          moduleItem('AO', '1', '') +
          moduleItem(
            'DI',
            '0x10',
            submoduleItem(
              'S',
              '<Input><DataItem DataType="Unsigned8">\n<BitDataItem BitOffset="8" TextId="T_S"/></DataItem></Input>',
            ),
          ),
      },
      'data.bit',
      'BitOffset="8"',
    ],
    [
      'a record that is too short',
      {
        modules:
          moduleItem('AO', '1', '') +
          moduleItem(
            'DI',
            '0x10',
            submoduleItem(
              'S',
              '',
              '<RecordDataList><ParameterRecordDataItem Index="1" Length="1">\n<Ref ByteOffset="1" DataType="Unsigned8" DefaultValue="0" TextId="T_S"/></ParameterRecordDataItem></RecordDataList>',
            ),
          ),
      },
      'record.length',
      '<Ref ByteOffset',
    ],
  ])('%s is an error with its line', (_, parts, code, marker) => {
    const text = gsdml(parts)
    const { file, problems } = readText(text)
    expect(file).not.toBeNull()
    expect(problems.filter(({ severity }) => severity === 'error')).toMatchObject([
      { code, line: lineOf(text, marker) },
    ])
  })
})

describe('a file that cannot be read', () => {
  const good = gsdml()
  test.each([
    ['cut off', good.slice(0, good.indexOf('AO_1')), 'xml.truncated'],
    ['cut off between elements', good.slice(0, good.indexOf('</ModuleList>')), 'xml.truncated'],
    [
      'entities that multiply',
      good.replace('?>', '?>\n<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>'),
      'xml.doctype',
    ],
    [
      'an entity from outside',
      good.replace('?>', '?>\n<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]>'),
      'xml.doctype',
    ],
    [
      'an outside document type',
      good.replace('?>', '?>\n<!DOCTYPE x SYSTEM "http://127.0.0.1/x.dtd">'),
      'xml.doctype',
    ],
    ['an entity nobody declared', good.replace('Tarn &amp;', 'Tarn &boom;'), 'xml.malformed'],
    ['another root', '<?xml version="1.0"?>\n<IODevice/>', 'gsdml.root'],
    [
      'no identity',
      good.replace(/<DeviceIdentity[\s\S]*?<\/DeviceIdentity>/, ''),
      'gsdml.identity',
    ],
  ])('%s is refused with its line', (_, text, code) => {
    const { file, problems } = readText(text)
    expect(file).toBeNull()
    const problem = problems.find((candidate) => candidate.code === code)
    expect(problem, JSON.stringify(problems)).toMatchObject({
      severity: 'error',
      line: expect.any(Number),
    })
    expect(problem!.line).toBeGreaterThan(0)
    expect(problem!.message).toMatch(/\.$/)
  })

  test.each([
    ['nothing', new Uint8Array(), 'file.empty'],
    ['rubbish', Uint8Array.from({ length: 4000 }, (_, i) => (i * 7919) % 256), 'encoding.bytes'],
    ['something else', new TextEncoder().encode('hello'), 'format.unknown'],
    ['100 MB', { length: 100_000_000 } as Uint8Array, 'file.size'],
  ])('%s is refused', (_, bytes, code) => {
    expect(readDeviceFile(bytes, 'some.xml')).toMatchObject({
      format: null,
      file: null,
      problems: [{ code, line: expect.any(Number) }],
    })
  })
})

// XML 1.0, 4.3.3 and appendix F.
describe('encodings', () => {
  const text = gsdml().replace('Tarn &amp; Vey', 'Tärn')
  const latin = (value: string) => Uint8Array.from(value, (character) => character.charCodeAt(0))
  const utf16 = (value: string, swap: boolean) =>
    new Uint8Array([
      swap ? 0xfe : 0xff,
      swap ? 0xff : 0xfe,
      ...Array.from(value, (c) =>
        swap
          ? [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255]
          : [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8],
      ).flat(),
    ])
  test.each([
    ['UTF-8', new TextEncoder().encode(text)],
    ['UTF-8 with mark', new TextEncoder().encode(`\ufeff${text}`)],
    ['ISO-8859-1', latin(text.replace('utf-8', 'ISO-8859-1'))],
    ['Windows-1252', latin(text.replace('utf-8', 'windows-1252'))],
    ['UTF-16 little-endian', utf16(text.replace('utf-8', 'utf-16'), false)],
    ['UTF-16 big-endian', utf16(text.replace('utf-8', 'utf-16'), true)],
  ])('%s', (_, bytes) =>
    expect(readDeviceFile(bytes, 'GSDML-V2.35-a-b-20260101.xml').file?.vendor.name).toBe('Tärn'),
  )

  test('bytes that are none name their line', () => {
    const broken = latin(text)
    expect(readDeviceFile(broken, 'a.xml').problems).toMatchObject([
      { code: 'encoding.bytes', line: lineOf(text, 'Tärn') },
    ])
  })
})

// GSDML specification, MenuList (from memory).
describe('menus of a record', () => {
  const record = (menus: string) =>
    moduleItem('AO', '1', '') +
    moduleItem(
      'DI',
      '0x10',
      submoduleItem(
        'S',
        '',
        `<RecordDataList><ParameterRecordDataItem Index="1" Length="2"><Ref ID="A" ByteOffset="0" DataType="Unsigned8" TextId="T_S"/><Ref ID="B" ByteOffset="1" DataType="Unsigned8" TextId="T_S"/>${menus}</ParameterRecordDataItem></RecordDataList>`,
      ),
    )
  const placesOf = (menus: string) => {
    const { file, problems } = readText(gsdml({ modules: record(menus) }))
    return [
      file!.modules[1]!.submodules[0]!.parameters[0]!.parameters.map(({ menus }) =>
        menus?.map(({ rank, path }) => `${rank} ${path.join('/')}`).join(),
      ),
      problems.map(({ code }) => code),
    ]
  }
  test.each([
    ['none', '', [undefined, undefined], []],
    [
      'one in another, in its own order',
      '<MenuList><MenuItem ID="1"><Name TextId="T_DI"/><MenuRef MenuTarget="2"/><ParameterRef ParameterTarget="A"/></MenuItem><MenuItem ID="2"><Name TextId="T_AO"/><ParameterRef ParameterTarget="B"/></MenuItem></MenuList>',
      ['1 Name of DI', '0 Name of DI/Name of AO'],
      [],
    ],
    [
      'two that name each other',
      '<MenuList><MenuItem ID="0"><Name TextId="T_S"/><MenuRef MenuTarget="1"/></MenuItem><MenuItem ID="1"><Name TextId="T_DI"/><MenuRef MenuTarget="2"/><ParameterRef ParameterTarget="A"/></MenuItem><MenuItem ID="2"><MenuRef MenuTarget="1"/><ParameterRef ParameterTarget="B"/></MenuItem></MenuList>',
      ['1 Name of S/Name of DI', '0 Name of S/Name of DI'],
      [],
    ],
    [
      'names that lead nowhere',
      '<MenuList><MenuItem ID="1"><ParameterRef ParameterTarget="C"/><MenuRef MenuTarget="9"/></MenuItem></MenuList>',
      [undefined, undefined],
      ['reference.parameter', 'reference.menu'],
    ],
  ])('%s', (_, menus, places, codes) => expect(placesOf(menus)).toEqual([places, codes]))
})

test('what the access point and its interface can do', () => {
  const text = gsdml({
    accessPoint:
      'PhysicalSlots="0..4" FixedInSlots="0" AddressAssignment="DCP;LOCAL" NumberOfAR="2" SharedDeviceSupported="true"',
  }).replace(
    'SubmoduleIdentNumber="0x2" TextId="T_S"/>',
    'SubmoduleIdentNumber="0x2" TextId="T_S" SupportedRT_Classes="RT_CLASS_1;RT_CLASS_3"><ApplicationRelations><TimingProperties SendClock="8 16 32" ReductionRatio="1 2 4"/></ApplicationRelations><MediaRedundancy SupportedRole="Client;Manager"/></InterfaceSubmoduleItem>',
  )
  const [device] = readText(text).file!.devices
  expect(device).toMatchObject({
    profinet: {
      addressAssignment: ['DCP', 'LOCAL'],
      applicationRelations: 2,
      isShareable: true,
      sendClocksUs: [250, 500, 1000],
      reductionRatios: [1, 2, 4],
      realTimeClasses: ['RT_CLASS_1', 'RT_CLASS_3'],
      mediaRedundancyRoles: ['Client', 'Manager'],
      systemRedundancy: null,
    },
  })
})

// Numbers of attachments: IANA MAU MIB (RFC 4836).
test.each<[string, string, string, string[]]>([
  ['as usual', '', '', ['copper', 'copper']],
  ['fibre by an attribute', 'MAUTypes="18"', '', ['fibre-multi-mode', 'copper']],
  [
    'fibre by a list',
    '',
    '<MAUTypeList><MAUTypeItem Value="46"/></MAUTypeList>',
    ['fibre-single-mode', 'copper'],
  ],
  ['fibre as old files name it', 'MAUType="100BASEFXFD"', '', ['fibre-multi-mode', 'copper']],
])('ports of the head: %s', (_, attributes, inside, media) => {
  const text = gsdml().replace(
    'SubslotNumber="32769" TextId="T_S"/>',
    `SubslotNumber="32769" TextId="T_S" ${attributes}>${inside}</PortSubmoduleItem>`,
  )
  const [device] = readText(text).file!.devices
  expect(device).toMatchObject({
    profinet: { ports: media.map((medium, i) => ({ subslot: 32_769 + i, medium })) },
  })
})

test('subslots that take a port are ports, those of a second interface are not', () => {
  const [device] = readText(
    gsdml({
      accessPoint: 'PhysicalSlots="0..4" FixedInSlots="0" PhysicalSubslots="32771 33025"',
    }),
  ).file!.devices
  expect(device).toMatchObject({
    profinet: { ports: [{ subslot: 32_769 }, { subslot: 32_770 }, { subslot: 32_771 }] },
  })
})

test('a default above 2^53 is told, since it cannot be held exactly', () => {
  const modules =
    moduleItem('AO', '1', '') +
    moduleItem(
      'DI',
      '0x10',
      submoduleItem(
        'S',
        '',
        '<RecordDataList><ParameterRecordDataItem Index="1" Length="8"><Ref ByteOffset="0" DataType="Unsigned64" DefaultValue="9007199254740993" TextId="T_S"/></ParameterRecordDataItem></RecordDataList>',
      ),
    )
  expect(readText(gsdml({ modules })).problems).toMatchObject([
    { code: 'parameter.precision', severity: 'warning' },
  ])
})
