import { expect, test } from 'vitest'
import { cipTypeOf } from '../catalog/cip-types'
import { numberKindOf, type DataKind } from '../vocabulary/data-kind'
import { dataKindOf as ofEsi } from './esi/data-types'
import { dataItemsOf, decodeConfiguration, type Identifier } from './gsd/configuration'
import { dataKindOf as ofGsdml } from './gsdml/data-types'

/** An identifier of one octet; EN 50170-2, general identifier format. */
const ofGsd = (octet: string) =>
  dataItemsOf(decodeConfiguration([parseInt(octet, 16)]) as readonly Identifier[], 'inputs')
    .items[0]!.holds
const ofCip = (code: string) => cipTypeOf(code)?.holds ?? 'other'

type Reader = (type: string) => DataKind
// Names and codes of types: GSDML specification and ETG.1020 from memory, CIP Vol. 1, App. C.
test.each<[string, Reader, string, DataKind]>([
  ['GSDML', ofGsdml, 'Integer16', 'signed'],
  ['GSDML', ofGsdml, 'Unsigned32', 'unsigned'],
  ['GSDML', ofGsdml, 'Float32+Status8', 'float'],
  ['GSDML', ofGsdml, 'Boolean', 'boolean'],
  ['GSDML', ofGsdml, 'N2', 'signed'],
  ['GSDML', ofGsdml, 'TimeStamp', 'other'],
  ['GSDML', ofGsdml, 'F_MessageTrailer4Byte', 'trailer'],
  ['GSDML', ofGsdml, 'constructor', 'other'],
  ['GSD', ofGsd, '50', 'word'],
  ['GSD', ofGsd, '10', 'other'],
  ['ESI', ofEsi, 'INT', 'signed'],
  ['ESI', ofEsi, 'UINT24', 'unsigned'],
  ['ESI', ofEsi, 'REAL', 'float'],
  ['ESI', ofEsi, 'bool', 'boolean'],
  ['ESI', ofEsi, 'ARRAY [0..3] OF BYTE', 'other'],
  ['EDS', ofCip, '0xC3', 'signed'],
  ['EDS', ofCip, '0xc7', 'unsigned'],
  ['EDS', ofCip, '0xCA', 'float'],
  ['EDS', ofCip, '0xD2', 'word'],
  ['EDS', ofCip, '0xDA', 'other'],
  ['EDS', ofCip, '0x00', 'other'],
])('%s type %#', (_format, reader, type, kind) => expect(reader(type)).toBe(kind))

test.each<[DataKind, string]>([
  ['signed', 'signed'],
  ['float', 'float'],
  ['word', 'unsigned'],
  ['boolean', 'unsigned'],
])('octets of a value that is %s are read %s', (kind, number) =>
  expect(numberKindOf(kind)).toBe(number),
)
