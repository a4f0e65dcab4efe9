/** Of the octets of a number: most or least significant first. */
export type ByteOrder = 'big' | 'little'

/** How the octets of a number are turned; A is the first one that comes. Common practice: `BADC`
 *  swaps the octets of each word, `CDAB` the words, `DCBA` both. */
export const turnNames = ['BADC', 'CDAB', 'DCBA'] as const
export type Turn = (typeof turnNames)[number] | ''
