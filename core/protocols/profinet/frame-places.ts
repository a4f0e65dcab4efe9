import type { RealModule } from '../wire'
import type { FramePlace } from './blocks'

/** Where a submodule's data and the status octet behind them stand in a frame. */
export interface DataPlaceInFrame extends FramePlace {
  readonly bytes: number
}

export interface FrameLayout {
  readonly data: readonly DataPlaceInFrame[]
  /** Consumer status for what goes the other way. */
  readonly consumers: readonly FramePlace[]
  readonly bytes: number
}

/** Data of each submodule with its provider status, then the consumer status of what goes the other
 *  way: the order that `frameWithStatus` counts by, here by slot and subslot. */
export function frameLayout(modules: readonly RealModule[], direction: 'in' | 'out'): FrameLayout {
  const data: DataPlaceInFrame[] = []
  const consumers: FramePlace[] = []
  const waiting: { slot: number; subslot: number }[] = []
  let offset = 0
  for (const { slot, submodules } of modules)
    for (const { subslot, inputBytes, outputBytes } of submodules) {
      const hasNone = inputBytes === 0 && outputBytes === 0
      const own = direction === 'in' ? inputBytes : outputBytes
      const other = direction === 'in' ? outputBytes : inputBytes
      if (own > 0 || (hasNone && direction === 'in')) {
        data.push({ slot, subslot, offset, bytes: own })
        offset += own + 1
      }
      if (other > 0 || (hasNone && direction === 'out')) waiting.push({ slot, subslot })
    }
  for (const { slot, subslot } of waiting) consumers.push({ slot, subslot, offset: offset++ })
  return { data, consumers, bytes: offset }
}
