import { z } from 'zod'
import type { Connection } from '../../catalog/model'
import type { WithSettings } from '../settings'

/** Multipliers by which a connection times out, as Forward_Open can name them (CIP Vol. 1,
 *  3-5.5). */
export const timeoutMultipliers = [4, 8, 16, 32, 64, 128, 256, 512] as const
export type TimeoutMultiplier = (typeof timeoutMultipliers)[number]
/** The longest interval that Forward_Open can name, µs: 32 bits. */
const longest = 0xffffffff

const interval = z.number().int().min(100).max(longest).nullable().default(null)

/** Decisions about how often a connection's data travel; null: as its description proposes. */
export const connectionTimes = {
  /** From the controller to the device (O→T), µs. */
  outputIntervalUs: interval,
  /** From the device to the controller (T→O), µs. */
  inputIntervalUs: interval,
  /** So many intervals without data end the connection. */
  timeoutMultiplier: z
    .union(
      timeoutMultipliers.map((one) => z.literal(one)) as never as [
        z.ZodLiteral<4>,
        z.ZodLiteral<8>,
      ],
    )
    .default(4) as unknown as z.ZodDefault<z.ZodType<TimeoutMultiplier>>,
  /** The device sends to many at once, and switches that do not filter pass it on everywhere. */
  isMulticast: z.boolean().default(false),
} as const

/** Intervals a connection is asked for and how long it waits, in µs; intervals are null where
 *  neither the plan nor the description says them. */
export interface ConnectionTimes {
  readonly outputIntervalUs: number | null
  readonly inputIntervalUs: number | null
  readonly timeoutMultiplier: number
  /** Interval times multiplier, for the data from the device. */
  readonly watchdogUs: number | null
}

/** What a station's connection is asked for: what was decided, else what its description proposes. */
export function timesOfConnection(
  { settings }: WithSettings,
  connection: Connection | undefined,
): ConnectionTimes {
  const decided = settings as Readonly<Record<string, unknown>>
  const told = (key: string) => (decided[key] as number | null | undefined) ?? null
  const outputIntervalUs = told('outputIntervalUs') ?? connection?.requestedIntervalUs ?? null
  const inputIntervalUs =
    told('inputIntervalUs') ??
    connection?.requestedInputIntervalUs ??
    connection?.requestedIntervalUs ??
    null
  const timeoutMultiplier = told('timeoutMultiplier') ?? 4
  return {
    outputIntervalUs,
    inputIntervalUs,
    timeoutMultiplier,
    watchdogUs: inputIntervalUs === null ? null : inputIntervalUs * timeoutMultiplier,
  }
}
