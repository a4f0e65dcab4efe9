import { carriesModules } from '../../catalog/inside'
import { hasByteOrder } from '../../addressing/byte-order'
import { carryValues } from '../../parameters/carry'
import { bitsTaken, packsBits, withAddress } from '../../image/image'
import { findDevice, findModule, type Catalog } from '../../catalog/catalog'
import { moduleInSlot, slotOf, whyNotInSlot } from '../../placement/slots'
import type { Handler } from '../handler'
import type { Draft } from '../../plan/draft'
import type { AddressMap, ByteOrders, ModuleRow, SignalRow, StationGroup } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import { placeText } from '../../vocabulary/data-place'
import {
  addressesFor,
  keepsChannel,
  layoutOfRow,
  layoutOfStation,
  placeModule,
  pluggedInto,
  sameBlocks,
  unplaceSignals,
  whyNotPlaced,
} from './placing'

type Commands =
  | 'insertModule'
  | 'moveModule'
  | 'replaceModule'
  | 'removeModules'
  | 'setAddress'
  | 'readdress'
  | 'setByteOrder'

export const moduleHandlers: { [T in Commands]: Handler<T> } = {
  insertModule: (draft, catalog, { type: _type, shift, ...row }) => {
    if (draft.get('modules', row.id)) return { code: 'id.taken', id: row.id }
    const group = draft.plan.stations[row.stationId]
    if (shift && group && moduleInSlot(group.modules, row.slot)) {
      const refusal = makeRoom(draft, catalog, group, row.slot)
      if (refusal) return refusal
    }
    return placeModule(draft, catalog, row)
  },

  moveModule: (draft, catalog, { id, stationId, slot }) => {
    const row = draft.get('modules', id)
    if (!row) return { code: 'row.missing', what: 'module', id }
    const fixed = whyFixed(draft, catalog, row)
    if (fixed) return fixed
    return row.stationId === stationId
      ? reorder(draft, catalog, row, slot)
      : moveAcross(draft, catalog, row, stationId, slot)
  },

  replaceModule: (draft, catalog, { id, module: key }) => {
    const row = draft.get('modules', id)
    if (!row) return { code: 'row.missing', what: 'module', id }
    const group = draft.plan.stations[row.stationId]!
    const signals = signalsOf(group, id)
    const wasLayout = layoutOfRow(catalog, group.station, row)
    unplaceSignals(draft, catalog, signals)
    draft.remove('modules', id)
    const module = findModule(catalog, group.station.file, key)
    const plugged = module
      ? pluggedInto(module, row.plugged, findModule(catalog, group.station.file, row.module))
      : row.plugged
    const values = module
      ? carryValues(catalog, group.station.file, row, group.station.file, { module: key, plugged })
      : row.values
    const refusal = placeModule(draft, catalog, {
      id,
      stationId: row.stationId,
      slot: row.slot,
      module: key,
      plugged,
      layouts: row.layouts,
      identity: row.identity,
      values,
      monitored: row.monitored,
    })
    if (refusal) return refusal
    const placed = { ...draft.get('modules', id)!, iParameterSums: row.iParameterSums }
    draft.put('modules', placed)
    const layout = layoutOfRow(catalog, group.station, placed)
    if (
      wasLayout &&
      layout &&
      sameBlocks(wasLayout.blocks, layout.blocks, packsBits(draft.plan, group.station))
    )
      draft.put('modules', { ...placed, addresses: row.addresses, orders: row.orders })
    for (const signal of signals.filter(keepsChannel(wasLayout, layout)))
      draft.put('signals', signal)
    return null
  },

  removeModules: (draft, catalog, { ids }) => {
    for (const id of ids) {
      const row = draft.get('modules', id)
      if (!row) return { code: 'row.missing', what: 'module', id }
      const fixed = whyFixed(draft, catalog, row)
      if (fixed) return fixed
      unplaceSignals(draft, catalog, signalsOf(draft.plan.stations[row.stationId]!, id))
      draft.remove('modules', id)
    }
    return null
  },

  setAddress: (draft, catalog, { moduleId, subslot, direction, byte, bit = 0, fixed = true }) => {
    const owner = ownerOf(draft, catalog, moduleId)
    if (!owner) return { code: 'row.missing', what: 'module', id: moduleId }
    const block = owner.layout.blocks.find(
      (one) => one.subslot === subslot && one.direction === direction,
    )
    if (!block) return { code: 'block.missing', subslot, direction }
    if (owner.isInside) return { code: 'address.slot', station: owner.station.name }
    if (bit > 0 && bit + bitsTaken(block, packsBits(draft.plan, owner.station)) > 8)
      return { code: 'address.bits', module: owner.name }
    owner.write(withAddress(owner.addresses, subslot, direction, byte * 8 + bit, fixed))
    return null
  },

  readdress: (draft, catalog, { moduleId }) => {
    const owner = ownerOf(draft, catalog, moduleId)
    if (!owner) return { code: 'row.missing', what: 'module', id: moduleId }
    if (owner.isInside) return { code: 'address.slot', station: owner.station.name }
    owner.write({})
    const found = addressesFor(draft, catalog, owner.station, owner.layout)
    if (!found.ok) return found.refusal
    owner.write(found.addresses)
    return null
  },

  setByteOrder: (draft, catalog, { moduleId, values, turn }) => {
    const owner = ownerOf(draft, catalog, moduleId)
    if (!owner) return { code: 'row.missing', what: 'module', id: moduleId }
    const orders = { ...owner.orders }
    for (const place of values) {
      const key = `${place.subslot}.${place.direction}.${place.offsetBits}`
      if (
        !owner.layout.channels.some(
          (channel) => placeText(channel) === placeText(place) && hasByteOrder(channel),
        )
      )
        return { code: 'channel.missing', place: `${owner.station.name}, ${key}` }
      if (turn === '') delete orders[key]
      else orders[key] = turn
    }
    owner.turn(orders)
    return null
  },
}

/** Pushes the modules from `slot` on one slot further, up to the first free slot. */
function makeRoom(
  draft: Draft,
  catalog: Catalog,
  group: StationGroup,
  slot: number,
): Refusal | null {
  const chain: ModuleRow[] = []
  for (let next = slot; ; next++) {
    const standing = moduleInSlot(group.modules, next)
    if (!standing) break
    chain.push(standing)
  }
  const device = findDevice(catalog, group.station.file, group.station.device)
  if (device && !slotOf(device, slot + chain.length))
    return { code: 'slots.full', station: group.station.name }
  return putInSlots(
    draft,
    catalog,
    group,
    chain.map((row) => ({ row, slot: row.slot + 1 })),
  )
}

/** Within a station: the modules between the old and the new slot close up by one. */
function reorder(draft: Draft, catalog: Catalog, row: ModuleRow, slot: number): Refusal | null {
  const group = draft.plan.stations[row.stationId]!
  if (slot === row.slot) return null
  const isForward = slot > row.slot
  const moves = [{ row, slot }]
  if (moduleInSlot(group.modules, slot)) {
    // Close up from the target towards the old place, and stop at the first free slot on the way.
    const step = isForward ? -1 : 1
    for (let at = slot; at !== row.slot; at += step) {
      const standing = moduleInSlot(group.modules, at)
      if (!standing) break
      moves.push({ row: standing, slot: at + step })
    }
  }
  return putInSlots(draft, catalog, group, moves)
}

function putInSlots(
  draft: Draft,
  catalog: Catalog,
  group: StationGroup,
  moves: readonly { row: ModuleRow; slot: number }[],
): Refusal | null {
  const { station } = group
  const device = findDevice(catalog, station.file, station.device)
  for (const { row, slot } of moves) {
    const module = findModule(catalog, station.file, row.module)
    const whyNot =
      whyFixed(draft, catalog, row) ??
      (device && module ? whyNotInSlot(device, station.name, slot, module) : null)
    if (whyNot) return whyNot
  }
  for (const { row, slot } of moves) draft.put('modules', { ...row, slot })
  return null
}

/** Into another station: tags go along, and addresses too where both hang on the same
 *  controller. */
function moveAcross(
  draft: Draft,
  catalog: Catalog,
  row: ModuleRow,
  stationId: string,
  slot: number,
): Refusal | null {
  const target = draft.plan.stations[stationId]
  const source = draft.plan.stations[row.stationId]!
  if (!target) return { code: 'row.missing', what: 'station', id: stationId }
  if (target.station.file !== source.station.file)
    return { code: 'module.missing', module: row.module }
  const moved = { ...row, stationId, slot }
  const whyNot = whyNotPlaced(draft, catalog, moved)
  if (whyNot) return whyNot
  draft.put('modules', moved)
  return controllerOf(draft, source) === controllerOf(draft, target)
    ? null
    : moduleHandlers.readdress(draft, catalog, { type: 'readdress', moduleId: row.id })
}

function whyFixed(draft: Draft, catalog: Catalog, row: ModuleRow): Refusal | null {
  const { station } = draft.plan.stations[row.stationId]!
  const device = findDevice(catalog, station.file, station.device)
  if (!device || slotOf(device, row.slot)?.fixed !== row.module) return null
  return {
    code: 'slot.fixed',
    station: station.name,
    slot: row.slot,
    module: findModule(catalog, station.file, row.module)?.name ?? row.module,
  }
}

/** A module or head as something that has addresses. */
function ownerOf(draft: Draft, catalog: Catalog, moduleId: string) {
  const row = draft.get('modules', moduleId)
  const group = draft.plan.stations[row?.stationId ?? moduleId]
  if (!group) return null
  const { station } = group
  const layout = row ? layoutOfRow(catalog, station, row) : layoutOfStation(catalog, station)
  if (!layout) return null
  return {
    layout,
    station,
    name: row ? (findModule(catalog, station.file, row.module)?.name ?? row.module) : station.name,
    isInside: row !== null && carriesModules(findDevice(catalog, station.file, station.device)),
    addresses: row ? row.addresses : station.addresses,
    orders: row ? row.orders : station.orders,
    write: (addresses: AddressMap) =>
      row
        ? draft.put('modules', { ...row, addresses })
        : draft.put('stations', { ...station, addresses }),
    turn: (orders: ByteOrders) =>
      row
        ? draft.put('modules', { ...row, orders })
        : draft.put('stations', { ...station, orders }),
  }
}

function controllerOf(draft: Draft, group: StationGroup): string | undefined {
  return draft.get('networks', group.station.networkId)?.controllerId
}

function signalsOf(group: StationGroup, moduleId: string): SignalRow[] {
  return Object.values(group.signals).filter(({ place }) => place?.moduleId === moduleId)
}
