import { z } from 'zod'

/** CIP safety: what makes addresses of joined networks unique; twelve hex digits, or empty. */
export const safetyNetworkNumber = z
  .string()
  .regex(/^([0-9a-f]{12})?$/, 'twelve hex digits')
  .default('')

/** A configuration signature of a CIP safety device, with a signature of the parameters it was
 *  given for, and who entered it when. */
export const safetyConfiguration = z
  .object({
    signature: z.string().min(1).max(100),
    /** When the maker's tool made it, ISO 8601; left out: not entered. */
    madeAt: z.string().max(40).optional(),
    over: z.string().max(80),
    by: z.string().max(200),
    at: z.string().max(40),
  })
  .strict()
export type SafetyConfiguration = z.infer<typeof safetyConfiguration>

interface WithSettings {
  readonly settings: object
}

/** What was entered for a station; null where nothing was, and on networks of other kinds. */
export function safetyConfigurationOf({ settings }: WithSettings): SafetyConfiguration | null {
  return 'safetyConfiguration' in settings
    ? (settings.safetyConfiguration as SafetyConfiguration | null)
    : null
}

/** Empty where nobody gave one, and on networks of other kinds. */
export function safetyNetworkNumberOf({ settings }: WithSettings): string {
  return 'safetyNetworkNumber' in settings ? String(settings.safetyNetworkNumber) : ''
}
