import { canIds, decodeCan } from './frames'

export function wordCanFrame(octets: Uint8Array): string | null {
  const frame = decodeCan(octets)
  if (!frame) return null
  const { id, data } = frame
  const node = id & 0x7f
  if (id === canIds.manage) return `Network management, node ${data[1] ?? 0}`
  if ((id & 0x780) === canIds.alive) return `Sign of life, node ${node}`
  const object = `object 0x${((data[1] ?? 0) + 256 * (data[2] ?? 0)).toString(16)}`
  const isSegment = [0, 3].includes((data[0] ?? 0) >> 5)
  const way = (id & 0x780) === canIds.toServer ? `to node ${node}` : `from node ${node}`
  return `SDO ${way}, ${isSegment ? 'segment' : object}`
}
