import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { layoutOf } from '../../catalog'
import { readDeviceFile } from '../read'
import { parseEsiNumber } from './numbers'

const entry = (index: string, subindex: number, bits: number, name: string, type: string) =>
  `<Entry><Index>${index}</Index><SubIndex>${subindex}</SubIndex><BitLen>${bits}</BitLen><Name>${name}</Name><DataType>${type}</DataType></Entry>`
const pad = (bits: number) => `<Entry><Index>0</Index><BitLen>${bits}</BitLen></Entry>`
const channel = (number: number, sm = ' Sm="3"') =>
  `<TxPdo Fixed="1"${sm}><Index>#x1a0${number}</Index><Name>Channel ${number + 1}</Name>${entry('#x6000', 1, 1, 'Underrange', 'BIT')}${pad(15)}${entry('#x6000', 17, 16, 'Value', 'INT')}</TxPdo>`

const esi = ({
  devices = '',
  modules = '',
  slots = '',
  more = '',
} = {}) => `<?xml version="1.0" encoding="utf-8"?>
<!-- invented for tests -->
<EtherCATInfo Version="1.6"><Vendor><Id>#xF01</Id><Name LcId="1031">Hersteller</Name><Name LcId="1033">Tarn &amp; Vey</Name></Vendor>
<Descriptions><Groups><Group><Type>IO</Type><Name LcId="1033">Terminals</Name></Group></Groups>
<Devices>
<Device Physics="YK"><Type ProductCode="#x1000" RevisionNo="#x00020000">TV1000</Type><HideType RevisionNo="#x00010000"/><Name LcId="1031"><![CDATA[Vier Eingänge]]></Name><Name LcId="1033"><![CDATA[Two inputs, one output]]></Name>
<Info><Electrical><EBusCurrent>-2000</EBusCurrent></Electrical></Info><GroupType>IO</GroupType>
<Sm DefaultSize="128" StartAddress="#x1000" ControlByte="#x26" Enable="1">MBoxOut</Sm><Sm StartAddress="#x1100" ControlByte="#x24" Enable="1">Outputs</Sm>
<RxPdo Mandatory="1" Sm="2"><Index>#x1600</Index><Name>Out</Name>${entry('#x7000', 1, 1, 'Lamp', 'BOOL')}${pad(7)}</RxPdo>
${channel(0)}${channel(1)}${channel(2, '')}
<Mailbox><CoE SdoInfo="1"><InitCmd><Transition>PS</Transition><Index>#x8000</Index><SubIndex>6</SubIndex><Data>0100</Data><Comment>Filter</Comment></InitCmd></CoE><FoE/></Mailbox>
<Dc><OpMode><Name>DC</Name><Desc>Synchronous</Desc><AssignActivate>#x300</AssignActivate><CycleTimeSync0>0</CycleTimeSync0><ShiftTimeSync0>-500</ShiftTimeSync0></OpMode></Dc>
<Profile><Dictionary><Objects><Object><Index>#x1008</Index><Name>Device name</Name><Type>STRING(6)</Type><BitSize>48</BitSize><Info><DefaultData>545631303030</DefaultData></Info><Flags><Access>ro</Access></Flags></Object></Objects></Dictionary></Profile>
</Device>
<Device Physics="YK"><Type ProductCode="#x1000" RevisionNo="#x00010000">TV1000</Type><Name>Old</Name><GroupType>IO</GroupType>${channel(0)}</Device>
<Device Physics="YY"><Type ProductCode="#x2000" RevisionNo="1">TV2000</Type><Name>Head with slots</Name><GroupType>IO</GroupType>
<Slots MaxSlotCount="5" SlotPdoIncrement="1" SlotIndexIncrement="16">${slots || '<Slot MinInstances="0" MaxInstances="4"><Name>IO</Name><ModuleIdent Default="1">#x11</ModuleIdent><ModuleIdent>#x12</ModuleIdent></Slot><Slot MaxInstances="3"><ModuleClass><Class>drive</Class><Name>Drive</Name></ModuleClass></Slot>'}</Slots></Device>
${devices}</Devices>
<Modules><Module><Type ModuleIdent="#x11">TVM-DI</Type><Name>Eight inputs</Name><TxPdo Sm="3"><Index DependOnSlot="1">#x1a00</Index><Name>Inputs</Name>${Array.from({ length: 8 }, (_, i) => entry('#x6000', i + 1, 1, `Input ${i + 1}`, 'BOOL')).join('')}</TxPdo></Module>
<Module><Type ModuleIdent="18">TVM-AO</Type><Name>One output</Name><RxPdo Sm="2"><Index>#x1600</Index><Name>Analog</Name>${entry('#x7000', 1, 16, 'Value', 'INT')}</RxPdo></Module>
<Module><Type ModuleIdent="#x20" ModuleClass="drive">TVM-M</Type><Name>Drive</Name></Module>${modules}</Modules></Descriptions></EtherCATInfo>
${more}`
const read = (text: string) => readDeviceFile(new TextEncoder().encode(text), 'tv.xml')
const lineOf = (text: string, part: string) => text.slice(0, text.indexOf(part)).split('\n').length

// ETG.2000: decimal or #x.
test.each([
  ['#x1A', 26],
  ['26', 26],
  ['-3', -3],
  ['0x1a', 26],
  ['1A', null],
  ['#x', null],
  ['', null],
])('the number %s', (text, value) => expect(parseEsiNumber(text)).toBe(value))

describe('an ESI file', () => {
  const { file, problems } = read(esi())
  const [fixed, old, modular] = file!.devices

  test('is read without a problem', () => expect(problems).toEqual([]))

  test('gives one device a revision', () => {
    expect(file).toMatchObject({
      format: 'esi',
      formatVersion: '1.6',
      vendor: { id: 0xf01, name: 'Tarn & Vey' },
      languages: ['en', 'de'],
    })
    expect(
      [fixed, old, modular].map((device) => [
        device!.orderNumber,
        device!.name,
        device!.hidden,
        device!.identity,
      ]),
    ).toEqual([
      [
        'TV1000',
        'Two inputs, one output',
        false,
        { ethercat: { vendorId: 0xf01, productCode: 0x1000, revision: 0x20000 } },
      ],
      [
        'TV1000',
        'Old',
        true,
        { ethercat: { vendorId: 0xf01, productCode: 0x1000, revision: 0x10000 } },
      ],
      [
        'TV2000',
        'Head with slots',
        false,
        { ethercat: { vendorId: 0xf01, productCode: 0x2000, revision: 1 } },
      ],
    ])
    expect(fixed!.currentMa).toBe(-2000)
  })

  // EtherCAT data are little-endian and packed bit by bit; the third PDO has no sync manager and
  // stays out.
  test('lays out the default PDO assignment', () => {
    const [data] = fixed!.submodules
    expect(data).toMatchObject({ inputBytes: 8, outputBytes: 1 })
    expect(
      data!.inputs.map(({ name, type, offsetBits, bits }) => [name, type, offsetBits, bits]),
    ).toEqual([
      ['Underrange', 'BIT', 0, 1],
      ['Value', 'INT', 16, 16],
      ['Underrange', 'BIT', 32, 1],
      ['Value', 'INT', 48, 16],
    ])
    expect(
      data!.pdos!.map(({ index, syncManager, fixed: isFixed }) => [index, syncManager, isFixed]),
    ).toEqual([
      [0x1600, 2, false],
      [0x1a00, 3, true],
      [0x1a01, 3, true],
      [0x1a02, null, true],
    ])
    expect(layoutOf(fixed!).channels.map(({ name, kind }) => [name, kind])).toEqual([
      ['Channel 1 Underrange', 'digital'],
      ['Channel 1 Value', 'analog'],
      ['Channel 2 Underrange', 'digital'],
      ['Channel 2 Value', 'analog'],
      ['Out Lamp', 'digital'],
    ])
  })

  test('gives commands, modes, sync managers and the dictionary', () => {
    expect(fixed!.parameters).toEqual([
      {
        index: 0x8000,
        subindex: 6,
        transitions: ['PS'],
        dependsOnSlot: false,
        name: 'Filter',
        length: 2,
        bytes: '01 00',
        parameters: [],
      },
    ])
    expect('ethercat' in fixed! && fixed!.ethercat).toMatchObject({
      physics: 'YK',
      mailboxProtocols: ['CoE', 'FoE'],
      syncManagers: [
        { startAddress: 0x1000, controlByte: 0x26, defaultBytes: 128, use: 'MBoxOut' },
        { use: 'Outputs' },
      ],
      operationModes: [{ name: 'DC', assignActivate: 0x300, sync0ShiftNs: -500 }],
      objects: [
        { index: 0x1008, type: 'STRING(6)', bits: 48, default: '545631303030', access: 'ro' },
      ],
    })
  })

  test('gives slots by module number and by class, as many as fit', () => {
    expect(
      modular!.slots.map(({ slot, default: standard, allowed }) => [slot, standard, allowed]),
    ).toEqual([
      ...[1, 2, 3, 4].map((slot) => [slot, '0x00000011', ['0x00000011', '0x00000012']]),
      [5, null, ['0x00000020']],
    ])
    expect(modular!.limits.modules).toBe(5)
    expect(
      file!.modules.map(({ ident, inputBytes, outputBytes }) => [ident, inputBytes, outputBytes]),
    ).toEqual([
      [0x11, 1, 0],
      [0x12, 0, 2],
      [0x20, 0, 0],
    ])
  })

  test('takes another language where it is there', () => {
    const german = readDeviceFile(new TextEncoder().encode(esi()), 'a.xml', {
      language: 'de',
    }).file!
    expect([german.vendor.name, ...german.devices.map(({ name }) => name)]).toEqual([
      'Hersteller',
      'Vier Eingänge',
      'Old',
      'Head with slots',
    ])
  })
})

describe('one wrong value in an ESI file that otherwise makes sense', () => {
  test.each([
    [
      'a module that is not there',
      esi({ slots: '<Slot MaxInstances="2">\n<ModuleIdent>#x99</ModuleIdent></Slot>' }),
      'reference.module',
      '#x99',
    ],
    [
      'a length that is no number',
      esi({
        modules: `<Module><Type ModuleIdent="#x30">x</Type><Name>x</Name><TxPdo><Entry><Index>1</Index>\n<BitLen>eight</BitLen></Entry></TxPdo></Module>`,
      }),
      'attribute.number',
      'eight',
    ],
    [
      'a product code that is none',
      esi({ devices: '<Device>\n<Type ProductCode="#xZZ">x</Type><Name>x</Name></Device>' }),
      'attribute.number',
      '#xZZ',
    ],
    [
      'no product code',
      esi({ devices: '<Device>\n<Type RevisionNo="1">none here</Type><Name>x</Name></Device>' }),
      'attribute.missing',
      'none here',
    ],
    [
      'a revision that stands twice',
      esi({
        devices:
          '\n<Device><Type ProductCode="#x2000" RevisionNo="1">again</Type><Name>x</Name></Device>',
      }),
      'id.duplicate',
      'again',
    ],
    [
      'data that are no octets',
      esi({
        modules:
          '<Module><Type ModuleIdent="#x31">x</Type><Name>x</Name><Mailbox><CoE><InitCmd><Transition>PS</Transition><Index>1</Index>\n<Data>xyz</Data></InitCmd></CoE></Mailbox></Module>',
      }),
      'esi.data',
      'xyz',
    ],
  ])('%s is an error with its line', (_, text, code, marker) => {
    const { file, problems } = read(text)
    expect(file).not.toBeNull()
    expect(problems.filter(({ severity }) => severity === 'error')).toMatchObject([
      { code, line: lineOf(text, marker) },
    ])
  })
})

describe('an ESI file that cannot be read', () => {
  const good = esi()
  test.each([
    ['cut off', good.slice(0, good.indexOf('<Modules>')), 'xml.truncated'],
    [
      'entities that multiply',
      good.replace('?>', '?>\n<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>'),
      'xml.doctype',
    ],
    ['without devices', '<EtherCATInfo/>', 'esi.empty'],
  ])('%s is refused with its line', (_, text, code) => {
    const { file, problems } = read(text)
    expect(file).toBeNull()
    expect(problems.at(-1)).toMatchObject({
      severity: 'error',
      code,
      line: expect.any(Number),
      message: expect.stringMatching(/\.$/),
    })
  })

  test('whatever is changed in it, reading neither crashes nor hangs', () => {
    fc.assert(
      fc.property(
        fc.nat(good.length - 1),
        fc.constantFrom('', '"', '<', '>', '/', '-1', '99999999999', '#x'),
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
