/** A pair that agrees, and what stands before it on either side without a partner. */
export interface Agreed<A, B> {
  readonly left: readonly A[]
  readonly right: readonly B[]
  /** Null at the end. */
  readonly pair: readonly [A, B] | null
}

/** Two rows side by side, as many pairs as possible in their order: the longest common
 *  subsequence. */
export function commonOrder<A, B>(
  a: readonly A[],
  b: readonly B[],
  agree: (one: A, other: B) => boolean,
): Agreed<A, B>[] {
  const longest = Array.from({ length: a.length + 1 }, () => new Uint16Array(b.length + 1))
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      longest[i]![j] = agree(a[i]!, b[j]!)
        ? longest[i + 1]![j + 1]! + 1
        : Math.max(longest[i + 1]![j]!, longest[i]![j + 1]!)
  const found: Agreed<A, B>[] = []
  let [i, j, fromI, fromJ] = [0, 0, 0, 0]
  while (i < a.length && j < b.length) {
    if (agree(a[i]!, b[j]!)) {
      found.push({ left: a.slice(fromI, i), right: b.slice(fromJ, j), pair: [a[i]!, b[j]!] })
      ;[fromI, fromJ] = [++i, ++j]
    } else if (longest[i + 1]![j]! >= longest[i]![j + 1]!) i++
    else j++
  }
  return [...found, { left: a.slice(fromI), right: b.slice(fromJ), pair: null }]
}
