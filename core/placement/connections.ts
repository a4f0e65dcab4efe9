import { hasRoomFor, type Room } from '../catalog/inside'
import { carriedItems } from '../catalog/layout'
import type { Connection, Device } from '../catalog/model'
import { signalOn, type DerivedModule } from '../derive/derive'

/** What a connection carries, each value under direction and name. */
export function carriedBy(connection: Connection): string[] {
  const { inputs, outputs } = carriedItems(connection)
  const words = (direction: 'in' | 'out', items: Connection['inputs']) =>
    items.map(({ group, name }) => `${direction} ${[group, name].filter(Boolean).join(' ')}`)
  return [...words('in', inputs), ...words('out', outputs)]
}

/** Values of a connection that carry a tag, as `carriedBy` names them. A value that is taken apart
 *  into bits goes by the value's name. */
export function namedOn(connection: Connection, head: DerivedModule): string[] {
  const named = (head.layout?.channels ?? [])
    .filter((channel) => (signalOn(head, channel)?.tag ?? '') !== '')
    .map(({ direction, name }) => `${direction} ${name}`)
  return carriedBy(connection).filter((word) =>
    named.some((name) => name === word || name.startsWith(`${word} `)),
  )
}

/** What one connection carries and another does not: what would fall away. */
export function fallsAway(from: Connection, to: Connection): string[] {
  const kept = new Set(carriedBy(to))
  return carriedBy(from).filter((word) => !kept.has(word))
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
