import type { Layout } from './layout'
import type { Device, Slot, SlotPlace } from './model'

/** Where a module's data stand in its head's. */
export interface InsidePlace {
  readonly in: SlotPlace | null
  readonly out: SlotPlace | null
}

/** Whether the data of a head's modules stand inside its own: at a place for each slot, or one
 *  after the other in the chosen connection, in the order of the slots (common practice of modular
 *  adapters). */
export function carriesModules(device: Device | null): boolean {
  return fixedPlaces(device) || runOf(device) !== null
}

function fixedPlaces(device: Device | null): boolean {
  return device?.slots[0]?.at !== undefined
}

function runOf(device: Device | null) {
  return device && 'ethernetIp' in device ? (device.ethernetIp.own ?? null) : null
}

/** In a slot that its head does not have. */
const nowhere: InsidePlace = { in: null, out: null }

/** Places of modules in the data of their head, asked for in slot order; null where modules have
 *  data of their own. */
export function placesInside(
  device: Device | null,
): (slot: number, layout: Layout | null) => InsidePlace | null {
  if (!device || !carriesModules(device)) return () => null
  if (fixedPlaces(device)) {
    const places = new Map(device.slots.map((one: Slot) => [one.slot, one.at]))
    return (slot) => places.get(slot) ?? nowhere
  }
  const { inputBytes, outputBytes } = runOf(device)!
  const next = { in: inputBytes, out: outputBytes }
  const take = (direction: 'in' | 'out', bytes: number): SlotPlace | null => {
    const offsetBits = next[direction] * 8
    next[direction] += bytes
    return bytes === 0 ? null : { offsetBits, bits: bytes * 8 }
  }
  return (_, layout) => ({
    in: take('in', layout?.inputBytes ?? 0),
    out: take('out', layout?.outputBytes ?? 0),
  })
}

/** Octets of a connection. */
export interface Room {
  readonly inputBytes: number
  readonly outputBytes: number
}

export function hasRoomFor(connection: Room, needed: Room | null): boolean {
  return (
    needed === null ||
    (connection.inputBytes >= needed.inputBytes && connection.outputBytes >= needed.outputBytes)
  )
}

/** Octets that a connection would need for what a sheet says stands in it: the head's own data,
 *  tables of slots, and its modules; null where no sheet says anything. */
export function neededInside(
  device: Device,
  modules: readonly { readonly inside: InsidePlace | null }[],
): Room | null {
  const own = runOf(device)
  if (!own) return null
  const end = (direction: 'in' | 'out', from: number) =>
    modules.reduce((most, { inside }) => Math.max(most, endOf(inside?.[direction] ?? null)), from)
  return { inputBytes: end('in', own.inputBytes), outputBytes: end('out', own.outputBytes) }
}

function endOf(place: SlotPlace | null): number {
  return place === null ? 0 : Math.ceil((place.offsetBits + place.bits) / 8)
}
