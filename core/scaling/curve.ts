/** A curve that only rises or only falls between two ends. */
export interface Curve {
  readonly from: number
  readonly to: number
  readonly at: (x: number) => number
}

const steps = 80

/** Where a curve has a value, to the last digit that matters; null where it lies outside. Halves
 *  the span until nothing is left of it. */
export function inverse({ from, to, at }: Curve, y: number): number | null {
  const [low, high] = [at(from), at(to)]
  const rises = high > low
  const margin = Math.abs(high - low) * 1e-12
  if (!(y >= Math.min(low, high) - margin && y <= Math.max(low, high) + margin)) return null
  let [a, b] = [from, to]
  for (let i = 0; i < steps && a !== b; i++) {
    const middle = (a + b) / 2
    if (at(middle) < y === rises) a = middle
    else b = middle
  }
  return (a + b) / 2
}
