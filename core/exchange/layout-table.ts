import Papa from 'papaparse'
import {
  blockBits,
  readFieldType,
  wordFieldType,
  type DataField,
  type FieldType,
} from '../vocabulary/data-layout'
import { pastedRows, type PastedFault } from './pasted-table'

/** A layout as a table out of a data sheet: what was read, and what could not be, by line. */
export interface LayoutTable {
  readonly fields: readonly DataField[]
  readonly faults: readonly PastedFault[]
}

type Column = 'offset' | 'bit' | 'bits' | 'name' | 'type' | 'order'

/** Headings by which a column is known (common practice). */
const headings: Readonly<Record<Column, RegExp>> = {
  offset: /^(offset|octet|byte|address|position|pos\.?|byte ?offset|octet ?offset)$/i,
  bit: /^(bit|bit ?(no\.?|number|offset|position))$/i,
  bits: /^(bits|length|size|width|bit ?length|length \(bits?\))$/i,
  name: /^(name|description|signal|meaning|content|text|bezeichnung|beschreibung)$/i,
  type: /^(type|data ?type|format|datentyp|typ)$/i,
  order: /^(order|octet ?order|byte ?order|endian)$/i,
}
/** Without headings: offset, bits, name, type, order. */
const usual: readonly Column[] = ['offset', 'bits', 'name', 'type', 'order']
const mostFields = 10_000

/** Reads a table of fields: offset in octets, with a bit behind a point (`3`, `3.5`, `0x1F`) or in a
 *  column of its own; bits; name; type by IEC 61131-3 or CIP, or with its width (`uint16`, `port
 *  3`, `unused`). Columns by their headings in any order, else offset, bits, name, type. Separated
 *  by tabs, commas or semicolons. */
export function readLayoutTable(text: string): LayoutTable {
  const fields: DataField[] = []
  const faults: PastedFault[] = []
  const names = (found: readonly (Column | null)[]) =>
    found.includes('offset') || found.includes('bit')
  for (const { line, cell } of pastedRows(text, headings, usual, names)) {
    const field = fields.length < mostFields ? fieldOf(cell) : `more than ${mostFields} fields`
    if (typeof field === 'string') faults.push({ line, sentence: `Line ${line}: ${field}.` })
    else fields.push(field)
  }
  return { fields, faults }
}

/** One field, or a clause why it is none. */
function fieldOf(cell: (column: Column) => string): DataField | string {
  const offsetBits = offsetOf(cell('offset'), cell('bit'))
  if (typeof offsetBits === 'string') return offsetBits
  const given = cell('type') === '' ? null : readFieldType(cell('type'))
  if (cell('type') !== '' && !given) return `"${cell('type')}" is no type; UINT16 and BOOL are some`
  const stated = cell('bits') === '' ? null : numberOf(cell('bits'))
  if (cell('bits') !== '' && (stated === null || stated < 1 || stated > blockBits))
    return `"${cell('bits')}" is no number of bits`
  const bits = stated ?? given?.bits ?? (given ? null : 1)
  if (bits === null) return `${wordNeed(given!.type)} needs its number of bits`
  if (given?.bits != null && stated !== null && stated !== given.bits)
    return `${cell('type')} has ${given.bits} bits, the table says ${stated}`
  const order = orderOf(cell('order'))
  if (order === null) return `"${cell('order')}" is no order of octets; big and little are`
  return {
    name: cell('name').slice(0, 200),
    type: given?.type ?? (bits === 1 ? 'bit' : 'unsigned'),
    offsetBits,
    bits,
    ...(order && { order }),
    ...(given?.port !== undefined && { port: given.port }),
  }
}

const wordNeed = (type: FieldType) => (type === 'port' ? 'a port' : `the type "${type}"`)

function offsetOf(text: string, bitText: string): number | string {
  if (bitText === '') return readOffset(text) ?? `"${text}" is no offset; 3, 3.5 and 0x1F are some`
  const octet = text === '' ? 0 : readOffset(text)
  const bit = numberOf(bitText)
  if (octet === null || octet % 8 !== 0) return `"${text}" is no octet; 3 and 0x1F are some`
  if (bit === null || octet + bit >= blockBits) return `"${bitText}" is no bit of it`
  return octet + bit
}

/** A place as octet and bit, `3.5`, or an octet alone, `0x1F`, in bits; null where it is none or
 *  beyond the largest block. */
export function readOffset(text: string): number | null {
  const [, octetText = '', bit = '0'] = /^([^.:]+)(?:[.:](\d{1,2}))?$/.exec(text.trim()) ?? []
  const octet = numberOf(octetText)
  if (octet === null || Number(bit) > 63) return null
  const offset = octet * 8 + Number(bit)
  return offset < blockBits ? offset : null
}

/** The inverse: `3.5`. */
export const wordOffset = (offsetBits: number) => `${offsetBits >> 3}.${offsetBits & 7}`

function numberOf(text: string): number | null {
  if (/^(0x|#x)[0-9a-f]+$/i.test(text)) return parseInt(text.replace(/^(0x|#x)/i, ''), 16)
  return /^\d+$/.test(text) ? Number(text) : null
}

function orderOf(text: string): 'big' | 'little' | undefined | null {
  if (text === '') return undefined
  if (/^(big|big.?endian|motorola|abcd|high first)$/i.test(text)) return 'big'
  return /^(little|little.?endian|intel|dcba|low first)$/i.test(text) ? 'little' : null
}

/** Fields as a table with headings, tabs between: what `readLayoutTable` reads. */
export function writeLayoutTable(fields: readonly DataField[]): string {
  const rows = fields.map((field) => [
    wordOffset(field.offsetBits),
    String(field.bits),
    field.name,
    wordFieldType(field),
    field.order ?? '',
  ])
  return Papa.unparse([['Offset', 'Bits', 'Name', 'Type', 'Order'], ...rows], {
    delimiter: '\t',
    newline: '\n',
  })
}
