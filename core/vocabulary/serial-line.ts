import { z } from 'zod'

/** How characters travel on a serial line; every node has to have the same. */
export const serialLine = z
  .object({
    baud: z.number().int().min(300).max(12_000_000),
    parity: z.enum(['none', 'even', 'odd']),
    dataBits: z.union([z.literal(7), z.literal(8)]).default(8),
    stopBits: z.union([z.literal(1), z.literal(2)]),
  })
  .strict()
export type SerialLine = z.infer<typeof serialLine>

const parityLetters = { none: 'N', even: 'E', odd: 'O' } as const

/** As everybody writes it: `19200 bit/s 8E1`. */
export function wordSerialLine({ baud, dataBits, parity, stopBits }: SerialLine): string {
  return `${baud} bit/s ${dataBits}${parityLetters[parity]}${stopBits}`
}
