import { memoryMap, type MemorySide } from '../derive/memory-map'
import type { Derived } from '../derive/derive'
import type { ImageArea } from '../plan/model'
import type { Direction } from '../vocabulary/direction'

/** A part of a controller's image, from the first byte that belongs to it up to the next part. */
export interface AreaFill {
  readonly controller: string
  readonly direction: Direction
  readonly from: number
  /** What the part is for; null before the first area, and where there are none. */
  readonly area: ImageArea | null
  /** Bytes, and how many of them carry data. */
  readonly bytes: number
  readonly usedBytes: number
}

export interface StationFill {
  readonly station: string
  readonly channels: number
  readonly named: number
  /** Whole bytes of the image. */
  readonly inputBytes: number
  readonly outputBytes: number
}

/** How full each area of each controller's image is, in order of address. */
export function fillOfAreas(derived: Derived): AreaFill[] {
  return derived.controllers.flatMap(({ controller }) => {
    const map = memoryMap(derived, controller.id)!
    return (['in', 'out'] as const).flatMap((direction) => {
      const side = map[direction]
      const starts = controller.areas
        .flatMap((area) => (area[direction] === null ? [] : [{ from: area[direction], area }]))
        .sort((a, b) => a.from - b.from)
      const parts = starts[0]?.from === 0 ? starts : [{ from: 0, area: null }, ...starts]
      return parts
        .map(({ from, area }, i) => {
          const to = Math.min(side.size, parts[i + 1]?.from ?? side.size)
          const bytes = Math.max(0, to - from)
          const usedBytes = usedBetween(side, from, to)
          return { controller: controller.name, direction, from, area, bytes, usedBytes }
        })
        .filter(({ bytes }) => bytes > 0)
    })
  })
}

/** Bytes between two addresses in which data stand; what several blocks share counts once. */
function usedBetween({ blocks }: MemorySide, from: number, to: number): number {
  let end = from
  let used = 0
  for (const { start, bits } of blocks) {
    const first = Math.max(end, start >> 3)
    const last = Math.min(to, (start + bits + 7) >> 3)
    if (last <= first) continue
    used += last - first
    end = last
  }
  return used
}

/** Channels and bytes of each station, in the order of the plan. */
export function fillOfStations({ controllers }: Derived): StationFill[] {
  return controllers.flatMap(({ networks }) =>
    networks.flatMap(({ stations }) =>
      stations.map(({ station, channels, named, inputBytes, outputBytes }) => ({
        station: station.name,
        ...{ channels, named, inputBytes, outputBytes },
      })),
    ),
  )
}
