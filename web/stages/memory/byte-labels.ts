import { notations, type Direction, type NotationName } from '@kataxis/core'

/** What the head of a byte's row says; empty where the notation has no word for a place that begins
 *  there. */
export function byteLabel(direction: Direction, byte: number, notation: NotationName): string {
  if (notation === 'plain') return `${direction} ${byte}`
  const bits =
    notation === 'iec'
      ? 8
      : notation === 'decimal' || notation === 'octal' || notation === 'hex'
        ? 1
        : 16
  return bits === 16 && byte % 2 === 1
    ? ''
    : (notations[notation].format({ direction, byte, bit: 0, bits }) ?? '')
}
