import type { ValueKind } from './model'

/** CIP elementary data types by code: name, what they hold, octets (CIP Vol. 1, App. C). Null
 *  octets: the parameter says its size. */
export const cipTypes: Readonly<
  Record<
    number,
    { readonly name: string; readonly kind: ValueKind; readonly octets: number | null }
  >
> = {
  0xc1: { name: 'BOOL', kind: 'unsigned', octets: 1 },
  0xc2: { name: 'SINT', kind: 'signed', octets: 1 },
  0xc3: { name: 'INT', kind: 'signed', octets: 2 },
  0xc4: { name: 'DINT', kind: 'signed', octets: 4 },
  0xc5: { name: 'LINT', kind: 'signed', octets: 8 },
  0xc6: { name: 'USINT', kind: 'unsigned', octets: 1 },
  0xc7: { name: 'UINT', kind: 'unsigned', octets: 2 },
  0xc8: { name: 'UDINT', kind: 'unsigned', octets: 4 },
  0xc9: { name: 'ULINT', kind: 'unsigned', octets: 8 },
  0xca: { name: 'REAL', kind: 'float', octets: 4 },
  0xcb: { name: 'LREAL', kind: 'float', octets: 8 },
  0xcc: { name: 'STIME', kind: 'signed', octets: 4 },
  0xcd: { name: 'DATE', kind: 'unsigned', octets: 2 },
  0xce: { name: 'TIME_OF_DAY', kind: 'unsigned', octets: 4 },
  0xcf: { name: 'DATE_AND_TIME', kind: 'octets', octets: 6 },
  0xd0: { name: 'STRING', kind: 'text', octets: null },
  0xd1: { name: 'BYTE', kind: 'unsigned', octets: 1 },
  0xd2: { name: 'WORD', kind: 'unsigned', octets: 2 },
  0xd3: { name: 'DWORD', kind: 'unsigned', octets: 4 },
  0xd4: { name: 'LWORD', kind: 'unsigned', octets: 8 },
  0xd5: { name: 'STRING2', kind: 'octets', octets: null },
  0xd6: { name: 'FTIME', kind: 'signed', octets: 4 },
  0xd7: { name: 'LTIME', kind: 'signed', octets: 8 },
  0xd8: { name: 'ITIME', kind: 'signed', octets: 2 },
  0xd9: { name: 'STRINGN', kind: 'octets', octets: null },
  0xda: { name: 'SHORT_STRING', kind: 'text', octets: null },
  0xdb: { name: 'TIME', kind: 'signed', octets: 4 },
  0xdc: { name: 'EPATH', kind: 'octets', octets: null },
  0xdd: { name: 'ENGUNIT', kind: 'unsigned', octets: 2 },
}

/** A data type in words: EDS files write CIP types as numbers, all others are words already. */
export function typeName(type: string): string {
  const code = /^0x[0-9a-f]{2}$/i.test(type) ? Number(type) : null
  return (code === null ? undefined : cipTypes[code]?.name) ?? type
}
