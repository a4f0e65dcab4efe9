import { formatIp, nextFreeIp, parseIp, subnetOf } from '../../addressing/ip'
import { legalStationName, nextName } from '../../addressing/station-name'
import { findDevice } from '../../catalog/catalog'
import { layoutOf } from '../../catalog/layout'
import type { Handler } from '../apply'
import type { Draft } from '../draft'
import type { NetworkRow, StationRow } from '../model'
import type { Refusal } from '../refusals'
import { behind } from './controllers'
import { addressesFor, placeModule, unplaceSignals } from './placing'

type Commands = 'addStation' | 'updateStation' | 'removeStation'

export const stationHandlers: { [T in Commands]: Handler<T> } = {
  addStation: (draft, catalog, command) => {
    const network = draft.get('networks', command.networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: command.networkId }
    if (draft.get('stations', command.id)) return { code: 'id.taken', id: command.id }
    if (!catalog.has(command.file)) return { code: 'file.missing', file: command.file }
    const device = findDevice(catalog, command.file, command.device)
    if (!device) return { code: 'device.missing', device: command.device }

    if (device.protocol !== network.kind) return { code: 'device.protocol', device: device.name, protocol: device.protocol, network: network.name, kind: network.kind }

    const neighbours = stationsOn(draft, network)
    const ip = command.ip ?? freeIp(network, neighbours)
    if (ip === null) return { code: 'subnet.full', network: network.name }
    const found = addressesFor(draft, catalog, network.controllerId, layoutOf(device))
    if (!found.ok) return found.refusal
    const takenNumbers = new Set(neighbours.map(({ deviceNumber }) => deviceNumber))
    draft.put('stations', {
      id: command.id,
      networkId: network.id,
      position: behind(neighbours),
      name: command.name ?? freeName((device.protocol === 'profinet' ? device.profinet.dnsCompatibleName : null) ?? device.name, draft),
      ip,
      deviceNumber: firstFree(takenNumbers),
      file: command.file,
      device: command.device,
      comment: command.comment,
      addresses: found.addresses,
    })
    for (const slot of device.slots) {
      const key = slot.fixed ?? slot.default
      const refusal = key === null ? null : placeModule(draft, catalog, { id: `${command.id}.${slot.slot}`, stationId: command.id, slot: slot.slot, module: key })
      if (refusal) return refusal
    }
    return null
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
}

/** Takes a station out; its signals keep tag and comment and wait for a new place. */
export function removeStation(draft: Draft, id: string): void {
  const group = draft.plan.stations[id]!
  unplaceSignals(draft, Object.values(group.signals))
  for (const moduleId in group.modules) draft.remove('modules', moduleId)
  draft.remove('stations', id)
}

function stationsOn(draft: Draft, network: NetworkRow): StationRow[] {
  return Object.values(draft.plan.stations).map(({ station }) => station).filter(({ networkId }) => networkId === network.id)
}

function freeIp(network: NetworkRow, neighbours: readonly StationRow[]): string | null {
  const subnet = subnetOf(network.controllerIp, network.prefixLength)
  if (!subnet) return ''
  const controller = parseIp(network.controllerIp)
  const taken = new Set([controller, ...neighbours.map(({ ip }) => parseIp(ip))].filter((ip) => ip !== null))
  const free = nextFreeIp(subnet, taken, Math.max(...taken)) ?? nextFreeIp(subnet, taken)
  return free === null ? null : formatIp(free)
}

function freeName(wish: string, draft: Draft): string {
  const taken = new Set(Object.values(draft.plan.stations).map(({ station }) => station.name))
  return nextName(`${legalStationName(wish)}-1`, taken)
}

function firstFree(taken: ReadonlySet<number>): number {
  let number = 1
  while (taken.has(number)) number++
  return number
}
