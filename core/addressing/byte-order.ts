import type { ByteOrder, Turn } from '../vocabulary/byte-order'
import type { NumberKind } from '../vocabulary/data-kind'

export const turnWords: Readonly<Record<Turn, string>> = {
  '': 'as they come (ABCD)',
  BADC: 'octets of each word swapped (BADC)',
  CDAB: 'words swapped (CDAB)',
  DCBA: 'turned round (DCBA)',
}

const swapOctets = (octets: Uint8Array) =>
  octets.map((_, i) => octets[(i ^ 1) < octets.length ? i ^ 1 : i]!)
const turned: Readonly<Record<Turn, (octets: Uint8Array) => Uint8Array>> = {
  '': (octets) => octets,
  BADC: swapOctets,
  CDAB: (octets) => (octets.length % 2 === 0 ? swapOctets(octets.slice().reverse()) : octets),
  DCBA: (octets) => octets.slice().reverse(),
}

/** The octets turned; each turn is its own inverse. */
export function turnOctets(octets: Uint8Array, turn: Turn): Uint8Array {
  return turned[turn](octets)
}

/** A number as octets. Floats take 4 or 8 octets (IEEE 754). */
export function toOctets(
  value: number,
  length: number,
  kind: NumberKind,
  order: ByteOrder,
): Uint8Array {
  const octets = new Uint8Array(length)
  const view = new DataView(octets.buffer)
  if (kind === 'float' && length === 4) view.setFloat32(0, value)
  else if (kind === 'float' && length === 8) view.setFloat64(0, value)
  else {
    let rest = BigInt.asUintN(length * 8, BigInt(Math.trunc(value)))
    for (let i = length - 1; i >= 0; i--, rest >>= 8n) octets[i] = Number(rest & 0xffn)
  }
  return order === 'big' ? octets : octets.reverse()
}

/** Octets as a number. */
export function fromOctets(octets: Uint8Array, kind: NumberKind, order: ByteOrder): number {
  const big = order === 'big' ? octets : octets.slice().reverse()
  const view = new DataView(big.buffer, big.byteOffset, big.length)
  if (kind === 'float' && big.length === 4) return view.getFloat32(0)
  if (kind === 'float' && big.length === 8) return view.getFloat64(0)
  const raw = big.reduce((sum, octet) => (sum << 8n) | BigInt(octet), 0n)
  return Number(kind === 'signed' ? BigInt.asIntN(big.length * 8, raw) : raw)
}

/** What becomes of a value on its way: the octets that travel, those in the image, and what the
 *  program reads there. */
export interface Passage {
  readonly wire: Uint8Array
  readonly image: Uint8Array
  readonly seen: number
}

export interface PassageOrders {
  readonly wire: ByteOrder
  readonly turn: Turn
  /** `network`: the controller turns octets as its network asks. */
  readonly program: ByteOrder | 'network'
}

export function passage(
  value: number,
  bits: number,
  kind: NumberKind,
  { wire, turn, program }: PassageOrders,
): Passage {
  const sent = toOctets(value, bits / 8, kind, wire)
  const image = turnOctets(sent, turn)
  return {
    wire: sent,
    image,
    seen: fromOctets(image, kind, program === 'network' ? wire : program),
  }
}

/** The turn with which a program reads a value of that width as the device means it. */
export function turnNeeded(bits: number, wire: ByteOrder, program: ByteOrder | 'network'): Turn {
  if (program === 'network' || program === wire || bits <= 8) return ''
  return bits === 16 ? 'BADC' : 'DCBA'
}

/** Whether two turns do the same to a value of that width. */
export function sameTurn(bits: number, a: Turn, b: Turn): boolean {
  const octets = Uint8Array.from({ length: bits / 8 }, (_, i) => i)
  return turnOctets(octets, a).every((octet, i) => octet === turnOctets(octets, b)[i])
}

/** Values whose octets can come in a wrong order. */
export function hasByteOrder({
  bits,
  offsetBits,
}: {
  readonly bits: number
  readonly offsetBits: number
}): boolean {
  return (bits === 16 || bits === 32 || bits === 64) && offsetBits % 8 === 0
}

export function turnOf(
  orders: Readonly<Record<string, Turn>>,
  {
    subslot,
    direction,
    offsetBits,
  }: { readonly subslot: number; readonly direction: string; readonly offsetBits: number },
): Turn {
  return orders[`${subslot}.${direction}.${offsetBits}`] ?? ''
}
