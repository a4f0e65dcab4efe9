import type { MonitoredTimes } from '../plan/model'

/** What is taken where nobody said (from memory; to be measured or looked up). */
export const usualTimes: MonitoredTimes = {
  updateMs: 4,
  deviceMs: 10,
  hostMs: 20,
  ringMs: 0,
  sensorMs: 5,
  outputMs: 12,
}

/** Added on top of what is needed at the least (common practice). */
const reserve = 0.3

/** The shortest monitoring time and one with reserve: twice the update time plus device and
 *  controller, and longer than a ring takes to close (common practice). Whole milliseconds. */
export function monitoringTime({
  updateMs,
  deviceMs,
  hostMs,
  ringMs,
}: Pick<MonitoredTimes, 'updateMs' | 'deviceMs' | 'hostMs' | 'ringMs'>): {
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

/** The chain of one connection at its times, watched by its F_WD_Time both ways. */
export function safetyChain(
  { updateMs, deviceMs, hostMs, sensorMs, outputMs }: MonitoredTimes,
  watchdogMs: number,
): ChainLink[] {
  return [
    { name: 'sensor', worstMs: sensorMs, watchdogMs: null },
    { name: 'input', worstMs: deviceMs, watchdogMs: null },
    { name: 'network in', worstMs: 2 * updateMs, watchdogMs },
    { name: 'logic', worstMs: 2 * hostMs, watchdogMs: null },
    { name: 'network out', worstMs: 2 * updateMs, watchdogMs },
    { name: 'output', worstMs: outputMs, watchdogMs: null },
  ]
}
