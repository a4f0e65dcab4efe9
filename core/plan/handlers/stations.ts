import { formatIp, ipFault, nextFreeIp, parseIp, subnetOf } from '../../addressing/ip'
import { legalStationName, nextName } from '../../addressing/station-name'
import { findDevice, findModule, type Catalog } from '../../catalog/catalog'
import type { Layout } from '../../catalog/layout'
import type { Device } from '../../catalog/model'
import { layoutOfHead, layoutOfPlaced } from '../../catalog/placed'
import { moduleInSlot, slotOf, whyNotInSlot } from '../../placement/slots'
import type { Handler } from '../apply'
import type { Draft } from '../draft'
import type { AddressMap, Id, ModuleRow, NetworkRow, Plugged, SignalRow, StationGroup, StationRow } from '../model'
import { freeNumber, kindOf } from '../network-kinds'
import type { Refusal } from '../refusals'
import { behind } from './controllers'
import { addressesFor, channelKeys, layoutOfRow, layoutOfStation, placeModule, pluggedInto, putAllocated, sameBlocks, unplaceSignals } from './placing'

type Commands = 'addStation' | 'updateStation' | 'removeStation' | 'copyStation' | 'moveStations' | 'replaceHead'

export const stationHandlers: { [T in Commands]: Handler<T> } = {
  addStation: (draft, catalog, command) => {
    const network = draft.get('networks', command.networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: command.networkId }
    const described = describedHead(catalog, network, command)
    if (!described.ok) return described.refusal
    const { device } = described
    const refusal = putStation(draft, catalog, network, device, {
      ...command,
      name: command.name ?? freeName((device.protocol === 'profinet' ? device.profinet.dnsCompatibleName : null) ?? device.name, draft),
      connection: command.connection ?? device.connections[0]?.key ?? '',
    })
    return refusal ?? placeFixed(draft, catalog, command.id, device, true)
  },

  updateStation: (draft, _, { id, set }): Refusal | null => {
    const row = draft.get('stations', id)
    if (!row) return { code: 'row.missing', what: 'station', id }
    draft.put('stations', { ...row, ...set })
    return null
  },

  removeStation: (draft, _, { id }) => {
    if (!draft.get('stations', id)) return { code: 'row.missing', what: 'station', id }
    removeStation(draft, id)
    return null
  },

  copyStation: (draft, catalog, { sourceId, networkId, copies }) => {
    const source = draft.plan.stations[sourceId]
    const network = draft.get('networks', networkId)
    if (!source) return { code: 'row.missing', what: 'station', id: sourceId }
    if (!network) return { code: 'row.missing', what: 'network', id: networkId }
    const described = describedHead(catalog, network, source.station)
    if (!described.ok) return described.refusal
    for (const copy of copies) {
      const name = copy.name ?? nextName(source.station.name, namesIn(draft))
      const refusal = putStation(draft, catalog, network, described.device, { ...source.station, deviceNumber: undefined, id: copy.id, name, ip: copy.ip }) ?? copyContent(draft, catalog, source, copy)
      if (refusal) return refusal
    }
    return null
  },

  moveStations: (draft, catalog, { ids, networkId, position }) => {
    const network = draft.get('networks', networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: networkId }
    for (const [i, id] of ids.entries()) {
      const group = draft.plan.stations[id]
      if (!group) return { code: 'row.missing', what: 'station', id }
      const refusal = moveStation(draft, catalog, group, network, position === undefined ? null : position + i * 1e-6)
      if (refusal) return refusal
    }
    return null
  },

  replaceHead: (draft, catalog, command) => {
    const group = draft.plan.stations[command.id]
    if (!group) return { code: 'row.missing', what: 'station', id: command.id }
    const network = draft.get('networks', group.station.networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: group.station.networkId }
    const described = describedHead(catalog, network, command)
    if (!described.ok) return described.refusal
    const { device } = described
    const connection = command.connection ?? (device.connections.some(({ key }) => key === group.station.connection) ? group.station.connection : device.connections[0]?.key ?? '')
    return replaceHead(draft, catalog, group, network, device, { file: command.file, device: command.device, connection })
  },
}

/** Takes a station out; its signals keep tag and comment and wait for a new place. */
export function removeStation(draft: Draft, id: string): void {
  const group = draft.plan.stations[id]!
  unplaceSignals(draft, Object.values(group.signals))
  for (const moduleId in group.modules) draft.remove('modules', moduleId)
  draft.remove('stations', id)
}

/** The head a station is to stand on, or why it cannot on that network. */
function describedHead(catalog: Catalog, network: NetworkRow, { file, device: key }: { file: string; device: string }): { ok: true; device: Device } | { ok: false; refusal: Refusal } {
  if (!catalog.has(file)) return { ok: false, refusal: { code: 'file.missing', file } }
  const device = findDevice(catalog, file, key)
  if (!device) return { ok: false, refusal: { code: 'device.missing', device: key } }
  if (device.protocol !== kindOf(network).protocol) return { ok: false, refusal: { code: 'device.protocol', device: device.name, protocol: device.protocol, network: network.name, kind: network.kind } }
  return { ok: true, device }
}

type NewStation = Pick<StationRow, 'id' | 'name' | 'file' | 'device' | 'connection' | 'comment'> & { ip?: string | undefined; deviceNumber?: number | undefined; railMm?: number; plugged?: Plugged }

/** A new station at the end of its network, with the next free address, number and bytes. */
function putStation(draft: Draft, catalog: Catalog, network: NetworkRow, device: Device, { id, name, file, device: key, connection, comment, ...wishes }: NewStation): Refusal | null {
  if (draft.get('stations', id)) return { code: 'id.taken', id }
  const neighbours = stationsOn(draft, network)
  const kind = kindOf(network)
  const ip = wishes.ip ?? (kind.hasIp ? freeIp(network, neighbours) : '')
  if (ip === null) return { code: 'subnet.full', network: network.name }
  const deviceNumber = wishes.deviceNumber ?? freeNumber(kind, numbersOf(neighbours))
  if (deviceNumber === null) return { code: 'numbers.full', network: network.name, word: kind.number.word }
  const plugged = pluggedInto(device, wishes.plugged)
  const found = addressesFor(draft, catalog, network.controllerId, layoutOfHead(catalog, device, { file, connection, plugged }))
  if (!found.ok) return found.refusal
  putAllocated(draft, network.controllerId, 'stations', { id, networkId: network.id, position: behind(neighbours), name, ip, deviceNumber, file, device: key, connection, comment, railMm: wishes.railMm ?? 0, plugged, addresses: found.addresses })
  return null
}

/** Modules that the description fixes, and those it proposes where `withDefaults`. */
function placeFixed(draft: Draft, catalog: Catalog, stationId: Id, device: Device, withDefaults: boolean): Refusal | null {
  for (const slot of device.slots) {
    const key = slot.fixed ?? (withDefaults ? slot.default : null)
    if (key === null || moduleInSlot(draft.plan.stations[stationId]!.modules, slot.slot)) continue
    const refusal = placeModule(draft, catalog, { id: `${stationId}.${slot.slot}`, stationId, slot: slot.slot, module: key })
    if (refusal) return refusal
  }
  return null
}

function copyContent(draft: Draft, catalog: Catalog, source: StationGroup, { id, find, with: replacement }: { id: Id; find: string; with: string }): Refusal | null {
  const moduleIds = new Map([[source.station.id, id]])
  for (const row of Object.values(source.modules).sort((a, b) => a.slot - b.slot)) {
    const copied = `${id}.${row.slot}`
    moduleIds.set(row.id, copied)
    const refusal = placeModule(draft, catalog, { id: copied, stationId: id, slot: row.slot, module: row.module, plugged: row.plugged })
    if (refusal) return refusal
  }
  for (const [i, signal] of Object.values(source.signals).entries()) {
    const tag = find === '' ? '' : signal.tag.replaceAll(find, replacement)
    if (tag === '' && signal.comment === '' && signal.terminal === '') continue
    draft.put('signals', { ...signal, id: `${id}-s${i + 1}`, tag, place: { ...signal.place!, moduleId: moduleIds.get(signal.place!.moduleId)! } })
  }
  return null
}

function moveStation(draft: Draft, catalog: Catalog, { station }: StationGroup, network: NetworkRow, position: number | null): Refusal | null {
  const from = draft.get('networks', station.networkId)
  const kind = kindOf(network)
  if (from && kindOf(from).protocol !== kind.protocol) return { code: 'network.protocol', station: station.name, kind: from.kind, network: network.name, other: network.kind }
  const neighbours = stationsOn(draft, network).filter(({ id }) => id !== station.id)
  const isNew = station.networkId !== network.id
  const ip = isNew ? fittingIp(network, neighbours, station.ip) : station.ip
  if (ip === null) return { code: 'subnet.full', network: network.name }
  const isOutside = station.deviceNumber < kind.number.first || station.deviceNumber > kind.number.last
  const deviceNumber = isNew || isOutside ? fittingNumber(network, neighbours, station.deviceNumber) : station.deviceNumber
  if (deviceNumber === null) return { code: 'numbers.full', network: network.name, word: kind.number.word }
  draft.put('stations', { ...station, networkId: network.id, ip, deviceNumber, position: position ?? behind(neighbours) })
  return from?.controllerId === network.controllerId ? null : readdressAll(draft, catalog, station.id, network.controllerId)
}

function fittingIp(network: NetworkRow, neighbours: readonly StationRow[], ip: string): string | null {
  if (!kindOf(network).hasIp) return ''
  const isFree = ip !== network.controllerIp && neighbours.every((neighbour) => neighbour.ip !== ip)
  return isFree && ipFault(ip, subnetOf(network.controllerIp, network.prefixLength)) === null ? ip : freeIp(network, neighbours)
}

function fittingNumber(network: NetworkRow, neighbours: readonly StationRow[], number: number): number | null {
  const kind = kindOf(network)
  const taken = numbersOf(neighbours)
  return number >= kind.number.first && number <= kind.number.last && !taken.has(number) ? number : freeNumber(kind, taken)
}

/** New bytes for a whole station in another controller's image. */
function readdressAll(draft: Draft, catalog: Catalog, stationId: Id, controllerId: Id): Refusal | null {
  const before = draft.plan.stations[stationId]!
  draft.put('stations', { ...before.station, addresses: {} })
  for (const row of Object.values(before.modules)) draft.put('modules', { ...row, addresses: {} })
  return giveAddresses(draft, catalog, stationId, controllerId)
}

/** Bytes for head and modules that have none. */
function giveAddresses(draft: Draft, catalog: Catalog, stationId: Id, controllerId: Id): Refusal | null {
  const { station, modules } = draft.plan.stations[stationId]!
  const owners: { layout: Layout | null; addresses: AddressMap; write: (addresses: AddressMap) => void }[] = [
    { layout: layoutOfStation(catalog, station), addresses: station.addresses, write: (addresses) => draft.put('stations', { ...station, addresses }) },
    ...Object.values(modules).sort((a, b) => a.slot - b.slot).map((row) => ({ layout: layoutOfRow(catalog, station, row), addresses: row.addresses, write: (addresses: AddressMap) => draft.put('modules', { ...row, addresses }) })),
  ]
  for (const { layout, addresses, write } of owners) {
    if (!layout || Object.keys(addresses).length > 0) continue
    const found = addressesFor(draft, catalog, controllerId, layout)
    if (!found.ok) return found.refusal
    if (layout.blocks.length > 0) write(found.addresses)
  }
  return null
}

function replaceHead(draft: Draft, catalog: Catalog, group: StationGroup, network: NetworkRow, device: Device, head: Pick<StationRow, 'file' | 'device' | 'connection'>): Refusal | null {
  const { station } = group
  const oldHead = layoutOfStation(catalog, station)
  const plugged = pluggedInto(device, station.plugged, findDevice(catalog, station.file, station.device))
  const newHead = layoutOfHead(catalog, device, { ...head, plugged })
  const signals = Object.values(group.signals)
  unplaceSignals(draft, signals)
  for (const id in group.modules) draft.remove('modules', id)
  draft.put('stations', { ...station, ...head, plugged, addresses: oldHead && sameBlocks(oldHead.blocks, newHead.blocks) ? station.addresses : {} })

  const layouts = new Map<Id, Layout>([[station.id, newHead]])
  for (const row of Object.values(group.modules).sort((a, b) => a.slot - b.slot)) {
    const taken = takenOver(catalog, station.file, head.file, row)
    if (!taken || whyNotInSlot(device, station.name, row.slot, taken.module)) continue
    const fixed = slotOf(device, row.slot)?.fixed ?? null
    if (fixed !== null && fixed !== taken.module.key) continue
    draft.put('modules', { ...row, module: taken.module.key, plugged: taken.plugged, addresses: taken.keepsAddresses ? row.addresses : {} })
    layouts.set(row.id, taken.layout)
  }
  const refusal = placeFixed(draft, catalog, station.id, device, false) ?? giveAddresses(draft, catalog, station.id, network.controllerId)
  if (refusal) return refusal
  for (const signal of signals) if (hasChannel(layouts.get(signal.place!.moduleId), signal)) draft.put('signals', signal)
  return null
}

/** What a module becomes under another description file: the same key, else the same order number. */
function takenOver(catalog: Catalog, oldFile: string, newFile: string, row: ModuleRow) {
  const old = findModule(catalog, oldFile, row.module)
  const module = findModule(catalog, newFile, row.module) ?? catalog.get(newFile)?.modules.find(({ orderNumber }) => orderNumber !== null && orderNumber === old?.orderNumber) ?? null
  if (!module) return null
  const plugged = pluggedInto(module, row.plugged, old)
  const layout = layoutOfPlaced(catalog, newFile, module, plugged)
  return { module, plugged, layout, keepsAddresses: old !== null && sameBlocks(layoutOfPlaced(catalog, oldFile, old, row.plugged).blocks, layout.blocks) }
}

function hasChannel(layout: Layout | undefined, { place }: SignalRow): boolean {
  return layout !== undefined && channelKeys(layout).has(`${place!.subslot} ${place!.direction} ${place!.offsetBits}`)
}

function stationsOn(draft: Draft, network: NetworkRow): StationRow[] {
  return Object.values(draft.plan.stations).map(({ station }) => station).filter(({ networkId }) => networkId === network.id)
}

function numbersOf(stations: readonly StationRow[]): ReadonlySet<number> {
  return new Set(stations.map(({ deviceNumber }) => deviceNumber))
}

function freeIp(network: NetworkRow, neighbours: readonly StationRow[]): string | null {
  const subnet = subnetOf(network.controllerIp, network.prefixLength)
  if (!subnet) return ''
  const controller = parseIp(network.controllerIp)
  const taken = new Set([controller, ...neighbours.map(({ ip }) => parseIp(ip))].filter((ip) => ip !== null))
  const free = nextFreeIp(subnet, taken, Math.max(...taken)) ?? nextFreeIp(subnet, taken)
  return free === null ? null : formatIp(free)
}

function namesIn(draft: Draft): ReadonlySet<string> {
  return new Set(Object.values(draft.plan.stations).map(({ station }) => station.name))
}

function freeName(wish: string, draft: Draft): string {
  return nextName(`${legalStationName(wish)}-1`, namesIn(draft))
}
