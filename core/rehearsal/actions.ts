import { z } from 'zod'
import { differencesSchema } from './differences'

const networkId = z.string().min(1).max(64)
const stationId = z.string().min(1).max(64)
/** A device as it is spoken to on its wire. */
const key = z.string().min(1).max(64)
const networks = z.array(networkId).max(1000).optional()

/** What somebody does in a rehearsal: over the wires, or with the hands on site. Networks left out:
 *  all. */
export const rehearsalAction = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('scan'), networks }),
  z.strictObject({ do: z.literal('blink'), networkId, key }),
  z.strictObject({ do: z.literal('assign'), stationId, key }),
  /** Every device of which it is clear which station it is. */
  z.strictObject({ do: z.literal('assignAll'), networks }),
  z.strictObject({ do: z.literal('reset'), networkId, key }),
  /** Lets a device blink whose fail-safe addresses are to be written; the time begins. */
  z.strictObject({ do: z.literal('identifyFailSafe'), stationId }),
  /** Writes them, by who saw it blink or read the serial number on its housing. */
  z.strictObject({
    do: z.literal('writeFailSafe'),
    stationId,
    /** Empty: it was seen blinking. */
    serial: z.string().max(64).default(''),
  }),
  z.strictObject({ do: z.literal('start'), networks }),
  z.strictObject({ do: z.literal('check') }),
  z.strictObject({
    do: z.literal('onSite'),
    stationId,
    what: z.enum([
      'powerCycle',
      'setSwitches',
      'plugModules',
      'replaceDevice',
      'switchToRun',
      'connect',
      'mendWires',
    ]),
  }),
])
export type RehearsalAction = z.infer<typeof rehearsalAction>
export type OnSite = Extract<RehearsalAction, { do: 'onSite' }>['what']

/** How much is otherwise on site than planned, and how it is chosen. */
export const difficulties = ['none', 'few', 'badDay'] as const
export type Difficulty = (typeof difficulties)[number]

export const rehearsalWish = z.strictObject({
  difficulty: z.enum(difficulties),
  /** The same seed gives the same differences for the same plan. */
  seed: z.number().int().min(0).max(0xffff_ffff).optional(),
  /** A list instead of chosen ones. */
  differences: differencesSchema.optional(),
})
export type RehearsalWish = z.infer<typeof rehearsalWish>

/** Only who has the right for what is fail-safe may do these. */
export const failSafeActions: ReadonlySet<RehearsalAction['do']> = new Set([
  'identifyFailSafe',
  'writeFailSafe',
])
/** How long an identification holds; afterwards it is void (common practice). */
export const identifiedForMs = 60_000
