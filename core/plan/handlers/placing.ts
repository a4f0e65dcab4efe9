import { allocate, occupancyOf } from '../../addressing/image'
import { findDevice, findModule, type Catalog } from '../../catalog/catalog'
import { layoutOf, type Layout } from '../../catalog/layout'
import { moduleInSlot, whyNotInSlot } from '../../placement/slots'
import type { Draft } from '../draft'
import type { AddressMap, Id, ModuleRow, SignalRow } from '../model'
import type { Refusal } from '../refusals'

/** The next free addresses for a layout in the controller's image. */
export function addressesFor(draft: Draft, catalog: Catalog, controllerId: Id, layout: Layout): { ok: true; addresses: AddressMap } | { ok: false; refusal: Refusal } {
  if (layout.blocks.length === 0) return { ok: true, addresses: {} }
  const controller = draft.get('controllers', controllerId)
  if (!controller) return { ok: false, refusal: { code: 'row.missing', what: 'controller', id: controllerId } }
  const found = allocate(layout, occupancyOf(draft.plan, catalog, controller), controller.aligned)
  if (found.ok) return found
  const { direction, bytes } = found.noRoomFor
  return { ok: false, refusal: { code: 'image.full', controller: controller.name, direction, bytes } }
}

/** Checks the slot by the description, finds addresses, puts the row in. The slot must be free. */
export function placeModule(draft: Draft, catalog: Catalog, row: Omit<ModuleRow, 'addresses'>): Refusal | null {
  const whyNot = whyNotPlaced(draft, catalog, row)
  if (whyNot) return whyNot
  const { station } = draft.plan.stations[row.stationId]!
  const network = draft.get('networks', station.networkId)
  if (!network) return { code: 'row.missing', what: 'network', id: station.networkId }
  const found = addressesFor(draft, catalog, network.controllerId, layoutOf(findModule(catalog, station.file, row.module)!))
  if (!found.ok) return found.refusal
  draft.put('modules', { ...row, addresses: found.addresses })
  return null
}

/** Why a module may not stand in that slot of that station; null where it may. */
export function whyNotPlaced(draft: Draft, catalog: Catalog, row: Omit<ModuleRow, 'addresses'>): Refusal | null {
  const group = draft.plan.stations[row.stationId]
  if (!group) return { code: 'row.missing', what: 'station', id: row.stationId }
  const { station } = group
  if (!catalog.has(station.file)) return { code: 'file.missing', file: station.file }
  const device = findDevice(catalog, station.file, station.device)
  if (!device) return { code: 'device.missing', device: station.device }
  const module = findModule(catalog, station.file, row.module)
  if (!module) return { code: 'module.missing', module: row.module }
  const whyNot = whyNotInSlot(device, station.name, row.slot, module)
  if (whyNot) return whyNot
  const standing = moduleInSlot(group.modules, row.slot)
  if (standing) {
    return { code: 'slot.taken', station: station.name, slot: row.slot, by: findModule(catalog, station.file, standing.module)?.name ?? standing.module }
  }
  return null
}

export function unplaceSignals(draft: Draft, signals: readonly SignalRow[]): void {
  for (const signal of signals) draft.put('signals', { ...signal, place: null })
}
