import type { ChannelKind, DerivedModule } from '@kataxis/core'
import { signalOn } from '@kataxis/core'

export interface PipPath {
  readonly d: string
  /** Inputs are outlines, outputs are filled. */
  readonly filled: boolean
  readonly named: boolean
}

interface Grid {
  readonly columns: number
  readonly pitch: number
  readonly size: number
}

/** Pips as large as the tile has room for: the first grid that holds all channels, else the
 *  last. */
export const pipGrids = {
  lane: {
    box: { width: 73, height: 17 },
    grids: [
      { columns: 9, pitch: 8, size: 5.5 },
      { columns: 14, pitch: 5.2, size: 3.4 },
    ],
  },
  plant: {
    box: { width: 34, height: 13 },
    grids: [
      { columns: 8, pitch: 4.2, size: 2.6 },
      { columns: 11, pitch: 3.1, size: 1.8 },
    ],
  },
} as const satisfies Record<
  string,
  { box: { width: number; height: number }; grids: readonly Grid[] }
>

/** One path for each kind of pip on a module: square digital, circle analog, diamond everything
 *  else. */
export function pipPaths(module: DerivedModule, size: keyof typeof pipGrids): PipPath[] {
  const { layout } = module
  if (!layout) return []
  const { box, grids } = pipGrids[size]
  const room = ({ columns, pitch }: Grid) => columns * Math.floor(box.height / pitch)
  const grid = grids.find((candidate) => layout.channels.length <= room(candidate)) ?? grids.at(-1)!
  const most = room(grid)
  const paths = new Map<string, { d: string; filled: boolean; named: boolean }>()
  for (const [i, channel] of layout.channels.slice(0, most).entries()) {
    const filled = channel.direction === 'out'
    const named = signalOn(module, channel) !== null
    const key = `${filled} ${named}`
    let path = paths.get(key)
    if (!path) paths.set(key, (path = { d: '', filled, named }))
    const x = (i % grid.columns) * grid.pitch + 0.75
    const y = Math.floor(i / grid.columns) * grid.pitch + 0.75
    path.d += shapes[channel.kind](x, y, grid.size)
  }
  return [...paths.values()]
}

const shapes: Record<ChannelKind, (x: number, y: number, size: number) => string> = {
  digital: (x, y, size) => `M${x} ${y}h${size}v${size}h-${size}z`,
  analog: (x, y, size) =>
    `M${x} ${y + size / 2}a${size / 2} ${size / 2} 0 1 0 ${size} 0a${size / 2} ${size / 2} 0 1 0 -${size} 0z`,
  port: (x, y, size) =>
    `M${x + size / 2} ${y}l${size / 2} ${size / 2}l-${size / 2} ${size / 2}l-${size / 2} -${size / 2}z`,
}
