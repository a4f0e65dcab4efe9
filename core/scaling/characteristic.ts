/** How the process value follows from the transmitter's signal: evenly, by its square root (a
 *  differential pressure that measures a flow), or by a table of signal in per cent and process
 *  value, both rising or the value falling throughout. */
export type Characteristic =
  | { readonly kind: 'linear' }
  | { readonly kind: 'root' }
  | {
      readonly kind: 'table'
      readonly points: readonly (readonly [signal: number, value: number])[]
    }

/** What is wrong with a table; null where it can be used both ways. */
export function tableFault(points: readonly (readonly [number, number])[]): string | null {
  if (points.length < 2) return 'A table needs two points at least.'
  const falls = points[1]![1] < points[0]![1]
  for (let i = 1; i < points.length; i++) {
    if (points[i]![0] <= points[i - 1]![0])
      return `Point ${i + 1} has a signal of ${points[i]![0]} %; it must be more than the ${points[i - 1]![0]} % before it.`
    if (points[i]![1] < points[i - 1]![1] !== falls || points[i]![1] === points[i - 1]![1])
      return `Point ${i + 1} has the value ${points[i]![1]}; the values must ${falls ? 'fall' : 'rise'} throughout.`
  }
  return null
}

/** The process value at a share of the signal (0 to 1); null where there is none. Beyond its ends a
 *  table goes on as straight as it ended. */
export function valueAt(
  characteristic: Characteristic,
  share: number,
  low: number,
  high: number,
): number | null {
  if (characteristic.kind === 'linear') return low + share * (high - low)
  if (characteristic.kind === 'root')
    return share < 0 ? null : low + Math.sqrt(share) * (high - low)
  return interpolate(
    characteristic.points.map(([x, y]) => [x / 100, y] as const),
    share,
  )
}

/** The share of the signal at a process value. */
export function shareAt(
  characteristic: Characteristic,
  value: number,
  low: number,
  high: number,
): number | null {
  if (high === low) return null
  if (characteristic.kind === 'linear') return (value - low) / (high - low)
  if (characteristic.kind === 'root') {
    const share = (value - low) / (high - low)
    return share < 0 ? null : share * share
  }
  const points = characteristic.points.map(([x, y]) => [y, x / 100] as const)
  const falls = points.length > 1 && points[1]![0] < points[0]![0]
  return interpolate(falls ? points.reverse() : points, value)
}

function interpolate(points: readonly (readonly [number, number])[], x: number): number | null {
  if (points.length < 2) return null
  const behind = points.findIndex(([at]) => at >= x)
  const i = Math.min(points.length - 1, Math.max(1, behind < 0 ? points.length - 1 : behind))
  const [[x0, y0], [x1, y1]] = [points[i - 1]!, points[i]!]
  return y0 + ((x - x0) / (x1 - x0)) * (y1 - y0)
}
