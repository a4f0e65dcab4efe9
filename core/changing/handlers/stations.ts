import { nextName } from '../../protocols/profinet/station-name'
import { findDevice, type Catalog } from '../../catalog/catalog'
import type { Device } from '../../catalog/model'
import { layoutOfHead } from '../../catalog/placed'
import type { Handler } from '../handler'
import type { Draft } from '../../plan/draft'
import { ipsOnCable, newIdentity, TakenIdentities, type IdentityFault } from '../identities'
import type { Id, NetworkRow, Plan, StationGroup, StationRow } from '../../plan/model'
import {
  kindOf,
  protocolOf,
  protocolOn,
  stationSettingsFor,
  strangeSetting,
  type StationSettingsEdit,
} from '../../protocols/registry'
import { ipFaultOn, ipOf } from '../../protocols/settings'
import { sharingOf } from '../../protocols/profinet/sharing'
import type { Refusal } from '../../plan/refusals'
import { withOwnDestinations } from '../../safety/destinations'
import { Cabling } from '../cabling'
import { isLineInOrder, lineUp, stationsInOrder } from './links'
import { behind } from './positions'
import { replaceHead } from './station-heads'
import {
  addressesFor,
  giveAddresses,
  placeFixed,
  placeModule,
  pluggedInto,
  putAllocated,
  unplaceSignals,
} from './placing'

type Commands =
  'addStation' | 'updateStation' | 'removeStation' | 'copyStation' | 'moveStations' | 'replaceHead'

export const stationHandlers: { [T in Commands]: Handler<T> } = {
  addStation: (draft, catalog, command) => {
    const network = draft.get('networks', command.networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: command.networkId }
    const described = describedHead(catalog, network, command)
    if (!described.ok) return described.refusal
    const { device } = described
    const refusal = putStation(draft, catalog, network, device, {
      ...command,
      connection: command.connection ?? device.connections[0]?.key ?? '',
    })
    if (refusal) return refusal
    linkToEnd(draft, catalog, network, command.id)
    const withProposed = protocolOf(device).placesProposed === true
    return placeFixed(draft, catalog, command.id, device, withProposed)
  },

  updateStation: (draft, catalog, { id, set }): Refusal | null => {
    const row = draft.get('stations', id)
    if (!row) return { code: 'row.missing', what: 'station', id }
    const { settings, ...common } = set
    const { kind } = row.settings
    const strange = strangeSetting('station', kind, settings ?? {})
    if (strange) return { code: 'setting.strange', setting: strange, kind }
    // A device has its cables once, at the station that it is shared with.
    if (settings?.sharedWith && !sharingOf(row).sharedWith)
      new Cabling(draft, catalog).bridgeOver(id)
    draft.put('stations', {
      ...draft.get('stations', id)!,
      ...common,
      ...(settings && { settings: stationSettingsFor(kind, { ...row.settings, ...settings }) }),
    })
    return null
  },

  removeStation: (draft, catalog, { id }) => {
    if (!draft.get('stations', id)) return { code: 'row.missing', what: 'station', id }
    new Cabling(draft, catalog).bridgeOver(id)
    removeStation(draft, catalog, id)
    return null
  },

  copyStation: (draft, catalog, { sourceId, networkId, copies }) => {
    const source = draft.plan.stations[sourceId]
    const network = draft.get('networks', networkId)
    if (!source) return { code: 'row.missing', what: 'station', id: sourceId }
    if (!network) return { code: 'row.missing', what: 'network', id: networkId }
    const described = describedHead(catalog, network, source.station)
    if (!described.ok) return described.refusal
    draft.expectSignals(copies.length * Object.keys(source.signals).length)
    const neighbours = stationsOn(draft, network)
    const taken = new TakenIdentities(draft.plan, network, neighbours)
    const cabling = new Cabling(draft, catalog)
    for (const copy of copies) {
      draft.visitStations(3)
      const name =
        copy.name ??
        (network.namePattern === '' ? nextName(source.station.name, taken.names) : undefined)
      const refusal =
        putStation(
          draft,
          catalog,
          network,
          described.device,
          {
            ...source.station,
            deviceNumber: undefined,
            id: copy.id,
            name,
            settings: { ...source.station.settings, ...ownIdentity, ...copy.settings },
          },
          taken,
        ) ?? copyContent(draft, catalog, source, copy)
      if (refusal) return refusal
      const made = draft.get('stations', copy.id)!
      cabling.know(made)
      cabling.linkToEnd(made, neighbours)
      neighbours.push(made)
      taken.add({ ...made, ip: ipOf(made) })
    }
    return null
  },

  moveStations: (draft, catalog, { ids, networkId, position }) => {
    const network = draft.get('networks', networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: networkId }
    const isInLine = isLineInOrder(draft, catalog, networkId)
    for (const [i, id] of ids.entries()) {
      const group = draft.plan.stations[id]
      if (!group) return { code: 'row.missing', what: 'station', id }
      const isNew = group.station.networkId !== networkId
      if (isNew) new Cabling(draft, catalog).bridgeOver(id)
      const refusal = moveStation(
        draft,
        catalog,
        group,
        network,
        position === undefined ? null : position + i * 1e-6,
      )
      if (refusal) return refusal
      if (isNew) linkToEnd(draft, catalog, network, id)
    }
    // A line that went as the list does still goes so.
    if (isInLine && !isLineInOrder(draft, catalog, networkId))
      return lineUp(
        new Cabling(draft, catalog),
        networkId,
        stationsInOrder(draft, networkId).map(({ id }) => id),
      )
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
    const connection =
      command.connection ??
      (device.connections.some(({ key }) => key === group.station.connection)
        ? group.station.connection
        : (device.connections[0]?.key ?? ''))
    return replaceHead(draft, catalog, group, device, {
      file: command.file,
      device: command.device,
      connection,
    })
  },
}

/** Takes a station out; its signals keep tag and comment and wait for a new place. */
export function removeStation(draft: Draft, catalog: Catalog, id: string): void {
  const group = draft.plan.stations[id]!
  unplaceSignals(draft, catalog, Object.values(group.signals))
  for (const moduleId in group.modules) draft.remove('modules', moduleId)
  draft.remove('stations', id)
}

/** The head a station is to stand on, or why it cannot on that network. */
function describedHead(
  catalog: Catalog,
  network: NetworkRow,
  { file, device: key }: { file: string; device: string },
): { ok: true; device: Device } | { ok: false; refusal: Refusal } {
  if (!catalog.has(file)) return { ok: false, refusal: { code: 'file.missing', file } }
  const device = findDevice(catalog, file, key)
  if (!device) return { ok: false, refusal: { code: 'device.missing', device: key } }
  if (device.protocol !== protocolOn(network).name)
    return {
      ok: false,
      refusal: {
        code: 'device.protocol',
        device: device.name,
        protocol: device.protocol,
        network: network.name,
        kind: network.settings.kind,
      },
    }
  return { ok: true, device }
}

type NewStation = Pick<StationRow, 'id' | 'file' | 'device' | 'connection' | 'comment'> &
  Partial<
    Pick<
      StationRow,
      | 'railMm'
      | 'plugged'
      | 'layouts'
      | 'packsBits'
      | 'feed'
      | 'secondFeed'
      | 'switches'
      | 'orders'
      | 'values'
      | 'monitored'
    >
  > & {
    name?: string | undefined
    deviceNumber?: number | undefined
    settings?: StationSettingsEdit | undefined
  }

/** Settings that no copy shares with what it was copied from. */
const ownIdentity = {
  ip: undefined,
  roleName: undefined,
  safetyConfiguration: undefined,
  sharedWith: undefined,
}

/** A new station at the end of its network, with the next free name, address, number and bytes. */
function putStation(
  draft: Draft,
  catalog: Catalog,
  network: NetworkRow,
  device: Device,
  { id, name, file, device: key, connection, comment, ...wishes }: NewStation,
  known: TakenIdentities | null = null,
): Refusal | null {
  if (draft.get('stations', id)) return { code: 'id.taken', id }
  const { kind } = network.settings
  const settings = told(wishes.settings ?? {})
  const strange = strangeSetting('station', kind, settings)
  if (strange) return { code: 'setting.strange', setting: strange, kind }
  const neighbours = stationsOn(draft, network)
  const { ip } = settings
  const free =
    name !== undefined &&
    (ip !== undefined || !kindOf(network).hasIp) &&
    wishes.deviceNumber !== undefined
      ? null
      : newIdentity(known ?? new TakenIdentities(draft.plan, network, neighbours), device, {
          ...wishes,
          ip,
          name,
        })
  if (free !== null && (typeof free === 'string' || 'pattern' in free))
    return wordNoIdentity(free, network, device)
  const plugged = pluggedInto(device, wishes.plugged)
  const packs = wishes.packsBits ?? null
  const values = withOwnDestinations(
    draft.plan,
    catalog,
    file,
    device,
    plugged,
    wishes.values ?? {},
  )
  const found = addressesFor(
    draft,
    catalog,
    { id, networkId: network.id, packsBits: packs },
    layoutOfHead(catalog, device, {
      file,
      connection,
      plugged,
      values,
      layouts: wishes.layouts ?? {},
    }),
  )
  if (!found.ok) return found.refusal
  putAllocated(draft, 'stations', {
    id,
    networkId: network.id,
    position: behind(neighbours),
    file,
    device: key,
    connection,
    comment,
    plugged,
    layouts: wishes.layouts ?? {},
    links: {},
    ports: {},
    feed: wishes.feed ?? null,
    secondFeed: wishes.secondFeed ?? null,
    reported: null,
    addresses: found.addresses,
    name: name ?? free!.name,
    settings: stationSettingsFor(kind, { ip: free?.ip, ...settings }),
    deviceNumber: wishes.deviceNumber ?? free!.deviceNumber,
    railMm: wishes.railMm ?? 0,
    packsBits: packs,
    switches: wishes.switches ?? null,
    orders: wishes.orders ?? {},
    values,
    iParameterSums: {},
    monitored: wishes.monitored ?? {},
  })
  return null
}

/** Joins a new station to the end of its network's line. */
function linkToEnd(draft: Draft, catalog: Catalog, network: NetworkRow, id: Id): void {
  new Cabling(draft, catalog).linkToEnd(draft.get('stations', id)!, stationsOn(draft, network))
}

/** What was said, without what was left open. */
function told<T extends object>(settings: T): Partial<T> {
  return Object.fromEntries(
    Object.entries(settings).filter(([key, value]) => value !== undefined && key !== 'kind'),
  ) as Partial<T>
}

function wordNoIdentity(fault: IdentityFault, network: NetworkRow, device: Device): Refusal {
  if (typeof fault === 'object')
    return {
      code: 'pattern',
      fault: `The name pattern of ${network.name} cannot be filled: ${fault.pattern}`,
    }
  if (fault === 'switches.full') return { code: fault, network: network.name, device: device.name }
  return fault === 'subnet.full'
    ? { code: fault, network: network.name }
    : { code: fault, network: network.name, word: kindOf(network).number.word }
}

function copyContent(
  draft: Draft,
  catalog: Catalog,
  source: StationGroup,
  { id, find, with: replacement }: { id: Id; find: string; with: string },
): Refusal | null {
  const moduleIds = new Map([[source.station.id, id]])
  for (const row of Object.values(source.modules).sort((a, b) => a.slot - b.slot)) {
    const copied = `${id}.${row.slot}`
    moduleIds.set(row.id, copied)
    const refusal = placeModule(draft, catalog, {
      id: copied,
      stationId: id,
      slot: row.slot,
      module: row.module,
      plugged: row.plugged,
      layouts: row.layouts,
      feed: row.feed,
      sendsEveryS: row.sendsEveryS,
      orders: row.orders,
      values: row.values,
      monitored: row.monitored,
    })
    if (refusal) return refusal
  }
  for (const [i, signal] of Object.values(source.signals).entries()) {
    const tag = find === '' ? '' : signal.tag.replaceAll(find, replacement)
    const { partner, ...others } = signal.facts
    // A copy belongs to the copy of its partner.
    const facts =
      partner === undefined || find === ''
        ? others
        : { ...others, partner: partner.replaceAll(find, replacement) }
    if (
      tag === '' &&
      signal.comment === '' &&
      signal.terminal === '' &&
      Object.keys(facts).length === 0
    )
      continue
    draft.put('signals', {
      ...signal,
      id: `${id}-s${i + 1}`,
      tag,
      facts,
      place: { ...signal.place!, moduleId: moduleIds.get(signal.place!.moduleId)! },
    })
  }
  return null
}

function moveStation(
  draft: Draft,
  catalog: Catalog,
  { station }: StationGroup,
  network: NetworkRow,
  position: number | null,
): Refusal | null {
  const from = draft.get('networks', station.networkId)
  const kind = kindOf(network)
  if (from && protocolOn(from) !== protocolOn(network))
    return {
      code: 'network.protocol',
      station: station.name,
      kind: from.settings.kind,
      network: network.name,
      other: network.settings.kind,
    }
  const neighbours = stationsOn(draft, network).filter(({ id }) => id !== station.id)
  const isNew = station.networkId !== network.id
  const isOutside =
    station.deviceNumber < kind.number.first || station.deviceNumber > kind.number.last
  const fits = {
    ip: !isNew || !kind.hasIp || isFittingIp(draft.plan, network, station),
    number: !isOutside && (!isNew || isFittingNumber(network, neighbours, station)),
  }
  const device = findDevice(catalog, station.file, station.device)
  const free =
    (fits.ip && fits.number) || !device
      ? null
      : newIdentity(new TakenIdentities(draft.plan, network, neighbours), device, {
          name: station.name,
          switches: station.switches,
          ...(fits.ip && { ip: ipOf(station) }),
          ...(fits.number && { deviceNumber: station.deviceNumber }),
        })
  if (free !== null && (typeof free === 'string' || 'pattern' in free))
    return wordNoIdentity(free, network, device!)
  const ip = fits.ip || !free ? ipOf(station) : free.ip
  const deviceNumber = fits.number || !free ? station.deviceNumber : free.deviceNumber
  draft.put('stations', {
    ...draft.get('stations', station.id)!,
    networkId: network.id,
    settings: stationSettingsFor(network.settings.kind, { ...station.settings, ip }),
    deviceNumber,
    position: position ?? behind(neighbours),
  })
  return from?.controllerId === network.controllerId
    ? null
    : readdressAll(draft, catalog, station.id)
}

function isFittingIp(plan: Plan, network: NetworkRow, station: StationRow): boolean {
  const ip = ipOf(station)
  return (
    !ipsOnCable(plan, network, new Set([station.id])).has(ip) && ipFaultOn(network, ip) === null
  )
}

function isFittingNumber(
  network: NetworkRow,
  neighbours: readonly StationRow[],
  { deviceNumber }: StationRow,
): boolean {
  const { first, last, isUnit } = kindOf(network).number
  return (
    deviceNumber >= first &&
    deviceNumber <= last &&
    (isUnit === true || neighbours.every((other) => other.deviceNumber !== deviceNumber))
  )
}

/** New bytes for a whole station in another controller's image. */
function readdressAll(draft: Draft, catalog: Catalog, stationId: Id): Refusal | null {
  const before = draft.plan.stations[stationId]!
  const rows = Object.values(before.modules)
  draft.put('stations', { ...before.station, addresses: {} })
  for (const row of rows) draft.put('modules', { ...row, addresses: {} })
  return giveAddresses(draft, catalog, stationId)
}

function stationsOn(draft: Draft, network: NetworkRow): StationRow[] {
  draft.visitStations(5)
  return Object.values(draft.plan.stations)
    .map(({ station }) => station)
    .filter(({ networkId }) => networkId === network.id)
}
