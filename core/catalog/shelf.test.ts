import { describe, expect, test } from 'vitest'
import { gsdml, moduleItem, submoduleItem } from '../test/gsdml'
import { demoBytes, demoFiles, readText } from '../test/plans'
import { readDeviceFile } from '../device-files'
import { compareFiles, itemsOf, packFile, summarise, unpackFile } from '.'

describe('a packed catalog', () => {
  test.each(demoFiles)('%s comes back through JSON', (name) => {
    const file = readDeviceFile(demoBytes(name), name).file!
    expect(unpackFile(JSON.parse(JSON.stringify(packFile(file))) as never)).toEqual(
      JSON.parse(JSON.stringify(file)),
    )
  })

  test('lists that modules share stand once, before and after', () => {
    const many = Array.from({ length: 50 }, (_, i) =>
      moduleItem(
        `M${i}`,
        `${i + 1}`,
        submoduleItem(
          `S${i}`,
          '<Input><DataItem DataType="Unsigned8" UseAsBits="true" TextId="T_S"/></Input>',
        ),
      ),
    ).join('')
    const file = readText(gsdml({ modules: many, useable: '' })).file!
    const packed = packFile(file)
    expect(packed.shared.length).toBeLessThan(5)
    const again = unpackFile(JSON.parse(JSON.stringify(packed)) as never)
    expect(again.modules[0]!.submodules[0]!.inputs).toBe(again.modules[49]!.submodules[0]!.inputs)
  })
})

test('a number stays a number, whatever the field that holds it is called', () => {
  const file = readText(gsdml()).file!
  const named = { ...file, facts: { slots: 0, inputs: 1, parameters: 2, allowed: [3] } }
  const back = unpackFile(JSON.parse(JSON.stringify(packFile(named))) as never)
  expect(back).toEqual(JSON.parse(JSON.stringify(named)))
})

test('a summary says what a file offers', () => {
  expect(summarise(readText(gsdml()).file!)).toMatchObject({
    format: 'gsdml',
    vendor: 'Tarn & Vey',
    family: 'TV',
    protocol: 'profinet',
    heads: 1,
    modules: 2,
    offers: ['DI', 'AO'],
    errors: 0,
  })
})

test('every head and module can be found', () => {
  expect(itemsOf(readText(gsdml()).file!)).toEqual([
    { kind: 'head', key: 'DAP', name: 'Name of DAP', orderNumber: 'TV-1', info: '' },
    { kind: 'module', key: 'DI', name: 'Name of DI', orderNumber: 'X-DI', info: '' },
    { kind: 'module', key: 'AO', name: 'Name of AO', orderNumber: 'X-AO', info: '' },
  ])
})

describe('two versions of a file', () => {
  const record = (ref: string) =>
    submoduleItem(
      'S',
      '<Output><DataItem DataType="Unsigned8" TextId="T_S"/></Output>',
      `<RecordDataList><ParameterRecordDataItem Index="1" Length="4">${ref}</ParameterRecordDataItem></RecordDataList>`,
    )
  const version = (ref: string, more = '') =>
    readText(gsdml({ useable: '', modules: moduleItem('DI', '1', record(ref)) + more })).file!
  const older = version(
    '<Ref ID="P" ByteOffset="0" DataType="Unsigned8" DefaultValue="1" AllowedValues="0..3" TextId="T_S"/><Ref ID="Q" ByteOffset="1" DataType="Unsigned8" DefaultValue="0" TextId="T_S"/>',
    moduleItem('AO', '2', ''),
  )

  test('the same are the same', () => expect(compareFiles(older, older)).toEqual([]))

  test('tell what was added, removed and changed', () => {
    const newer = version(
      '<Ref ID="P" ByteOffset="0" DataType="Unsigned8" DefaultValue="2" AllowedValues="0..7" TextId="T_S"/>',
      moduleItem('M', '3', ''),
    )
    expect(
      compareFiles(older, newer).map(({ change, what, name, owner, details }) => [
        change,
        what,
        name,
        owner,
        details,
      ]),
    ).toEqual([
      [
        'changed',
        'parameter',
        'Name of S',
        'Name of DI',
        ['default: 1 → 2', 'allowed: 0..3 → 0..7'],
      ],
      ['removed', 'parameter', 'Name of S', 'Name of DI', []],
      ['added', 'module', 'Name of M', null, []],
      ['removed', 'module', 'Name of AO', null, []],
    ])
  })

  test('limits and data count', () => {
    const newer = readText(
      gsdml({
        useable: '',
        modules:
          moduleItem(
            'DI',
            '1',
            submoduleItem('S', '<Output><DataItem DataType="Unsigned16" TextId="T_S"/></Output>'),
          ) + moduleItem('AO', '9', ''),
        accessPoint: 'PhysicalSlots="0..8" FixedInSlots="0"',
      }),
    ).file!
    expect(
      compareFiles(older, newer)
        .filter(({ change }) => change === 'changed')
        .map(({ name, details }) => [name, details]),
    ).toEqual([
      ['Name of DAP', ['slots: 4 → 8', 'most modules: 4 → 8']],
      ['Name of DI', ['data: 1 byte out → 2 bytes out', 'channels: 1 PO → 1 AO']],
      ['Name of AO', ['ident: 0x2 → 0x9']],
    ])
  })
})
