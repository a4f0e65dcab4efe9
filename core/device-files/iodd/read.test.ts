import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { encodeRecord, menuPath } from '../../parameters'
import { readDeviceFile } from '../read'

const iodd = ({
  types = '',
  variables = '',
  processData = defaultProcessData,
  layer = 'PhysicalLayer bitrate="COM2" minCycleTime="5000" sioSupported="true" mSequenceCapability="41"',
  edition = '2010/10',
  texts = '',
} = {}) => `<?xml version="1.0" encoding="UTF-8"?>
<IODevice xmlns="http://www.io-link.com/IODD/${edition}" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><ProfileBody>
<DeviceIdentity vendorId="3841" vendorName="Tarn &amp; Vey" deviceId="66051"><VendorText textId="T_V"/><DeviceName textId="T_N"/><DeviceFamily textId="T_F"/>
<DeviceVariantCollection><DeviceVariant productId="TV-L1"><Name textId="T_A"/></DeviceVariant><DeviceVariant productId="TV-L2"><Name textId="T_B"/></DeviceVariant></DeviceVariantCollection></DeviceIdentity>
<DeviceFunction><DatatypeCollection>
<Datatype id="D_Level" xsi:type="UIntegerT" bitLength="14"><ValueRange lowerValue="0" upperValue="9999"/><SingleValue value="16383"><Name textId="T_None"/></SingleValue></Datatype>${types}</DatatypeCollection>
<VariableCollection><StdVariableRef id="V_VendorName" defaultValue="x"/><StdVariableRef id="V_ApplicationSpecificTag" defaultValue="***"/>
<Variable id="V_Mode" index="80" accessRights="rw" defaultValue="1"><Datatype xsi:type="UIntegerT" bitLength="8"><SingleValue value="0"><Name textId="T_A"/></SingleValue><SingleValue value="1"><Name textId="T_B"/></SingleValue><ValueRange lowerValue="10" upperValue="20"/></Datatype><Name textId="T_Mode"/></Variable>
<Variable id="V_Set" index="81" accessRights="rw"><Datatype xsi:type="RecordT" bitLength="32"><RecordItem subindex="1" bitOffset="20"><SimpleDatatype xsi:type="IntegerT" bitLength="12"/><Name textId="T_Low"/></RecordItem><RecordItem subindex="2" bitOffset="3"><SimpleDatatype xsi:type="BooleanT"/><Name textId="T_High"/></RecordItem><RecordItem subindex="3" bitOffset="8"><SimpleDatatype xsi:type="UIntegerT" bitLength="8"/><Name textId="T_Low"/></RecordItem></Datatype>
<RecordItemInfo subindex="1" defaultValue="-2"/><RecordItemInfo subindex="2" defaultValue="true"/><RecordItemInfo subindex="3" defaultValue="5"/><Name textId="T_Set"/></Variable>
<Variable id="V_Lone" index="82" accessRights="rw" defaultValue="true"><Datatype xsi:type="BooleanT"/><Name textId="T_Lone"/></Variable>
<Variable id="V_Odd" index="83" accessRights="wo" defaultValue="-3"><Datatype xsi:type="IntegerT" bitLength="12"/><Name textId="T_Lone"/></Variable>
<Variable id="V_List" index="84" accessRights="rw"><Datatype xsi:type="ArrayT" count="3"><SimpleDatatype xsi:type="UIntegerT" bitLength="8"/></Datatype><RecordItemInfo subindex="1" defaultValue="1"/><RecordItemInfo subindex="3" defaultValue="3"/><Name textId="T_Set"/></Variable>
<Variable id="V_Seen" index="90" accessRights="ro"><Datatype xsi:type="StringT" fixedLength="8" encoding="UTF-8"/><Name textId="T_Lone"/></Variable>${variables}</VariableCollection>
<ProcessDataCollection>${processData}</ProcessDataCollection>
<EventCollection><Event code="6144" type="Warning"><Name textId="T_Mode"/><Description textId="T_Set"/></Event></EventCollection></DeviceFunction></ProfileBody>
<CommNetworkProfile><TransportLayers><${layer}/></TransportLayers></CommNetworkProfile>
<ExternalTextCollection><PrimaryLanguage xml:lang="en">${['V', 'N', 'F', 'A', 'B', 'None', 'Mode', 'Low', 'High', 'Set', 'Lone'].map((id) => `<Text id="T_${id}" value="English ${id}"/>`).join('')}${texts}</PrimaryLanguage>
<Language xml:lang="de"><Text id="T_N" value="Füllstand"/></Language></ExternalTextCollection></IODevice>`
const defaultProcessData = `<ProcessData id="P0"><Condition variableId="V_Mode" value="0"/><ProcessDataIn id="I0" bitLength="16"><Datatype xsi:type="UIntegerT" bitLength="16"/><Name textId="T_N"/></ProcessDataIn></ProcessData>
<ProcessData id="P1"><Condition variableId="V_Mode" value="1"/><ProcessDataIn id="I1" bitLength="32"><Datatype xsi:type="RecordT" bitLength="32"><RecordItem subindex="1" bitOffset="16"><DatatypeRef datatypeId="D_Level"/><Name textId="T_Low"/></RecordItem><RecordItem subindex="2" bitOffset="1"><SimpleDatatype xsi:type="BooleanT"/><Name textId="T_High"/></RecordItem></Datatype></ProcessDataIn>
<ProcessDataOut id="O1" bitLength="8"><Datatype xsi:type="ArrayT" count="4"><SimpleDatatype xsi:type="UIntegerT" bitLength="2"/></Datatype><Name textId="T_Set"/></ProcessDataOut></ProcessData>`
const read = (text: string, language?: string) =>
  readDeviceFile(new TextEncoder().encode(text), 'tv.xml', { language })
const lineOf = (text: string, part: string) => text.slice(0, text.indexOf(part)).split('\n').length

describe('an IODD file', () => {
  const { file, problems } = read(iodd())
  const device = file!.devices[0]!
  const byIndex = new Map(device.parameters.map((record) => [record.index, record]))

  test('is read without a problem', () => expect(problems).toEqual([]))

  test('gives identity, variants, events and the port', () => {
    expect(file).toMatchObject({
      format: 'iodd',
      formatVersion: '1.1',
      vendor: { id: 3841, name: 'Tarn & Vey' },
      languages: ['en', 'de'],
      diagnoses: [{ kind: 'event', code: 6144, name: 'English Mode', help: 'English Set' }],
    })
    expect(device).toMatchObject({
      name: 'English N',
      orderNumber: 'TV-L1',
      protocol: 'io-link',
      identity: { 'io-link': { vendorId: 3841, deviceId: 66_051 } },
      variants: [
        { productId: 'TV-L1', name: 'English A' },
        { productId: 'TV-L2', name: 'English B' },
      ],
      ioLink: {
        transmissionRate: 'COM2',
        minCycleTimeUs: 5000,
        mSequenceCapability: 41,
        hasSioMode: true,
      },
    })
  })

  // The variable's default value picks the layout; bit offsets count from the last octet (IO-Link
  // interface specification 1.1).
  test('gives the process data whose condition the default values meet', () => {
    const [data] = device.submodules
    expect(data).toMatchObject({ inputBytes: 4, outputBytes: 1 })
    expect(
      data!.inputs.map(({ name, type, offsetBits, bits }) => [name, type, offsetBits, bits]),
    ).toEqual([
      ['English Low', 'UIntegerT', 16, 14],
      ['English High', 'BooleanT', 1, 1],
    ])
    expect(data!.outputs.map(({ offsetBits, bits }) => [offsetBits, bits])).toEqual([
      [6, 2],
      [4, 2],
      [2, 2],
      [0, 2],
    ])
    expect(
      'ioLink' in device &&
        device.ioLink.layouts.map(({ condition, inputBytes }) => [condition?.value, inputBytes]),
    ).toEqual([
      [0, 2],
      [1, 4],
    ])
  })

  // Octets travel most significant first; lone numbers take 1, 2, 4 or 8 octets and a lone Boolean
  // 00 or FF.
  test.each([
    [80, '01', [['V_Mode', 0, 0, 8]]],
    [
      81,
      'ff e0 05 08',
      [
        ['V_Set.1', 0, 4, 12],
        ['V_Set.2', 3, 3, 1],
        ['V_Set.3', 2, 0, 8],
      ],
    ],
    [82, 'ff', [['V_Lone', 0, 0, 8]]],
    [83, 'ff fd', [['V_Odd', 0, 0, 16]]],
    [
      84,
      '01 00 03',
      [
        ['V_List.1', 0, 0, 8],
        ['V_List.2', 1, 0, 8],
        ['V_List.3', 2, 0, 8],
      ],
    ],
    [24, `2a 2a 2a${' 00'.repeat(29)}`, [['V_ApplicationSpecificTag', 0, 0, 256]]],
  ])('variable %d is %s', (index, bytes, places) => {
    expect(byIndex.get(index)!.bytes).toBe(bytes)
    expect(
      byIndex
        .get(index)!
        .parameters.map(({ key, offsetBytes, offsetBits, bits }) => [
          key,
          offsetBytes,
          offsetBits,
          bits,
        ]),
    ).toEqual(places)
  })

  test('only variables that can be written are records', () =>
    expect([...byIndex.keys()]).toEqual([24, 80, 81, 82, 83, 84]))

  test('single values and ranges both count', () => {
    expect(byIndex.get(80)!.parameters[0]).toMatchObject({
      name: 'English Mode',
      default: 1,
      allowed: [
        [0, 0],
        [1, 1],
        [10, 20],
      ],
      texts: { 0: 'English A', 1: 'English B' },
    })
    expect(encodeRecord(byIndex.get(80)!, { V_Mode: 5 }).problems).toMatchObject([
      { code: 'parameter.range', message: 'English Mode is 5; 0 1 10..20 is allowed.' },
    ])
    expect(encodeRecord(byIndex.get(82)!, { V_Lone: 0 }).bytes).toBe('00')
  })

  test('takes another language where it is there', () =>
    expect(read(iodd(), 'de').file!.devices[0]).toMatchObject({
      name: 'Füllstand',
      orderNumber: 'TV-L1',
    }))

  test('an older edition is read too', () => {
    const old = read(
      iodd({
        edition: '2009/11',
        layer: 'PhysicalLayer baudrate="38400" minCycleTime="2300" sioSupported="false"',
      }),
    )
    expect(old.file).toMatchObject({
      formatVersion: '1.0.1',
      devices: [
        { ioLink: { transmissionRate: 'COM2', mSequenceCapability: null, hasSioMode: false } },
      ],
    })
  })
})

describe('one wrong value in an IODD file that otherwise makes sense', () => {
  const variable = (inner: string) =>
    iodd({
      variables: `<Variable id="V_X" index="99" accessRights="rw" defaultValue="1">\n${inner}<Name textId="T_N"/></Variable>`,
    })
  test.each([
    [
      'a datatype that is not there',
      variable('<DatatypeRef datatypeId="D_None"/>'),
      'reference.datatype',
      'D_None',
    ],
    [
      'a type nobody knows',
      variable('<Datatype xsi:type="UIntegT" bitLength="8"/>'),
      'data.type',
      'UIntegT',
    ],
    [
      'no datatype',
      variable('').replace('id="V_X" index="99"', '\nid="V_X" index="99"'),
      'iodd.datatype',
      '<Variable \n',
    ],
    [
      'a field outside its record',
      variable(
        '<Datatype xsi:type="RecordT" bitLength="8">\n<RecordItem subindex="1" bitOffset="4"><SimpleDatatype xsi:type="UIntegerT" bitLength="8"/><Name textId="T_N"/></RecordItem></Datatype>',
      ),
      'data.bit',
      '<RecordItem subindex="1" bitOffset="4"',
    ],
    [
      'a value that is none',
      variable(
        '<Datatype xsi:type="UIntegerT" bitLength="8">\n<SingleValue value="much"/></Datatype>',
      ),
      'iodd.value',
      'much',
    ],
    [
      'a range that runs backwards',
      variable(
        '<Datatype xsi:type="UIntegerT" bitLength="8">\n<ValueRange lowerValue="9" upperValue="1"/></Datatype>',
      ),
      'iodd.value',
      'lowerValue="9"',
    ],
    [
      'a text that is not there',
      variable('<Datatype xsi:type="UIntegerT" bitLength="8"/>').replace(
        '<Name textId="T_N"/></Variable></VariableCollection>',
        '\n<Name textId="T_Nowhere"/></Variable></VariableCollection>',
      ),
      'reference.text',
      'T_Nowhere',
    ],
    [
      'more than 32 octets of process data',
      iodd({
        processData:
          '\n<ProcessData id="P"><ProcessDataIn id="I" bitLength="264"><Datatype xsi:type="UIntegerT" bitLength="8"/></ProcessDataIn></ProcessData>',
      }),
      'attribute.range',
      'bitLength="264"',
    ],
  ])('%s is an error with its line', (_, text, code, marker) => {
    const { file, problems } = read(text)
    expect(file).not.toBeNull()
    expect(problems.filter((problem) => problem.code === code)).toMatchObject([
      { severity: 'error', line: lineOf(text, marker) },
    ])
  })
})

describe('an IODD file that cannot be read', () => {
  const good = iodd()
  test.each([
    ['cut off', good.slice(0, good.indexOf('<EventCollection>')), 'xml.truncated'],
    [
      'entities that multiply',
      good.replace('?>', '?>\n<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>'),
      'xml.doctype',
    ],
    [
      'without identity',
      good.replace(/<DeviceIdentity[\s\S]*?<\/DeviceIdentity>/, ''),
      'iodd.identity',
    ],
  ])('%s is refused with its line', (_, text, code) => {
    const { file, problems } = read(text)
    expect(file).toBeNull()
    expect(problems.find((problem) => problem.code === code)).toMatchObject({
      severity: 'error',
      line: expect.any(Number),
      message: expect.stringMatching(/\.$/),
    })
  })

  test('whatever is changed in it, reading neither crashes nor hangs', () => {
    fc.assert(
      fc.property(
        fc.nat(good.length - 1),
        fc.constantFrom('', '"', '<', '>', '/', '-1', '99999999999', 'T'),
        fc.nat(20),
        (at, put, cut) => {
          const { file, problems } = read(good.slice(0, at) + put + good.slice(at + cut))
          if (!file) expect(problems.some(({ severity }) => severity === 'error')).toBe(true)
        },
      ),
      { numRuns: 300 },
    )
  })
})

// IODD specification 1.1, UserInterface (from memory): the specialist's menus, unit codes, shown
// value = value × gradient + offset.
describe('menus', () => {
  const interfaceOf = (menus: string) =>
    iodd().replace(
      '</EventCollection>',
      `</EventCollection><UserInterface><MenuCollection>${menus}</MenuCollection><SpecialistRoleMenuSet><ParameterMenu menuId="M1"/></SpecialistRoleMenuSet></UserInterface>`,
    )
  const shownIn = (menus: string) => {
    const { file, problems } = read(interfaceOf(menus))
    const parameters = file!.devices[0]!.parameters.flatMap((record) => record.parameters)
    return {
      of: (key: string) => parameters.find((one) => one.key === key)!,
      codes: problems.map(({ code }) => code),
    }
  }
  test('place variables and single items, with unit and scaling', () => {
    const { of, codes } = shownIn(
      '<Menu id="M1"><VariableRef variableId="V_Mode" unitCode="1137" gradient="0.1" offset="-5" displayFormat="Dec.2"/><MenuRef menuId="M2"/></Menu><Menu id="M2"><Name textId="T_Low"/><RecordItemRef variableId="V_Set" subindex="3" unitCode="9999"/><VariableRef variableId="V_List"/><VariableRef variableId="V_Seen"/></Menu>',
    )
    expect(codes).toEqual([])
    expect(of('V_Mode')).toMatchObject({
      menus: [{ path: ['Parameter'], rank: 0 }],
      unit: 'bar',
      display: { factor: 0.1, offset: -5, decimals: 2 },
    })
    expect(of('V_Set.3')).toMatchObject({
      menus: [{ path: ['Parameter', 'English Low'], rank: 1 }],
      unit: 'unit 9999',
    })
    expect(['V_List.1', 'V_List.3'].map((key) => menuPath(of(key)))).toEqual([
      ['Parameter', 'English Low'],
      ['Parameter', 'English Low'],
    ])
    expect(of('V_Set.1').menus).toBeUndefined()
  })
  test('a menu under a condition says so; a parameter keeps its places up to one that is always shown', () => {
    const { of, codes } = shownIn(`<Menu id="M1"><VariableRef variableId="V_Mode"/>
      <MenuRef menuId="M2"><Condition variableId="V_Mode" value="1"/></MenuRef><MenuRef menuId="M3"><Condition variableId="V_Set" subindex="1" value="0"/></MenuRef><MenuRef menuId="M2"/><MenuRef menuId="M3"/></Menu>
      <Menu id="M2"><Name textId="T_Low"/><RecordItemRef variableId="V_Set" subindex="3"/><MenuRef menuId="M4"><Condition variableId="V_Mode" value="2"/></MenuRef></Menu><Menu id="M3"><RecordItemRef variableId="V_Set" subindex="3"/></Menu><Menu id="M4"><VariableRef variableId="V_List"/></Menu>`)
    expect(codes).toEqual([])
    expect(of('V_Mode').menus).toEqual([{ path: ['Parameter'], rank: 0 }])
    expect(of('V_Set.3').menus!.map(({ path, when }) => [path.at(-1), when])).toEqual([
      ['English Low', [{ parameter: 'V_Mode', value: 1 }]],
      ['Parameter', [{ parameter: 'V_Set.1', value: 0 }]],
      ['English Low', undefined],
    ])
    expect(of('V_List.1').menus!.map(({ when }) => when)).toEqual([
      [
        { parameter: 'V_Mode', value: 1 },
        { parameter: 'V_Mode', value: 2 },
      ],
      [{ parameter: 'V_Mode', value: 2 }],
    ])
    expect(
      shownIn(
        '<Menu id="M1"><MenuRef menuId="M1"><Condition variableId="V_Mode" value="300"/></MenuRef></Menu>',
      ).codes,
    ).toEqual(['attribute.range'])
  })
  test('a gradient that is no number, and a menu that is not there, are errors', () => {
    expect(
      shownIn(
        '<Menu id="M1"><VariableRef variableId="V_Mode" gradient="ten"/><MenuRef menuId="M9"/></Menu>',
      ).codes.sort(),
    ).toEqual(['attribute.number', 'reference.menu'])
  })
  test('a description is the parameter’s help', () => {
    const { file } = read(
      iodd().replace(
        '<Name textId="T_Mode"/></Variable>',
        '<Name textId="T_Mode"/><Description textId="T_Set"/></Variable>',
      ),
    )
    expect(
      file!.devices[0]!.parameters.flatMap(({ parameters }) => parameters).find(
        ({ key }) => key === 'V_Mode',
      )?.info,
    ).toBe('English Set')
  })
})
