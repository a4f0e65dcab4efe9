import type { ValueKind } from '../../catalog/model'
import type { DataKind } from '../../vocabulary/data-kind'

/** Octets of each GSDML data type, `null` where the `Length` attribute says it, and what it holds.
 *  GSDML specification, data types of DataItem (from memory); N2 to X4 as in profiles for drives. */
const dataTypes: Readonly<Record<string, readonly [octets: number | null, DataKind]>> = {
  Boolean: [1, 'boolean'],
  Integer8: [1, 'signed'],
  Integer16: [2, 'signed'],
  Integer32: [4, 'signed'],
  Integer64: [8, 'signed'],
  Unsigned8: [1, 'unsigned'],
  Unsigned16: [2, 'unsigned'],
  Unsigned32: [4, 'unsigned'],
  Unsigned64: [8, 'unsigned'],
  Float32: [4, 'float'],
  Float64: [8, 'float'],
  Date: [7, 'other'],
  TimeOfDay: [null, 'other'],
  'TimeOfDay with date indication': [6, 'other'],
  'TimeOfDay without date indication': [4, 'other'],
  'TimeDifference with date indication': [6, 'other'],
  'TimeDifference without date indication': [4, 'other'],
  NetworkTime: [8, 'other'],
  NetworkTimeDifference: [8, 'other'],
  TimeStamp: [12, 'other'],
  TimeStampDifference: [12, 'other'],
  TimeStampDifferenceShort: [8, 'other'],
  VisibleString: [null, 'other'],
  OctetString: [null, 'other'],
  UNICODEString8: [null, 'other'],
  '61131_STRING': [null, 'other'],
  '61131_WSTRING': [null, 'other'],
  OctetString_S: [null, 'other'],
  'Unsigned8+Unsigned8': [2, 'unsigned'],
  'Float32+Unsigned8': [5, 'float'],
  'Float32+Status8': [5, 'float'],
  'OctetString2+Unsigned8': [3, 'other'],
  Unsigned8_S: [1, 'unsigned'],
  Unsigned16_S: [2, 'unsigned'],
  Integer16_S: [2, 'signed'],
  F_MessageTrailer4Byte: [4, 'trailer'],
  F_MessageTrailer5Byte: [5, 'trailer'],
  N2: [2, 'signed'],
  N4: [4, 'signed'],
  V2: [2, 'word'],
  L2: [2, 'other'],
  R2: [2, 'other'],
  T2: [2, 'other'],
  T4: [4, 'other'],
  D2: [2, 'other'],
  E2: [2, 'signed'],
  C4: [4, 'signed'],
  X2: [2, 'signed'],
  X4: [4, 'signed'],
  'Unipolar2.16': [2, 'unsigned'],
}

/** What a value of a data type holds, also of one that the format does not know. */
export function dataKindOf(type: string): DataKind {
  return Object.hasOwn(dataTypes, type) ? dataTypes[type]![1] : 'other'
}

/** Octets of a data type; null where `Length` says it, undefined where the format knows no such
 *  type. */
export function bytesOfType(type: string): number | null | undefined {
  return Object.hasOwn(dataTypes, type) ? dataTypes[type]![0] : undefined
}

/** What a parameter of this type holds. */
export function kindOfType(type: string): ValueKind {
  if (/^(Bit|BitArea|Boolean|Unsigned\d+)$/.test(type)) return 'unsigned'
  if (/^Integer\d+$/.test(type)) return 'signed'
  if (/^Float(32|64)$/.test(type)) return 'float'
  return /STRING|String/.test(type) && type !== 'OctetString' ? 'text' : 'octets'
}

/** Types whose bits count from the last octet backwards, because PROFINET sends them most
 *  significant octet first. */
export function isBigEndianNumber(type: string): boolean {
  return /^(Unsigned|Integer)(16|32|64)$/.test(type)
}
