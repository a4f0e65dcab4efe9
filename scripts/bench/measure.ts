const pairs = 9

/** Milliseconds of one call. */
export function timeOf(work: () => unknown): number {
  globalThis.gc?.()
  const started = performance.now()
  work()
  return performance.now() - started
}

export function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!
}

export interface Ratio {
  readonly ratio: number
  readonly oursMs: number
  readonly referenceMs: number
}

/** Our median over the reference's median, both taken in turn in this run after one unmeasured
 *  round of each. */
export function compare(ours: () => unknown, reference: () => unknown): Ratio {
  ours()
  reference()
  const times = Array.from({ length: pairs }, () => ({
    ours: timeOf(ours),
    reference: timeOf(reference),
  }))
  const oursMs = median(times.map((time) => time.ours))
  const referenceMs = median(times.map((time) => time.reference))
  return { ratio: oursMs / referenceMs, oursMs, referenceMs }
}

/** The same where one round of ours is too short to measure singly: `rounds` of it count as one. */
export function compareMany(
  ours: (round: number) => unknown,
  rounds: number,
  reference: () => unknown,
): Ratio {
  const many = compare(() => {
    for (let round = 0; round < rounds; round++) ours(round)
  }, reference)
  return { ratio: many.ratio / rounds, oursMs: many.oursMs / rounds, referenceMs: many.referenceMs }
}

/** The same for work that waits. */
export async function compareAsync(
  ours: () => Promise<unknown>,
  reference: () => Promise<unknown>,
  count = pairs,
): Promise<Ratio> {
  const timeOfAsync = async (work: () => Promise<unknown>) => {
    globalThis.gc?.()
    const started = performance.now()
    await work()
    return performance.now() - started
  }
  await ours()
  await reference()
  const times: { ours: number; reference: number }[] = []
  for (let pair = 0; pair < count; pair++)
    times.push({ ours: await timeOfAsync(ours), reference: await timeOfAsync(reference) })
  const oursMs = median(times.map((time) => time.ours))
  const referenceMs = median(times.map((time) => time.reference))
  return { ratio: oursMs / referenceMs, oursMs, referenceMs }
}
