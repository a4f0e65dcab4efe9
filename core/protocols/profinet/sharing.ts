import { z } from 'zod'
import type { WithSettings } from '../settings'

/** One controller; two on one interface of the device; two on two interfaces (IEC 61158-6-10, from
 *  memory). */
export const redundancies = ['S1', 'S2', 'R1', 'R2'] as const
export type Redundancy = (typeof redundancies)[number]

export const profinetSharing = {
  /** The station of another controller that is the same device: each owns the modules that it
   *  plans. Empty: a device of its own. */
  sharedWith: z.string().max(64).default(''),
  /** How many controllers stand for it, and the network by which the second one reaches it. */
  redundancy: z.enum(redundancies).default('S1'),
  secondController: z.string().max(64).default(''),
} as const

/** Who else has to do with a station; all empty on networks that know no such thing. */
export function sharingOf({ settings }: WithSettings): {
  readonly sharedWith: string
  readonly redundancy: Redundancy
  readonly secondController: string
} {
  const {
    sharedWith = '',
    redundancy = 'S1',
    secondController = '',
  } = settings as Partial<ReturnType<typeof sharingOf>>
  return { sharedWith, redundancy, secondController: redundancy === 'S1' ? '' : secondController }
}
