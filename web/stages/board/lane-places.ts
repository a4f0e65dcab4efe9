import type { Zoom } from './zooms'

/** A place in which lanes are drawn one after the other: taking one away and making another costs
 *  several times as much as drawing over it. */
export interface LanePlace {
  readonly place: number
  /** The station it is for now; null while nobody needs it. */
  readonly id: string | null
  /** What was drawn in it last; hidden until it is its station's turn. */
  readonly drawn: { readonly id: string; readonly zoom: Zoom } | null
}

const mostSpare = 4

/** Gives every station in sight a place, the one it stood in if it can. A place with the focus in
 *  it (`focused`) is not used for another station. Places are listed by their number, so that none
 *  moves in the document. */
export function nextPlaces(
  before: readonly LanePlace[],
  shown: readonly string[],
  isReady: (id: string) => boolean,
  zoom: Zoom,
  focused: string | null,
): LanePlace[] {
  const wanted = new Set(shown)
  const standing = new Map(
    before.flatMap((one) => (one.id !== null && wanted.has(one.id) ? [[one.id, one]] : [])),
  )
  const free = before.filter(
    ({ id, drawn }) => (id === null || !wanted.has(id)) && (drawn === null || drawn.id !== focused),
  )
  const take = (index: number) => (index < 0 ? undefined : free.splice(index, 1)[0])
  const found = new Map(
    shown.map((id) => [
      id,
      standing.get(id) ?? take(free.findIndex(({ drawn }) => drawn?.id === id)),
    ]),
  )
  let last = before.reduce((most, { place }) => Math.max(most, place), -1)
  const used = shown.map((id): LanePlace => {
    const { place, drawn } = found.get(id) ?? free.shift() ?? { place: ++last, drawn: null }
    return { place, id, drawn: isReady(id) ? { id, zoom } : drawn }
  })
  // Those that are not needed go one by one; many at once would hold a frame up.
  return [
    ...used,
    ...free.slice(0, Math.max(mostSpare, free.length - 1)).map((one) => ({ ...one, id: null })),
  ].sort((a, b) => a.place - b.place)
}
