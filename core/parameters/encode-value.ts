/** Where a value stands in a record: octet offset, bit offset within that octet, width in bits. */
export interface ValuePlace {
  readonly type: string
  readonly offsetBytes: number
  readonly offsetBits: number
  readonly bits: number
}

/** Writes a value into a record. Numbers of whole octets are big-endian; bits count from the least significant bit
 *  of the octet at the offset and go on into the next octet's low bits (GSDML specification leaves the latter open).
 *  Short texts are filled with blanks (from memory). Bits that lie beyond the record are dropped. */
export function encodeValue(bytes: Uint8Array, place: ValuePlace, value: number | string): void {
  const octets = place.bits / 8
  if (typeof value === 'string') {
    for (let i = 0; i < octets; i++) put(bytes, place.offsetBytes + i, i < value.length ? value.charCodeAt(i) & 0xff : 0x20)
  } else if (place.type === 'Float32' || place.type === 'Float64') {
    const view = new DataView(new ArrayBuffer(8))
    if (octets === 4) view.setFloat32(0, value)
    else view.setFloat64(0, value)
    for (let i = 0; i < octets; i++) put(bytes, place.offsetBytes + i, view.getUint8(i))
  } else if (place.type === 'Bit' || place.type === 'BitArea') {
    writeBits(bytes, place, value)
  } else {
    let rest = BigInt.asUintN(place.bits, BigInt(Math.trunc(value)))
    for (let i = octets - 1; i >= 0; i--) {
      put(bytes, place.offsetBytes + i, Number(rest & 0xffn))
      rest >>= 8n
    }
  }
}

function writeBits(bytes: Uint8Array, place: ValuePlace, value: number): void {
  for (let bit = 0; bit < place.bits; bit++) {
    const at = place.offsetBits + bit
    const index = place.offsetBytes + (at >> 3)
    const mask = 1 << (at & 7)
    const isSet = Math.floor(value / 2 ** bit) % 2 === 1
    put(bytes, index, isSet ? (bytes[index] ?? 0) | mask : (bytes[index] ?? 0) & ~mask)
  }
}

function put(bytes: Uint8Array, index: number, value: number): void {
  if (index < bytes.length) bytes[index] = value
}

/** Lower case hex, two digits an octet, separated by blanks. */
export function toHex(bytes: Uint8Array): string {
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join(' ')
}

export function fromHex(text: string): Uint8Array {
  return Uint8Array.from(text.trim() === '' ? [] : text.trim().split(/\s+/), (octet) => parseInt(octet, 16))
}
