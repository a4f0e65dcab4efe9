import type { DataKind } from '../../vocabulary/data-kind'

/** Base data types of CoE objects (ETG.1020, base data types; from memory) by what they hold. */
const typesByKind: readonly (readonly [DataKind, readonly string[]])[] = [
  ['boolean', ['BOOL', 'BIT']],
  ['signed', ['SINT', 'INT', 'INT24', 'DINT', 'INT40', 'INT48', 'INT56', 'LINT']],
  ['unsigned', ['USINT', 'UINT', 'UINT24', 'UDINT', 'UINT40', 'UINT48', 'UINT56', 'ULINT']],
  ['float', ['REAL', 'LREAL']],
  ['word', ['BYTE', 'WORD', 'DWORD', 'LWORD']],
]
const kinds = new Map(typesByKind.flatMap(([kind, types]) => types.map((type) => [type, kind])))

/** What a value of a data type holds: `other` where it is none of the base types for numbers. */
export function dataKindOf(type: string): DataKind {
  return kinds.get(type) ?? kinds.get(type.toUpperCase()) ?? 'other'
}
