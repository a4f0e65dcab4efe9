import type { Catalog } from '../catalog/catalog'
import { findDevice, findModule } from '../catalog/catalog'
import type { DataBlock, Direction, Layout } from '../catalog/layout'
import { layoutOfHead, layoutOfPlaced } from '../catalog/placed'
import type { AddressMap, ControllerRow, Plan, StationGroup } from '../plan/model'

/** Which bytes of one direction of a controller's image are given out; 1 = taken. */
export type Occupancy = Record<Direction, Uint8Array>

export function addressOf(addresses: AddressMap, subslot: number, direction: Direction): number | null {
  return addresses[subslot]?.[direction] ?? null
}

/** Every data block of a station with its owner's addresses: the head first, then the modules. */
export function* blocksOf(catalog: Catalog, group: StationGroup): Generator<{ block: DataBlock; addresses: AddressMap }> {
  const { station } = group
  const device = findDevice(catalog, station.file, station.device)
  if (device) for (const block of layoutOfHead(catalog, device, station).blocks) yield { block, addresses: station.addresses }
  for (const id in group.modules) {
    const row = group.modules[id]!
    const module = findModule(catalog, station.file, row.module)
    if (module) for (const block of layoutOfPlaced(catalog, station.file, module, row.plugged).blocks) yield { block, addresses: row.addresses }
  }
}

export function occupancyOf(plan: Plan, catalog: Catalog, controller: ControllerRow): Occupancy {
  const occupancy = { in: new Uint8Array(controller.inputBytes), out: new Uint8Array(controller.outputBytes) }
  for (const id in plan.stations) {
    const group = plan.stations[id]!
    if (plan.networks[group.station.networkId]?.controllerId !== controller.id) continue
    for (const { block, addresses } of blocksOf(catalog, group)) {
      const byte = addressOf(addresses, block.subslot, block.direction)
      if (byte !== null) occupancy[block.direction].fill(1, byte, byte + block.bytes)
    }
  }
  return occupancy
}

/** Lowest free, suitably aligned byte with room for `bytes`; null where the image is full. */
export function findFreeByte(taken: Uint8Array, bytes: number, align: number): number | null {
  let free = taken.indexOf(0)
  while (free >= 0) {
    const start = Math.ceil(free / align) * align
    const blocked = taken.indexOf(1, start)
    const end = blocked < 0 ? taken.length : blocked
    if (start + bytes <= end) return start
    if (blocked < 0) return null
    free = taken.indexOf(0, blocked)
  }
  return null
}

/** Addresses for every block of a layout at the lowest free places; takes them in `occupancy`. Common practice:
 *  whole bytes a submodule. Gives the block that found no room otherwise. */
export function allocate(layout: Pick<Layout, 'blocks'>, occupancy: Occupancy, aligned: boolean): { ok: true; addresses: AddressMap } | { ok: false; noRoomFor: DataBlock } {
  const addresses: AddressMap = {}
  for (const block of layout.blocks) {
    const byte = findFreeByte(occupancy[block.direction], block.bytes, aligned ? block.alignBytes : 1)
    if (byte === null) return { ok: false, noRoomFor: block }
    occupancy[block.direction].fill(1, byte, byte + block.bytes)
    addresses[block.subslot] = { ...addresses[block.subslot], [block.direction]: byte }
  }
  return { ok: true, addresses }
}
