import { anywhere, gapBefore, type Alignment } from '../catalog/alignment'

type Place = Pick<Alignment, 'bytes' | 'rest'>

/** Something that takes whole bytes and begins where its numbers stand right. */
export interface Piece {
  readonly bytes: number
  readonly align: Place
}

/** Pieces that are alike in all that matters here: what they ask of the place before them and what
 *  they leave behind. */
interface Kind {
  readonly align: Place
  readonly rest: number
  readonly members: number[]
}

/** More states than this are not looked through; then the best next piece is taken step by step. */
const mostStates = 30_000

/** An order in which pieces laid one behind the other leave the fewest bytes between them. Exact as
 *  long as the kinds of pieces that disturb the alignment are few enough to look through all their
 *  sequences (`mostStates`); beyond that each step takes the piece that costs least. */
export function tightOrder(pieces: readonly Piece[]): number[] {
  const kinds = new Map<string, Kind>()
  const neutral: { piece: Piece; at: number }[] = []
  for (const [at, piece] of pieces.entries()) {
    const rest = piece.bytes % 4
    // Whatever stands at a multiple of 4 and leaves one costs nothing where it stands first; bytes
    // without alignment come wherever the rest ends.
    if (rest === 0 && piece.align.rest === 0) neutral.push({ piece, at })
    else {
      const key = `${piece.align.bytes}/${piece.align.rest}/${rest}`
      const kind = kinds.get(key) ?? { align: piece.align, rest, members: [] }
      kind.members.push(at)
      kinds.set(key, kind)
    }
  }
  const first = neutral.filter(({ piece }) => piece.align.bytes > 1).map(({ at }) => at)
  const last = neutral.filter(({ piece }) => piece.align.bytes === 1).map(({ at }) => at)
  const all = [...kinds.values()]
  const states = all.reduce((product, { members }) => product * (members.length + 1), 4)
  return [...first, ...(states <= mostStates ? exact(all) : greedy(all)), ...last]
}

/** Every sequence of kinds, each state looked at once. */
function exact(kinds: readonly Kind[]): number[] {
  const known = new Map<string, { waste: number; next: number }>()
  const best = (position: number, left: readonly number[]): { waste: number; next: number } => {
    const key = `${position}:${left.join()}`
    let found = known.get(key)
    if (found) return found
    found = { waste: left.every((count) => count === 0) ? 0 : Infinity, next: -1 }
    for (const [i, { align, rest }] of kinds.entries()) {
      if (left[i] === 0) continue
      const pad = gapBefore(position, align)
      const { waste } = best((position + pad + rest) % 4, left.with(i, left[i]! - 1))
      if (pad + waste < found.waste) found = { waste: pad + waste, next: i }
    }
    known.set(key, found)
    return found
  }
  const order: number[] = []
  let left: readonly number[] = kinds.map(({ members }) => members.length)
  for (let position = 0, { next } = best(0, left); next >= 0; { next } = best(position, left)) {
    const { align, rest, members } = kinds[next]!
    order.push(members[members.length - left[next]!]!)
    position = (position + gapBefore(position, align) + rest) % 4
    left = left.with(next, left[next]! - 1)
  }
  return order
}

/** Least padding now, then the strictest alignment, then the least padding for the strictest piece
 *  that is left. */
function greedy(kinds: readonly Kind[]): number[] {
  const order: number[] = []
  const left = kinds.map(({ members }) => members.length)
  for (let position = 0; ;) {
    const strictest = kinds.reduce<Place>(
      (most, { align }, i) => (left[i]! > 0 && align.bytes > most.bytes ? align : most),
      anywhere,
    )
    let chosen = -1
    let least = Infinity
    for (const [i, { align, rest }] of kinds.entries()) {
      if (left[i] === 0) continue
      const pad = gapBefore(position, align)
      const cost = pad * 64 - align.bytes * 8 + gapBefore(position + pad + rest, strictest)
      if (cost < least) [least, chosen] = [cost, i]
    }
    if (chosen < 0) return order
    const { align, rest, members } = kinds[chosen]!
    order.push(members[members.length - left[chosen]!]!)
    left[chosen]!--
    position = (position + gapBefore(position, align) + rest) % 4
  }
}
