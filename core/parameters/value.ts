import type { Parameter } from '../catalog/model'
import { parseOctets, toHex } from '../vocabulary/hex'

/** Where a value stands in a record: the octets it touches are one number in its byte order, and it
 *  begins at bit `offsetBits` of that number. So a GSDML bit area goes on in the next octet's low
 *  bits, an IODD field in the octet before. */
export type ValuePlace = Pick<
  Parameter,
  'kind' | 'byteOrder' | 'offsetBytes' | 'offsetBits' | 'bits' | 'fill' | 'lengthOctets'
>

/** Writes a value into a record; what lies beyond the record's end is dropped. Short texts are
 *  filled with blanks or what `fill` says, short octet strings with zeros; a Boolean of its own is
 *  00 or FF (from memory). Fractions of whole-number values are cut off. */
export function encodeValue(bytes: Uint8Array, place: ValuePlace, value: number | string): void {
  if (place.kind === 'text' || place.kind === 'octets')
    putOctets(bytes, place, octetsOf(place, String(value)))
  else if (place.kind === 'boolean') writeBits(bytes, place, Number(value) === 0 ? 0n : 0xffn)
  else if (place.kind === 'float') putOctets(bytes, place, floatOctets(place, Number(value)))
  else if (place.offsetBits === 0 && place.bits % 8 === 0 && place.bits <= 32)
    writeOctets(bytes, place, Math.trunc(Number(value)))
  else writeBits(bytes, place, BigInt.asUintN(place.bits, BigInt(Math.trunc(Number(value)))))
}

/** Reads what stands there; texts lose the blanks and zeros they were filled with. */
export function decodeValue(bytes: Uint8Array, place: ValuePlace): number | string {
  const own = bytes.subarray(place.offsetBytes, place.offsetBytes + place.bits / 8)
  if (place.kind === 'text') return decodeText(own, place.lengthOctets ?? 0)
  if (place.kind === 'octets') return toHex(own)
  if (place.kind === 'float') {
    const view = new DataView(
      Uint8Array.from({ length: place.bits / 8 }, (_, i) => own[i] ?? 0).buffer,
    )
    const isLittle = place.byteOrder === 'little'
    return place.bits === 32 ? view.getFloat32(0, isLittle) : view.getFloat64(0, isLittle)
  }
  const raw = readBits(bytes, place)
  if (place.kind === 'boolean') return raw === 0n ? 0 : 1
  return Number(place.kind === 'signed' ? BigInt.asIntN(place.bits, raw) : raw)
}

/** What a value of this kind and width can hold at all; null for floating values and texts. */
export function rangeOf({
  kind,
  bits,
}: Pick<ValuePlace, 'kind' | 'bits'>): readonly [number, number] | null {
  if (kind === 'boolean') return [0, 1]
  if (kind === 'unsigned') return [0, 2 ** bits - 1]
  if (kind === 'signed') return [-(2 ** (bits - 1)), 2 ** (bits - 1) - 1]
  return null
}

/** Every bit of the record that a value takes, from its least significant one up. */
export function bitPlaces(place: ValuePlace): { readonly octet: number; readonly bit: number }[] {
  if (place.kind === 'text' || place.kind === 'octets')
    return Array.from({ length: place.bits }, (_, i) => ({
      octet: place.offsetBytes + (i >> 3),
      bit: i & 7,
    }))
  const touched = octetsTouched(place)
  return Array.from({ length: place.bits }, (_, i) => ({
    octet: touched[(place.offsetBits + i) >> 3]!,
    bit: (place.offsetBits + i) & 7,
  }))
}

/** Octets of the record that a value touches, from its least significant one up. */
function octetsTouched({ byteOrder, offsetBytes, offsetBits, bits }: ValuePlace): number[] {
  const count = Math.ceil((offsetBits + bits) / 8)
  const octets = Array.from({ length: count }, (_, i) => offsetBytes + i)
  return byteOrder === 'big' ? octets.reverse() : octets
}

function writeBits(bytes: Uint8Array, place: ValuePlace, value: bigint): void {
  const mask = ((1n << BigInt(place.bits)) - 1n) << BigInt(place.offsetBits)
  const placed = value << BigInt(place.offsetBits)
  for (const [i, index] of octetsTouched(place).entries()) {
    if (index >= bytes.length) continue
    const own = Number((mask >> BigInt(8 * i)) & 0xffn)
    bytes[index] = (bytes[index]! & ~own) | Number((placed >> BigInt(8 * i)) & 0xffn)
  }
}

/** The common case of `writeBits`, a whole number of whole octets, without big integers. */
function writeOctets(
  bytes: Uint8Array,
  { byteOrder, offsetBytes, bits }: ValuePlace,
  value: number,
): void {
  const count = bits / 8
  for (let i = 0; i < count; i++) {
    const index = offsetBytes + (byteOrder === 'big' ? count - 1 - i : i)
    if (index < bytes.length) bytes[index] = Math.floor(value / 2 ** (8 * i)) & 0xff
  }
}

function readBits(bytes: Uint8Array, place: ValuePlace): bigint {
  let number = 0n
  for (const [i, index] of octetsTouched(place).entries())
    number |= BigInt(bytes[index] ?? 0) << BigInt(8 * i)
  return (number >> BigInt(place.offsetBits)) & ((1n << BigInt(place.bits)) - 1n)
}

function decodeText(own: Uint8Array, lengthOctets: number): string {
  if (lengthOctets === 0) return new TextDecoder().decode(own).replace(/[\0 ]+$/, '')
  const length = (own[0] ?? 0) + (lengthOctets === 2 ? 256 * (own[1] ?? 0) : 0)
  return new TextDecoder().decode(own.subarray(lengthOctets, lengthOctets + length))
}

function octetsOf(
  { kind, fill, lengthOctets, bits }: ValuePlace,
  text: string,
): (index: number) => number {
  if (kind === 'octets') {
    const octets = parseOctets(text) ?? new Uint8Array()
    return (index) => octets[index] ?? 0
  }
  const before = lengthOctets ?? 0
  const octets = new TextEncoder().encode(text).subarray(0, Math.max(0, bits / 8 - before))
  const filler = before > 0 ? 0 : (fill ?? 0x20)
  return (index) =>
    index < before ? (octets.length >> (8 * index)) & 0xff : (octets[index - before] ?? filler)
}

function floatOctets({ bits, byteOrder }: ValuePlace, value: number): (index: number) => number {
  const view = new DataView(new ArrayBuffer(8))
  if (bits === 32) view.setFloat32(0, value, byteOrder === 'little')
  else view.setFloat64(0, value, byteOrder === 'little')
  return (index) => view.getUint8(index)
}

function putOctets(
  bytes: Uint8Array,
  { offsetBytes, bits }: ValuePlace,
  octet: (index: number) => number,
): void {
  for (let i = 0; i < bits / 8 && offsetBytes + i < bytes.length; i++)
    bytes[offsetBytes + i] = octet(i)
}
