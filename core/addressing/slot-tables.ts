/** How a gateway writes its table of nibbles: word by word with the lowest nibble first, the words'
 *  octets in either order, or octet by octet with the higher nibble first. It varies with the
 *  gateway (common practice); the device sheet says it. */
export const nibbleOrders = [
  'words-low-first',
  'words-high-first',
  'octets-high-nibble-first',
] as const
export type NibbleOrder = (typeof nibbleOrders)[number]

/** Where entry `n` of a table of half octets stands, in bits from its first octet. Entry 0 are the
 *  gateway's flags, entry n is node n: word ⌊n/4⌋, bits 4·(n mod 4) to +3 of that word (common
 *  practice). */
export function nibbleOffset(n: number, order: NibbleOrder): number {
  const octet = n >> 1
  const isHigh = (n & 1) === 1
  if (order === 'octets-high-nibble-first') return octet * 8 + (isHigh ? 0 : 4)
  return (order === 'words-high-first' ? octet ^ 1 : octet) * 8 + (isHigh ? 4 : 0)
}

/** Octets of a table for so many nodes: flags and nodes, in whole words. */
export function nibbleTableBytes(nodes: number): number {
  return Math.ceil((nodes + 1) / 4) * 2
}

/** Where the data of the slot with that place in the rack stand: behind the header, every slot
 *  alike, whether or not something is plugged there (common practice). Slots count from 0. */
export function rackOffset(headerBytes: number, slotBytes: number, slot: number): number {
  return (headerBytes + slotBytes * slot) * 8
}
