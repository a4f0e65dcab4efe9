import { z } from 'zod'

/** Of a serial line; every node has the same. */
export const serialLine = z
  .object({
    baud: z.number().int().min(300).max(12_000_000),
    parity: z.enum(['none', 'even', 'odd']),
    stopBits: z.union([z.literal(1), z.literal(2)]),
  })
  .strict()
export type SerialLine = z.infer<typeof serialLine>
