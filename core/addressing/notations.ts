import type { Direction } from '../catalog/layout'

/** A place in a controller's image. `bits` 1 is a single bit, else a value beginning at `byte`. */
export interface ImageAddress {
  readonly direction: Direction
  readonly byte: number
  readonly bit: number
  readonly bits: number
}

interface Notation {
  readonly label: string
  readonly format: (address: ImageAddress) => string
  /** Null where the text is no address of this notation. */
  readonly parse: (text: string) => ImageAddress | null
}

const widths = { X: 1, B: 8, W: 16, D: 32, L: 64 } as const
const letters: Readonly<Record<number, keyof typeof widths>> = { 1: 'X', 8: 'B', 16: 'W', 32: 'D', 64: 'L' }
const areas = { I: 'in', Q: 'out' } as const

/** IEC 61131-3:2013, 6.5.5.2 directly represented variables; byte-based counting of words is common practice.
 *  A value of another width is named by its first byte. */
const iec: Notation = {
  label: '%IX12.3',
  format: ({ direction, byte, bit, bits }) => {
    const area = direction === 'in' ? 'I' : 'Q'
    return bits === 1 ? `%${area}X${byte}.${bit}` : `%${area}${letters[bits] ?? 'B'}${byte}`
  },
  parse: (text) => {
    const match = /^%([IQ])(?:(X)(\d+)\.([0-7])|([BWDL])(\d+))$/i.exec(text.trim())
    if (!match) return null
    const letter = (match[2] ?? match[5])!.toUpperCase() as keyof typeof widths
    return {
      direction: areas[match[1]!.toUpperCase() as keyof typeof areas],
      byte: Number(match[3] ?? match[6]),
      bit: Number(match[4] ?? 0),
      bits: widths[letter],
    }
  },
}

/** `I 12.3`: area, byte and bit in decimal, for lists that a person reads. */
const plain: Notation = {
  label: 'in 12.3',
  format: ({ direction, byte, bit, bits }) => `${direction} ${byte}${bits === 1 ? `.${bit}` : `:${bits}`}`,
  parse: (text) => {
    const match = /^(in|out) (\d+)(?:\.([0-7])|:(\d+))$/.exec(text.trim())
    return match && {
      direction: match[1] as Direction,
      byte: Number(match[2]),
      bit: Number(match[3] ?? 0),
      bits: match[3] === undefined ? Number(match[4]) : 1,
    }
  },
}

export const notations = { iec, plain } satisfies Record<string, Notation>
export type NotationName = keyof typeof notations

export function formatAddress(address: ImageAddress, notation: NotationName = 'iec'): string {
  return notations[notation].format(address)
}
