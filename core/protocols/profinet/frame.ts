import type { Direction } from '../../vocabulary/direction'
import { blocksOf, FrameParts, type FramePart } from '../frame'
import type { DataSize, WireModule, WireStation } from '../wire'

/** Most user data in one frame each way: C_SDU of 1440 octets with status octets (IEC 61158-6-10,
 *  from memory). */
const maxFrameBytes = 1440

export function frameSizes({ inputFrameBytes, outputFrameBytes }: WireStation): DataSize[] {
  const rest = { limit: maxFrameBytes, source: 'one frame takes' }
  return [
    { what: 'input data and status', bytes: inputFrameBytes, ...rest },
    { what: 'output data and status', bytes: outputFrameBytes, ...rest },
  ]
}

/** Each submodule's data with their provider status, then the consumer status of what goes the
 *  other way (IEC 61158-6-10; this order is common practice, the controller may choose another). */
export function frameWithStatus<M extends WireModule>(
  view: WireStation<M>,
  direction: Direction,
): FramePart<M>[] {
  const frame = new FrameParts<M>()
  const other: M[] = []
  for (const { module, layout, blocks } of blocksOf(view, direction)) {
    for (const block of blocks) {
      frame.add('data', module, block, block.bytes)
      frame.add('provider status', module, block, 1)
    }
    const isEmpty = layout.blocks.length === 0
    // A submodule without data counts as one that sends, with nothing but its status.
    const status = direction === 'in' ? layout.inputStatusBytes : layout.outputStatusBytes
    const rest = status - blocks.length
    if (isEmpty && direction === 'in')
      for (let i = 0; i < rest; i++) frame.add('provider status', module, null, 1)
    else for (let i = 0; i < rest; i++) other.push(module)
  }
  for (const module of other) frame.add('consumer status', module, null, 1)
  return frame.parts
}
