import { expect, test } from 'vitest'
import { gsdml, moduleItem, submoduleItem } from '../../test/gsdml'
import { readText } from '../../test/plans'

function read(fields: string) {
  const more = `<RecordDataList>\n<F_ParameterRecordDataItem Index="4" F_ParamDescCRC="1">${fields}</F_ParameterRecordDataItem></RecordDataList>`
  const { file, problems } = readText(
    gsdml({
      modules:
        moduleItem('DI', '0x10', submoduleItem('S', '', more)) + moduleItem('AO', '0x20', ''),
    }),
  )
  return { record: file!.modules[0]!.submodules[0]!.parameters[0]!, problems }
}

// PROFIsafe profile (from memory). The usual default set `09 40 00 01 00 01 00 96` has the CRC
// 53356 = 0xD06C; common practice.
test.each([
  ['nothing stated', '', '09 40 00 01 00 01 00 96 d0 6c'],
  [
    'words',
    '<F_SIL DefaultValue="SIL2" AllowedValues="SIL1 SIL2"/><F_Check_SeqNr DefaultValue="NoCheck"/><F_CRC_Length DefaultValue="4-Byte-CRC"/>',
    '24 40 00 01 00 01 00 96 d0 6c',
  ],
  [
    'addresses and watchdog',
    '<F_Source_Add DefaultValue="513"/><F_Dest_Add DefaultValue="258"/><F_WD_Time DefaultValue="500"/><F_Par_CRC DefaultValue="4660"/>',
    '09 40 02 01 01 02 01 f4 12 34',
  ],
  [
    'an iPar CRC',
    '<F_Check_iPar DefaultValue="Check"/><F_Block_ID DefaultValue="1"/><F_iPar_CRC DefaultValue="16909060"/>',
    '0b 48 00 01 00 01 00 96 01 02 03 04 d0 6c',
  ],
  [
    'seed and passivation',
    '<F_CRC_Seed DefaultValue="CRC-FCS32"/><F_Passivation DefaultValue="Channel"/>',
    '49 41 00 01 00 01 00 96 d0 6c',
  ],
])('%s', (_, fields, bytes) => {
  const { record, problems } = read(fields)
  expect(problems).toEqual([])
  expect(record).toMatchObject({ index: 4, bytes, length: bytes.split(' ').length })
})

test('the parameters are the elements, with their place and ranges', () => {
  const { record } = read(
    '<F_SIL DefaultValue="SIL3" AllowedValues="SIL2 SIL3" Changeable="false"/><F_Dest_Add DefaultValue="1" AllowedValues="1..65534"/>',
  )
  expect(record.parameters).toMatchObject([
    {
      key: 'F_SIL',
      offsetBytes: 0,
      offsetBits: 2,
      bits: 2,
      default: 2,
      allowed: [
        [1, 1],
        [2, 2],
      ],
      texts: { 2: 'SIL3' },
      changeable: false,
    },
    { key: 'F_Dest_Add', offsetBytes: 4, bits: 16, default: 1, allowed: [[1, 65_534]] },
  ])
})

test.each([
  '<F_SIL DefaultValue="SIL9"/>',
  '<F_WD_Time DefaultValue="70000"/>',
  '<F_Dest_Add DefaultValue="-1"/>',
])('%s is an error', (fields) => {
  expect(read(fields).problems).toMatchObject([
    { severity: 'error', code: 'failSafe.value', line: expect.any(Number) },
  ])
})
