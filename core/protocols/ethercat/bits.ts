/** A stretch of bits in a logical image. */
export interface BitPlace {
  readonly bit: number
  readonly bits: number
}

export function putBits(image: Uint8Array, { bit, bits }: BitPlace, data: Uint8Array): void {
  if (bit % 8 === 0 && bits % 8 === 0) image.set(data.subarray(0, bits / 8), bit / 8)
  else
    for (let i = 0; i < bits; i++) {
      const mask = 1 << ((bit + i) & 7)
      const at = (bit + i) >> 3
      image[at] = (data[i >> 3]! >> (i & 7)) & 1 ? image[at]! | mask : image[at]! & ~mask
    }
}

export function takeBits(image: Uint8Array, { bit, bits }: BitPlace): Uint8Array {
  if (bit % 8 === 0 && bits % 8 === 0) return image.slice(bit / 8, (bit + bits) / 8)
  const data = new Uint8Array(Math.ceil(bits / 8))
  for (let i = 0; i < bits; i++)
    if ((image[(bit + i) >> 3]! >> ((bit + i) & 7)) & 1) data[i >> 3]! |= 1 << (i & 7)
  return data
}
