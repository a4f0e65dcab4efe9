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

const large: Grid = { columns: 9, pitch: 8, size: 5.5 }
const small: Grid = { columns: 14, pitch: 5.2, size: 3.4 }
export const pipBox = { width: 73, height: 17 }

/** One path for each kind of pip on a module: square digital, circle analog, diamond everything else. */
export function pipPaths(module: DerivedModule): PipPath[] {
  const { layout } = module
  if (!layout) return []
  const grid = layout.channels.length <= large.columns * 2 ? large : small
  const most = grid.columns * Math.floor(pipBox.height / grid.pitch)
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
  analog: (x, y, size) => `M${x} ${y + size / 2}a${size / 2} ${size / 2} 0 1 0 ${size} 0a${size / 2} ${size / 2} 0 1 0 -${size} 0z`,
  port: (x, y, size) => `M${x + size / 2} ${y}l${size / 2} ${size / 2}l-${size / 2} ${size / 2}l-${size / 2} -${size / 2}z`,
}
