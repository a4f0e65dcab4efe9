/** Where data have to begin so that the numbers in them stand at multiples of what they take:
 *  `rest` bytes beyond a multiple of `bytes`. */
export interface Alignment {
  readonly bytes: 1 | 2 | 4
  readonly rest: number
  /** Numbers that stand otherwise wherever the data begin, since the device lays them out so. */
  readonly forced: number
}

export const anywhere: Alignment = { bytes: 1, rest: 0, forced: 0 }

/** What a number of so many bits is aligned to, in bytes: 16 bits to even bytes, 32 and more to
 *  multiples of four (common practice). */
export function bytesOfNumber(bits: number): 1 | 2 | 4 {
  return bits >= 32 ? 4 : bits >= 16 ? 2 : 1
}

/** Whether a number stands right where its data begin at a byte. Offset and size in bits. */
export function standsRight(
  { offsetBits, bits }: { readonly offsetBits: number; readonly bits: number },
  byte: number,
): boolean {
  const bytes = bytesOfNumber(bits)
  return bytes === 1 || (byte * 8 + offsetBits) % (bytes * 8) === 0
}

/** Where data with these numbers have to begin so that as many of them as possible stand right.
 *  Offsets and sizes in bits. */
export function alignmentOf(
  numbers: readonly { readonly offsetBits: number; readonly bits: number }[],
): Alignment {
  const bytes = numbers.reduce<1 | 2 | 4>(
    (widest, { bits }) => (bytesOfNumber(bits) > widest ? bytesOfNumber(bits) : widest),
    1,
  )
  const found = Array.from({ length: bytes }, (_, rest) => ({
    rest,
    forced: numbers.filter((number) => !standsRight(number, rest)).length,
  }))
  const best = found.reduce((least, one) => (one.forced < least.forced ? one : least))
  // Where no beginning helps, none is asked for.
  return best.forced === found[0]!.forced && found.every(({ forced }) => forced === best.forced)
    ? { ...anywhere, forced: best.forced }
    : { bytes, ...best }
}

/** Bytes to leave free from a position on until data may begin. */
export function gapBefore(
  position: number,
  { bytes, rest }: Pick<Alignment, 'bytes' | 'rest'>,
): number {
  return (((rest - position) % bytes) + bytes) % bytes
}

/** In words: `a multiple of 4`, `3 beyond a multiple of 4`. */
export function wordAlignment({ bytes, rest }: Alignment): string {
  return `${rest === 0 ? '' : `${rest} beyond `}a multiple of ${bytes}`
}
