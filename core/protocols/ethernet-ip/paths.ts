/** Octets of a path text such as `20 04 24 [Param1] 2C 64`; `valueOf` gives the default of a
 *  parameter that stands in it. A string says what is wrong. CIP Vol. 1, App. C, segment
 *  encoding. */
export function parsePath(
  text: string,
  valueOf: (reference: string) => number | null,
): number[] | string {
  const octets: number[] = []
  for (const word of text
    .trim()
    .split(/[\s,]+/)
    .filter(Boolean)) {
    const reference = /^\[?(Param\d+)\]?$/i.exec(word)?.[1]
    if (reference !== undefined) {
      const value = valueOf(reference)
      if (value === null) return `${reference} is named in the path but does not stand in the file`
      octets.push(value & 0xff)
      if (value > 255) octets.push((value >> 8) & 0xff)
    } else if (/^(0x)?([0-9a-f]{2})+$/i.test(word)) {
      octets.push(
        ...(word.replace(/^0x/i, '').match(/../g) ?? []).map((pair) => parseInt(pair, 16)),
      )
    } else {
      return `"${word}" is no octet of a path`
    }
  }
  return octets
}

/** The instance of class 4 (assembly) that a path ends at; null where it names none. `24 cc`, or
 *  `25 00 lo hi` over 255. */
export function assemblyInstance(path: readonly number[]): number | null {
  const at = path[0] === 0x34 ? 10 : 0
  const after =
    path[at] === 0x20 && path[at + 1] === 4
      ? at + 2
      : path[at] === 0x21 && path[at + 2] === 4 && path[at + 3] === 0
        ? at + 4
        : null
  if (after === null) return null
  if (path[after] === 0x24) return path[after + 1] ?? null
  if (path[after] === 0x25) return (path[after + 2] ?? 0) + 256 * (path[after + 3] ?? 0)
  return null
}

/** Instances and connection points of a connection path in their order: configuration, output,
 *  input where all three stand there. `24`/`2c` with one octet, `25 00`/`2d 00` with two (CIP Vol.
 *  1, App. C). */
export function connectionPoints(path: readonly number[]): number[] {
  const points: number[] = []
  for (let i = path[0] === 0x34 ? 10 : 0; i < path.length;) {
    const segment = path[i]!
    const isLong = (segment & 1) === 1
    const value = isLong ? (path[i + 2] ?? 0) + 256 * (path[i + 3] ?? 0) : (path[i + 1] ?? 0)
    if ((segment & 0xfe) === 0x24 || (segment & 0xfe) === 0x2c) points.push(value)
    else if ((segment & 0xfe) !== 0x20) return points
    i += isLong ? 4 : 2
  }
  return points
}
