import type { ValueKind } from '../../catalog/model'

/** Octets of each GSDML data type; `null` where the `Length` attribute says it.
 *  GSDML specification, data types of DataItem (from memory). */
const dataTypeBytes: Readonly<Record<string, number | null>> = {
  Boolean: 1,
  Integer8: 1,
  Integer16: 2,
  Integer32: 4,
  Integer64: 8,
  Unsigned8: 1,
  Unsigned16: 2,
  Unsigned32: 4,
  Unsigned64: 8,
  Float32: 4,
  Float64: 8,
  Date: 7,
  TimeOfDay: null,
  'TimeOfDay with date indication': 6,
  'TimeOfDay without date indication': 4,
  'TimeDifference with date indication': 6,
  'TimeDifference without date indication': 4,
  NetworkTime: 8,
  NetworkTimeDifference: 8,
  TimeStamp: 12,
  TimeStampDifference: 12,
  TimeStampDifferenceShort: 8,
  VisibleString: null,
  OctetString: null,
  UNICODEString8: null,
  '61131_STRING': null,
  '61131_WSTRING': null,
  OctetString_S: null,
  'Unsigned8+Unsigned8': 2,
  'Float32+Unsigned8': 5,
  'Float32+Status8': 5,
  'OctetString2+Unsigned8': 3,
  Unsigned8_S: 1,
  Unsigned16_S: 2,
  Integer16_S: 2,
  F_MessageTrailer4Byte: 4,
  F_MessageTrailer5Byte: 5,
  N2: 2,
  N4: 4,
  V2: 2,
  L2: 2,
  R2: 2,
  T2: 2,
  T4: 4,
  D2: 2,
  E2: 2,
  C4: 4,
  X2: 2,
  X4: 4,
  'Unipolar2.16': 2,
}

/** Octets of a data type; null where `Length` says it, undefined where the format knows no such
 *  type. */
export function bytesOfType(type: string): number | null | undefined {
  return Object.hasOwn(dataTypeBytes, type) ? dataTypeBytes[type] : undefined
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
