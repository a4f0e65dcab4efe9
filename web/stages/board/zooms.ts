/** The three ways to look at the Board: the same lanes, more or less of each. Sizes in pixels. */
export const zooms = {
  plant: { label: 'Plant', lane: 18, slot: 40, head: 176 },
  lane: { label: 'Lane', lane: 44, slot: 86, head: 252 },
  module: { label: 'Module', lane: 132, slot: 176, head: 252 },
} as const
export type Zoom = keyof typeof zooms
export const zoomNames = Object.keys(zooms) as Zoom[]

/** The next zoom in or out; the last one stays. */
export function zoomStep(zoom: Zoom, by: 1 | -1): Zoom {
  return zoomNames[zoomNames.indexOf(zoom) + by] ?? zoom
}

/** Which lanes of a band can be seen, with a few beyond either edge; `top` is where the band's
 *  first lane stands. */
export function visibleLanes(
  count: number,
  laneHeight: number,
  top: number,
  view: { top: number; height: number },
  beyond = 3,
): { first: number; last: number } {
  const first = Math.floor((view.top - top) / laneHeight) - beyond
  const last = Math.ceil((view.top + view.height - top) / laneHeight) + beyond
  return { first: Math.min(count, Math.max(0, first)), last: Math.max(0, Math.min(count, last)) }
}
