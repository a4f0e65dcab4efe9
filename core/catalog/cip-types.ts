import type { DataKind } from '../vocabulary/data-kind'
import type { ValueKind } from './model'

interface CipType {
  readonly name: string
  readonly kind: ValueKind
  /** As a value of process data. */
  readonly holds: DataKind
  readonly octets: number | null
}

/** CIP elementary data types by code: name, what they hold, octets (CIP Vol. 1, App. C). Null
 *  octets: the parameter says its size. */
export const cipTypes: Readonly<Record<number, CipType>> = {
  0xc1: { name: 'BOOL', kind: 'unsigned', holds: 'boolean', octets: 1 },
  0xc2: { name: 'SINT', kind: 'signed', holds: 'signed', octets: 1 },
  0xc3: { name: 'INT', kind: 'signed', holds: 'signed', octets: 2 },
  0xc4: { name: 'DINT', kind: 'signed', holds: 'signed', octets: 4 },
  0xc5: { name: 'LINT', kind: 'signed', holds: 'signed', octets: 8 },
  0xc6: { name: 'USINT', kind: 'unsigned', holds: 'unsigned', octets: 1 },
  0xc7: { name: 'UINT', kind: 'unsigned', holds: 'unsigned', octets: 2 },
  0xc8: { name: 'UDINT', kind: 'unsigned', holds: 'unsigned', octets: 4 },
  0xc9: { name: 'ULINT', kind: 'unsigned', holds: 'unsigned', octets: 8 },
  0xca: { name: 'REAL', kind: 'float', holds: 'float', octets: 4 },
  0xcb: { name: 'LREAL', kind: 'float', holds: 'float', octets: 8 },
  0xcc: { name: 'STIME', kind: 'signed', holds: 'other', octets: 4 },
  0xcd: { name: 'DATE', kind: 'unsigned', holds: 'other', octets: 2 },
  0xce: { name: 'TIME_OF_DAY', kind: 'unsigned', holds: 'other', octets: 4 },
  0xcf: { name: 'DATE_AND_TIME', kind: 'octets', holds: 'other', octets: 6 },
  0xd0: { name: 'STRING', kind: 'text', holds: 'other', octets: null },
  0xd1: { name: 'BYTE', kind: 'unsigned', holds: 'word', octets: 1 },
  0xd2: { name: 'WORD', kind: 'unsigned', holds: 'word', octets: 2 },
  0xd3: { name: 'DWORD', kind: 'unsigned', holds: 'word', octets: 4 },
  0xd4: { name: 'LWORD', kind: 'unsigned', holds: 'word', octets: 8 },
  0xd5: { name: 'STRING2', kind: 'octets', holds: 'other', octets: null },
  0xd6: { name: 'FTIME', kind: 'signed', holds: 'other', octets: 4 },
  0xd7: { name: 'LTIME', kind: 'signed', holds: 'other', octets: 8 },
  0xd8: { name: 'ITIME', kind: 'signed', holds: 'other', octets: 2 },
  0xd9: { name: 'STRINGN', kind: 'octets', holds: 'other', octets: null },
  0xda: { name: 'SHORT_STRING', kind: 'text', holds: 'other', octets: null },
  0xdb: { name: 'TIME', kind: 'signed', holds: 'other', octets: 4 },
  0xdc: { name: 'EPATH', kind: 'octets', holds: 'other', octets: null },
  0xdd: { name: 'ENGUNIT', kind: 'unsigned', holds: 'other', octets: 2 },
}

/** The CIP type that an EDS file names by its code, such as 0xC3. */
export function cipTypeOf(type: string): CipType | undefined {
  return /^0x[0-9a-f]{2}$/i.test(type) ? cipTypes[Number(type)] : undefined
}

/** A data type in words: EDS files write CIP types as numbers, all others are words already. */
export function typeName(type: string): string {
  return cipTypeOf(type)?.name ?? type
}
