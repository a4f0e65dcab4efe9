import { hasRoomFor, type Room } from '../catalog/inside'
import { carriedItems } from '../catalog/layout'
import type { Connection, Device } from '../catalog/model'

/** What a connection carries, each value under direction and name. */
export function carriedBy(connection: Connection): string[] {
  const { inputs, outputs } = carriedItems(connection)
  const words = (direction: 'in' | 'out', items: Connection['inputs']) =>
    items.map(({ group, name }) => `${direction} ${[group, name].filter(Boolean).join(' ')}`)
  return [...words('in', inputs), ...words('out', outputs)]
}

const sizeOf = ({ inputBytes, outputBytes }: Connection) => inputBytes + outputBytes

/** The smallest connection that carries all of what is wanted and has the room that is needed; null
 *  where none does. */
export function suggestConnection(
  device: Device,
  wanted: ReadonlySet<string>,
  needed: Room | null,
): Connection | null {
  let best: Connection | null = null
  for (const connection of device.connections) {
    const carried = new Set(carriedBy(connection))
    if (
      hasRoomFor(connection, needed) &&
      [...wanted].every((word) => carried.has(word)) &&
      (!best || sizeOf(connection) < sizeOf(best))
    )
      best = connection
  }
  return best
}
