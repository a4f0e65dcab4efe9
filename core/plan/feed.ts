import { z } from 'zod'
import { crossSections } from '../vocabulary/conductor'
import { id } from './keys'

const milliamperes = z.number().int().min(0).max(1_000_000)

/** Where a head, or a module that feeds a potential group, takes its supply from, and over which
 *  cable. What is null nobody said. */
export const feed = z
  .object({
    /** The station that is the supply. */
    from: id,
    lengthM: z.number().min(0).max(10_000).nullable().default(null),
    mm2: z
      .number()
      .refine(
        (mm2) => crossSections.includes(mm2),
        `the cross-section is one of ${crossSections.join(', ')} mm²`,
      )
      .nullable()
      .default(null),
    /** Fine-wired (class 5) instead of solid or stranded. */
    flexible: z.boolean().default(true),
    /** Instead of what follows from sheets and signals, lasting and while it starts. */
    currentMa: milliamperes.nullable().default(null),
    inrushMa: milliamperes.nullable().default(null),
  })
  .strict()
export type Feed = z.infer<typeof feed>

/** Something that is fed: a head, also at its second input, or a module that feeds a group. */
export const feedPoint = z.object({ node: id, second: z.literal(true).optional() }).strict()
export type FeedPoint = z.infer<typeof feedPoint>
