import type { Direction } from '../../vocabulary/direction'
import type { LogicalImage, WireStation } from '../wire'

/** Most data of one datagram in one Ethernet frame (ETG.1000-4, from memory). */
export const datagramBytes = 1486

/** The logical image of an EtherCAT line: outputs first, then inputs, slave by slave in the order
 *  of the cable. Slaves with a few bits share bytes, the others begin at whole ones (common
 *  practice of masters). The working counter counts one for each slave read, two for each written
 *  (ETG.1000-4, from memory). */
export function logicalImage<V extends WireStation>(stations: readonly V[]): LogicalImage<V> {
  const lay = (direction: Direction, start: number) => {
    let end = start
    const at = stations.map((view) => {
      const blocks = view.blocks
        .filter(({ block }) => block.direction === direction)
        .map(({ block }) => block)
      if (blocks.length === 0) return null
      const isSmall = blocks.length === 1 && blocks[0]!.bytes === 1 && blocks[0]!.bits < 8
      const bits = isSmall ? blocks[0]!.bits : blocks.reduce((sum, { bytes }) => sum + bytes, 0) * 8
      const fits = isSmall && (end & 7) + bits <= 8
      const bit = fits ? end : Math.ceil(end / 8) * 8
      end = bit + bits
      return { bit, bits }
    })
    return { at, end: Math.ceil(end / 8) * 8 }
  }
  const outputs = lay('out', 0)
  const inputs = lay('in', outputs.end)
  const parts = stations.map((view, i) => ({ view, out: outputs.at[i]!, in: inputs.at[i]! }))
  return {
    parts,
    outputBytes: outputs.end / 8,
    inputBytes: (inputs.end - outputs.end) / 8,
    datagrams: Math.ceil(inputs.end / 8 / datagramBytes),
    workingCounter: parts.reduce((sum, part) => sum + (part.in ? 1 : 0) + (part.out ? 2 : 0), 0),
  }
}
