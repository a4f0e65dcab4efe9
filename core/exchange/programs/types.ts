import type { Channel } from '../../catalog/layout'
import type { DataKind } from '../../vocabulary'

/** Elementary types of IEC 61131-3 (6.4.2) by what a value holds and how wide it is. */
const elementaryTypes: Readonly<Partial<Record<DataKind, Readonly<Record<number, string>>>>> = {
  float: { 32: 'REAL', 64: 'LREAL' },
  unsigned: { 8: 'USINT', 16: 'UINT', 32: 'UDINT', 64: 'ULINT' },
  signed: { 8: 'SINT', 16: 'INT', 32: 'DINT', 64: 'LINT' },
}
const bitStrings: Readonly<Record<number, string>> = {
  1: 'BOOL',
  8: 'BYTE',
  16: 'WORD',
  32: 'DWORD',
  64: 'LWORD',
}

/** An elementary type, or so many octets. */
export type VariableType = string | { readonly octets: number }

/** The type of IEC 61131-3 that a channel's value has. */
export function typeOfChannel({ bits, holds }: Channel): VariableType {
  return elementaryTypes[holds]?.[bits] ?? bitStrings[bits] ?? { octets: Math.ceil(bits / 8) }
}

/** As Structured Text declares it. */
export function wordType(type: VariableType): string {
  return typeof type === 'string' ? type : `ARRAY [0..${type.octets - 1}] OF BYTE`
}
