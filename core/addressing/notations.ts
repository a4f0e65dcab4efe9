import { numbered } from '../vocabulary/plural'
import type { Direction } from '../vocabulary/direction'

/** A place in a controller's image. `bits` 1 is a single bit, else a value beginning at `byte`. */
export interface ImageAddress {
  readonly direction: Direction
  readonly byte: number
  readonly bit: number
  readonly bits: number
}

/** One spelling of places in an image, two-way. */
export interface Notation {
  /** What it is called where somebody chooses. */
  readonly name: string
  /** An example. */
  readonly label: string
  /** Null where the notation has no word for the place. */
  readonly format: (address: ImageAddress) => string | null
  /** Null where the text is no address of this notation. */
  readonly parse: (text: string) => ImageAddress | null
  /** A number alone, as somebody writes it who looks at one side of the image anyway, in full. */
  readonly complete: (text: string, direction: Direction) => string
}

const widths = { X: 1, B: 8, W: 16, D: 32, L: 64 } as const
type Letter = keyof typeof widths
const letters: Readonly<Record<number, Letter>> = { 1: 'X', 8: 'B', 16: 'W', 32: 'D', 64: 'L' }
const areas = { I: 'in', Q: 'out' } as const
const areaOf = (direction: Direction) => (direction === 'in' ? 'I' : 'Q')
const directionOf = (letter: string) => areas[letter.toUpperCase() as keyof typeof areas]
/** A value at a whole byte. */
const whole = (direction: Direction, byte: number, bits: number): ImageAddress => ({
  direction,
  byte,
  bit: 0,
  bits,
})
const bitAt = (direction: Direction, flat: number, bits = 1): ImageAddress => ({
  direction,
  byte: flat >> 3,
  bit: flat & 7,
  bits,
})
const flatOf = ({ byte, bit }: ImageAddress) => byte * 8 + bit

/** IEC 61131-3:2013, 6.5.5.2 directly represented variables; byte-based counting of words is common
 *  practice. A value of another width is named by its first byte. */
const iec: Notation = {
  name: 'IEC 61131-3, by bytes',
  label: '%IX12.3',
  format: ({ direction, byte, bit, bits }) =>
    bits === 1
      ? `%${areaOf(direction)}X${byte}.${bit}`
      : `%${areaOf(direction)}${letters[bits] ?? 'B'}${byte}`,
  parse: (text) => {
    const match = /^%([IQ])(?:X?(\d+)\.([0-7])|([BWDL])(\d+))$/i.exec(text.trim())
    if (!match) return null
    return {
      direction: directionOf(match[1]!),
      byte: Number(match[2] ?? match[5]),
      bit: Number(match[3] ?? 0),
      bits: match[4] === undefined ? 1 : widths[match[4].toUpperCase() as Letter],
    }
  },
  complete: (text, direction) => `%${areaOf(direction)}${text.includes('.') ? 'X' : 'B'}${text}`,
}

/** The same where the controller counts in words: `%IW6` is bytes 12 and 13, `%IX6.11` is byte 13
 *  bit 3 on a little-endian controller and byte 12 bit 3 on a big-endian one; double words count in
 *  their own size (common practice). */
function iecByWords(order: 'little' | 'big'): Notation {
  const flip = order === 'big' ? 1 : 0
  return {
    name: `IEC 61131-3, by words, ${order === 'little' ? 'low' : 'high'} byte first`,
    label: '%IX6.11',
    format: ({ direction, byte, bit, bits }) => {
      if (bits === 1) return `%${areaOf(direction)}X${byte >> 1}.${((byte & 1) ^ flip) * 8 + bit}`
      const letter = letters[bits]
      return letter === undefined || byte % (bits / 8) !== 0
        ? null
        : `%${areaOf(direction)}${letter}${byte / (bits / 8)}`
    },
    parse: (text) => {
      const match = /^%([IQ])(?:(X)(\d+)\.(\d|1[0-5])|([BWDL])(\d+))$/i.exec(text.trim())
      if (!match) return null
      const direction = directionOf(match[1]!)
      if (match[2])
        return {
          direction,
          byte: Number(match[3]) * 2 + ((Number(match[4]) >> 3) ^ flip),
          bit: Number(match[4]) & 7,
          bits: 1,
        }
      const bits = widths[match[5]!.toUpperCase() as Letter]
      return whole(direction, Number(match[6]) * (bits / 8), bits)
    },
    complete: (text, direction) => `%${areaOf(direction)}${text.includes('.') ? 'X' : 'W'}${text}`,
  }
}

/** `in 12.3`: area, byte and bit in decimal, for lists that a person reads. */
const plain: Notation = {
  name: 'Byte and bit',
  label: 'in 12.3',
  format: ({ direction, byte, bit, bits }) =>
    `${direction} ${byte}${bits === 1 ? `.${bit}` : `:${bits}`}`,
  parse: (text) => {
    const match = /^(in|out) (\d+)(?:\.([0-7])|:(\d+))$/i.exec(text.trim())
    return (
      match && {
        direction: match[1]!.toLowerCase() as Direction,
        byte: Number(match[2]),
        bit: Number(match[3] ?? 0),
        bits: match[3] === undefined ? Number(match[4]) : 1,
      }
    )
  },
  complete: (text, direction) => `${direction} ${text}${/[.:]/.test(text) ? '' : ':8'}`,
}

/** Word and bit in it, bit 0 the lowest of the word's first byte: `in word 6.11`. */
const wordBit: Notation = {
  name: 'Word and bit',
  label: 'in word 6.11',
  format: ({ direction, byte, bit, bits }) =>
    bits === 1
      ? `${direction} word ${byte >> 1}.${(byte & 1) * 8 + bit}`
      : byte % 2 === 0
        ? `${direction} word ${byte / 2}${bits === 16 ? '' : `:${bits}`}`
        : null,
  parse: (text) => {
    const match = /^(in|out) word (\d+)(?:\.(\d|1[0-5])|:(\d+))?$/i.exec(text.trim())
    if (!match) return null
    const direction = match[1]!.toLowerCase() as Direction
    return match[3] === undefined
      ? whole(direction, Number(match[2]) * 2, Number(match[4] ?? 16))
      : bitAt(direction, Number(match[2]) * 16 + Number(match[3]))
  },
  complete: (text, direction) => `${direction} word ${text}`,
}

const bases = { decimal: 10, octal: 8, hex: 16 } as const
/** Points counted through, inputs `X` and outputs `Y`: X220 in octal is byte 18 bit 0. A value is
 *  named by its first point and its width. Common practice; modules often count in hex what the
 *  controller counts in octal. */
function flat(base: keyof typeof bases): Notation {
  const radix = bases[base]
  const digits = { decimal: '[0-9]', octal: '[0-7]', hex: '[0-9a-f]' }[base]
  const shape = new RegExp(
    `^([XY])(${digits}+)(?::(\\d+))?(?: ${base}${base === 'hex' ? '(?:adecimal)?' : ''})?$`,
    'i',
  )
  return {
    name: `Points counted through, ${base === 'hex' ? 'hexadecimal' : base}`,
    label: `X${(150).toString(radix).toUpperCase()}`,
    format: (address) =>
      `${address.direction === 'in' ? 'X' : 'Y'}${flatOf(address).toString(radix).toUpperCase()}${address.bits === 1 ? '' : `:${address.bits}`}`,
    parse: (text) => {
      const match = shape.exec(text.trim())
      return (
        match &&
        bitAt(
          match[1]!.toUpperCase() === 'X' ? 'in' : 'out',
          Number.parseInt(match[2]!, radix),
          Number(match[3] ?? 1),
        )
      )
    },
    complete: (text, direction) => `${direction === 'in' ? 'X' : 'Y'}${text}`,
  }
}

/** MODBUS Application Protocol V1.1b3, 4.3: four tables; references count from 1 behind the table's
 *  digit (common practice). */
const tables = {
  coil: { digit: 0, direction: 'out', isBit: true },
  discrete: { digit: 1, direction: 'in', isBit: true },
  input: { digit: 3, direction: 'in', isBit: false },
  holding: { digit: 4, direction: 'out', isBit: false },
} as const
type Table = keyof typeof tables
const tableNames = Object.keys(tables) as Table[]

/** Table and number from 0 of a place; null where no coil or register begins there. */
function modbusOf({
  direction,
  byte,
  bit,
  bits,
}: ImageAddress): { table: Table; number: number } | null {
  const table = tableNames.find(
    (name) => tables[name].direction === direction && tables[name].isBit === (bits === 1),
  )!
  if (bits === 1) return { table, number: byte * 8 + bit }
  return byte % 2 === 0 && bits === 16 ? { table, number: byte / 2 } : null
}

function fromModbus(table: Table, number: number): ImageAddress {
  const { direction, isBit } = tables[table]
  return isBit ? bitAt(direction, number) : whole(direction, number * 2, 16)
}

function modbusReference(digits: 5 | 6): Notation {
  const last = digits === 5 ? 9999 : 65_536
  const shape = new RegExp(`^([0134])(\\d{${digits - 1}})$`)
  return {
    name: `Modbus references, ${digits} digits`,
    label: digits === 5 ? '40013' : '400013',
    format: (address) => {
      const at = modbusOf(address)
      return at && at.number < last
        ? `${tables[at.table].digit}${String(at.number + 1).padStart(digits - 1, '0')}`
        : null
    },
    parse: (text) => {
      const match = shape.exec(text.trim())
      const number = Number(match?.[2])
      return match && number >= 1 && number <= last
        ? fromModbus(
            tableNames.find((name) => tables[name].digit === Number(match[1]))!,
            number - 1,
          )
        : null
    },
    complete: (text) => text,
  }
}

/** The address in the request, from 0. */
const modbusProtocol: Notation = {
  name: 'Modbus, address in the request',
  label: 'holding 12',
  format: (address) => {
    const at = modbusOf(address)
    return at && at.number <= 65_535 ? `${at.table} ${at.number}` : null
  },
  parse: (text) => {
    const match = /^(coil|discrete|input|holding) (\d{1,5})$/i.exec(text.trim())
    return match && Number(match[2]) <= 65_535
      ? fromModbus(match[1]!.toLowerCase() as Table, Number(match[2]))
      : null
  },
  complete: (text, direction) => `${direction === 'in' ? 'input' : 'holding'} ${text}`,
}

export const notations = {
  iec,
  plain,
  'iec-words-low': iecByWords('little'),
  'iec-words-high': iecByWords('big'),
  'word-bit': wordBit,
  decimal: flat('decimal'),
  octal: flat('octal'),
  hex: flat('hex'),
  'modbus-5': modbusReference(5),
  'modbus-6': modbusReference(6),
  'modbus-0': modbusProtocol,
} satisfies Record<string, Notation>
export type NotationName = keyof typeof notations
export const notationNames = Object.keys(notations) as [NotationName, ...NotationName[]]

/** The place in a notation; by bytes of IEC 61131-3 where that notation has no word for it. */
export function formatAddress(address: ImageAddress, notation: NotationName = 'iec'): string {
  return notations[notation].format(address) ?? iec.format(address)!
}

/** A place on one side of an image as somebody types it who knows the notation: in full, without
 *  the leading `%`, or the number alone. Null where it is none, or lies on the other side. */
export function readTyped(
  text: string,
  notation: NotationName,
  direction: Direction,
): ImageAddress | null {
  const { parse, complete } = notations[notation]
  const typed = text.trim()
  const address =
    parse(typed) ??
    parse(`%${typed}`) ??
    (/^[0-9a-f]+([.:]\d+)?$/i.test(typed) ? parse(complete(typed, direction)) : null) ??
    (typed.startsWith('%') ? iec.parse(typed) : null)
  return address?.direction === direction ? address : null
}

const countsPoints = (notation: NotationName) =>
  notation === 'decimal' || notation === 'octal' || notation === 'hex'
const countsRegisters = (notation: NotationName) =>
  notation === 'word-bit' || notation.startsWith('modbus')

/** In pieces of how many bits a notation names a block: points, registers where it is made of whole
 *  ones, else bytes. */
function unitOf(start: number, bits: number, notation: NotationName): number {
  if (countsPoints(notation) || bits < 8 || start % 8 !== 0) return 1
  return countsRegisters(notation) && start % 16 === 0 && bits % 16 === 0 ? 16 : 8
}

/** Where a block begins, in a notation. Start and size in bits, counted through from byte 0. */
export function wordStart(
  direction: Direction,
  start: number,
  bits: number,
  notation: NotationName,
): string {
  return formatAddress(
    { direction, byte: start >> 3, bit: start & 7, bits: unitOf(start, bits, notation) },
    notation,
  )
}

/** What a block takes, in a notation: `Y200 … Y277, 64 points`, `%QB4 … %QB7, 4 bytes`. Start and
 *  size in bits, counted through from byte 0. */
export function wordExtent(
  direction: Direction,
  start: number,
  bits: number,
  notation: NotationName,
): string {
  const unit = unitOf(start, bits, notation)
  const at = (bit: number) =>
    formatAddress({ direction, byte: bit >> 3, bit: bit & 7, bits: unit }, notation)
  const amount =
    unit > 1 ? numbered(bits / 8, 'byte') : numbered(bits, countsPoints(notation) ? 'point' : 'bit')
  return bits <= unit
    ? `${at(start)}, ${amount}`
    : `${at(start)} … ${at(start + bits - unit)}, ${amount}`
}

export interface Reading {
  readonly notation: NotationName
  readonly address: ImageAddress
}

/** Every place that a text may mean, one reading a place: first in the notations that the
 *  controllers use. */
export function readAddress(text: string, preferred: readonly NotationName[] = []): Reading[] {
  const readings: Reading[] = []
  // Who searches leaves the sign out.
  const typed = /^[IQ][XBWDL]?\d/i.test(text.trim()) ? `%${text.trim()}` : text
  for (const notation of new Set([...preferred, ...notationNames])) {
    const address = notations[notation].parse(typed)
    if (address && !readings.some((one) => sameAddress(one.address, address)))
      readings.push({ notation, address })
  }
  return readings
}

function sameAddress(a: ImageAddress, b: ImageAddress): boolean {
  return a.direction === b.direction && a.byte === b.byte && a.bit === b.bit && a.bits === b.bits
}
