/** Times of one fail-safe connection in milliseconds: how often its data travel, how long its
 *  device and the controller take. */
export interface MonitoredTimes {
  readonly updateMs: number
  readonly deviceMs: number
  readonly hostMs: number
  /** A ring that has to close again meanwhile; 0 where there is none. */
  readonly ringMs: number
}

/** Added on top of what is needed at the least (common practice). */
const reserve = 0.3

/** The shortest monitoring time and one with reserve: twice the update time plus device and
 *  controller, and longer than a ring takes to close (common practice). Whole milliseconds. */
export function monitoringTime({ updateMs, deviceMs, hostMs, ringMs }: MonitoredTimes): {
  leastMs: number
  suggestedMs: number
} {
  const leastMs = Math.ceil(
    Math.max(2 * updateMs + deviceMs + hostMs, ringMs > 0 ? ringMs + 2 * updateMs : 0),
  )
  return { leastMs, suggestedMs: Math.ceil(leastMs * (1 + reserve)) }
}

/** One link of the chain sensor → input → network → logic → network → output; without a watchdog of
 *  its own where `watchdogMs` is null. */
export interface ChainLink {
  readonly name: string
  readonly worstMs: number
  readonly watchdogMs: number | null
}

/** Longest time from the sensor to the safe output: every link at its worst, and the one fault that
 *  costs most until its watchdog ends (safety function response time, IEC 61784-3-3, from
 *  memory). */
export function reactionTime(links: readonly ChainLink[]): {
  normalMs: number
  worstMs: number
  decidedBy: string | null
} {
  const normalMs = links.reduce((sum, { worstMs }) => sum + worstMs, 0)
  const slowest = links
    .flatMap(({ name, worstMs, watchdogMs }) =>
      watchdogMs === null ? [] : [{ name, extra: watchdogMs - worstMs }],
    )
    .filter(({ extra }) => extra > 0)
    .sort((a, b) => b.extra - a.extra)[0]
  return { normalMs, worstMs: normalMs + (slowest?.extra ?? 0), decidedBy: slowest?.name ?? null }
}
