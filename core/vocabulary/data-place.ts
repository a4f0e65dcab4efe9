import type { Direction } from './direction'

/** Where a channel stands in the data of a head or module: in bits from the start of one direction
 *  of a subslot. `part`: named bits of a number that has a channel of its own, which may begin at
 *  the same bit. */
export interface DataPlace {
  readonly subslot: number
  readonly direction: Direction
  readonly offsetBits: number
  readonly part?: true | undefined
}

/** Only the place of what has more to it. */
export function placeOf({ subslot, direction, offsetBits, part }: DataPlace): {
  subslot: number
  direction: Direction
  offsetBits: number
  part?: true
} {
  return { subslot, direction, offsetBits, ...(part && { part }) }
}

/** A place as one word, the same for the same place only. */
export function placeText({ subslot, direction, offsetBits, part }: DataPlace): string {
  return `${subslot}/${direction}/${offsetBits}${part ? '/part' : ''}`
}
