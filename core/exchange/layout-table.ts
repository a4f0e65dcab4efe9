import Papa from 'papaparse'
import {
  blockBits,
  readFieldType,
  wordFieldType,
  type DataField,
  type FieldType,
} from '../vocabulary/data-layout'
import { guarded } from './cell-text'

/** A layout as a table out of a data sheet: what was read, and what could not be, by line. */
export interface LayoutTable {
  readonly fields: readonly DataField[]
  readonly faults: readonly { readonly line: number; readonly sentence: string }[]
}

const columns = ['offset', 'bit', 'bits', 'name', 'type', 'order'] as const
type Column = (typeof columns)[number]

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
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    delimiter: separatorOf(text),
  })
  const rows = data
    .map((cells, i) => ({
      line: i + 1,
      cells: cells.map((cell) => cell.replace(guarded, '').trim()),
    }))
    .filter(({ cells }) => cells.some((cell) => cell !== ''))
  const order = rows[0] ? columnsOf(rows[0].cells) : null
  const fields: DataField[] = []
  const faults: { line: number; sentence: string }[] = []
  for (const { line, cells } of order ? rows.slice(1) : rows) {
    const cell = (column: Column) => cells[(order ?? usual).indexOf(column)] ?? ''
    const field = fields.length < mostFields ? fieldOf(cell) : `more than ${mostFields} fields`
    if (typeof field === 'string') faults.push({ line, sentence: `Line ${line}: ${field}.` })
    else fields.push(field)
  }
  return { fields, faults }
}

/** The columns that a first row names; null where it is a row of fields already. */
function columnsOf(cells: readonly string[]): (Column | null)[] | null {
  const found = cells.map((cell) => columns.find((column) => headings[column].test(cell)) ?? null)
  return found.includes('offset') || found.includes('bit') ? found : null
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
  const [, octetText = '', behind = ''] = /^([^.:]*)(?:[.:](\d+))?$/.exec(text) ?? []
  const octet = text === '' && bitText !== '' ? 0 : numberOf(octetText)
  const bit = bitText === '' ? (behind === '' ? 0 : Number(behind)) : numberOf(bitText)
  if (octet === null || octet < 0) return `"${text}" is no offset; 3, 3.5 and 0x1F are some`
  if (bit === null || bit < 0 || (text !== '' && bit > 63))
    return `"${bitText || behind}" is no bit from 0 to 63`
  const offset = octet * 8 + bit
  return offset < blockBits ? offset : `${text} is beyond the largest block`
}

function numberOf(text: string): number | null {
  if (/^(0x|#x)[0-9a-f]+$/i.test(text)) return parseInt(text.replace(/^(0x|#x)/i, ''), 16)
  return /^\d+$/.test(text) ? Number(text) : null
}

function orderOf(text: string): 'big' | 'little' | undefined | null {
  if (text === '') return undefined
  if (/^(big|big.?endian|motorola|abcd|high first)$/i.test(text)) return 'big'
  return /^(little|little.?endian|intel|dcba|low first)$/i.test(text) ? 'little' : null
}

function separatorOf(text: string): string {
  const [line = ''] = text.trimStart().split(/\r?\n/, 1)
  return ['\t', ';', ','].find((separator) => line.includes(separator)) ?? '\t'
}

/** Fields as a table with headings, tabs between: what `readLayoutTable` reads. */
export function writeLayoutTable(fields: readonly DataField[]): string {
  const rows = fields.map((field) => [
    `${field.offsetBits >> 3}.${field.offsetBits & 7}`,
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
