import { formatIp, ipFault, parseIp, subnetOf } from '../addressing/ip'
import { legalStationName, nextName, stationNameFault } from '../addressing/station-name'
import type { SwitchBank } from '../addressing/switches'
import { positionsFor } from '../addressing/switches'
import { findDevice, type Catalog } from '../catalog/catalog'
import type { Device } from '../catalog/model'
import { fillFields } from '../tags/pattern'
import { inRanges, parseValueList } from '../value-list'
import type { Id, NetworkRow, Plan, StationRow } from './model'
import { freeNumber, kindOf, type NetworkKind } from './network-kinds'

/** What a name pattern of a network can use. */
export const identityFields = {
  n: 'the station’s number: last octet or node number',
  network: 'name of the network',
  device: 'name of the head module',
  order: 'its order number',
  station: 'the name it has now',
} as const

/** The last octet of an address, or more of it where the subnet is larger than 256: what is left of the network's own address. */
export function hostOf(network: Pick<NetworkRow, 'controllerIp' | 'prefixLength'>, ip: string): number | null {
  const subnet = subnetOf(network.controllerIp, network.prefixLength)
  const address = parseIp(ip)
  return subnet && address !== null && address > subnet.network && address < subnet.broadcast ? address - subnet.network : null
}

export function ipOfHost(network: Pick<NetworkRow, 'controllerIp' | 'prefixLength'>, host: number): string | null {
  const subnet = subnetOf(network.controllerIp, network.prefixLength)
  const ip = subnet && host >= 0 ? formatIp(subnet.network + host) : ''
  return subnet && host > 0 && subnet.network + host < subnet.broadcast ? ip : null
}

/** The one number that name, address and switches of a station follow: of its address where the network has IP, else its node number. */
export function numberOf(network: NetworkRow, station: Pick<StationRow, 'ip' | 'deviceNumber'>): number | null {
  return kindOf(network).hasIp ? hostOf(network, station.ip) : station.deviceNumber
}

/** Switches of a station: as its device sheet says, or as somebody chose by hand. */
export function switchesOf(device: Device | null, station: Pick<StationRow, 'switches'>): SwitchBank | null {
  return device?.switches ?? station.switches
}

/** The address that the switches of a station have to make. */
export function switchAddress(bank: SwitchBank, station: Pick<StationRow, 'ip' | 'deviceNumber'>): number | null {
  if (bank.sets === 'number') return station.deviceNumber
  const ip = parseIp(station.ip)
  return ip === null ? null : ip % 256
}

export function isReserved(network: Pick<NetworkRow, 'pool'>, number: number): boolean {
  return network.pool !== null && inRanges(parseValueList(network.pool.reserved) ?? [], number)
}

export function isInPool({ pool }: Pick<NetworkRow, 'pool'>, number: number): boolean {
  return pool === null || (number >= pool.first && number <= pool.last && (number - pool.first) % pool.step === 0 && !isReserved({ pool }, number))
}

/** Numbers that new stations may get, best first. Without a pool addresses go on behind the highest one, so that gaps stay for what was
 *  taken out. */
function* candidates(network: NetworkRow, kind: NetworkKind, highestHost: number): Generator<number> {
  const { pool } = network
  if (pool) {
    for (let number = pool.first; number <= pool.last; number += pool.step) if (!isReserved(network, number)) yield number
    return
  }
  const { first, last, start } = kind.hasIp ? { first: 1, last: 2 ** (32 - network.prefixLength) - 2, start: highestHost + 1 } : kind.number
  for (let number = start; number <= last; number++) yield number
  for (let number = first; number < start; number++) yield number
}

/** IP addresses in use on the cable of a network: of stations and of controllers. */
export function ipsOnCable(plan: Plan, network: NetworkRow, except: ReadonlySet<Id> = new Set()): Set<string> {
  const sharing = new Set(Object.values(plan.networks).filter((other) => other.cable === network.cable && kindOf(other).hasIp).map(({ id }) => id))
  const used = new Set([...sharing].map((id) => plan.networks[id]!.controllerIp))
  used.add(network.controllerIp)
  for (const id in plan.stations) {
    const { station } = plan.stations[id]!
    if (sharing.has(station.networkId) && !except.has(id)) used.add(station.ip)
  }
  return used
}

export interface NewIdentity {
  readonly ip: string
  readonly deviceNumber: number
  readonly name: string
}

export type IdentityFault = 'subnet.full' | 'numbers.full' | { readonly pattern: string }

/** Address, number and name for one more station: the next free ones of the network's pool, tied together where the network says so. */
export function newIdentity(plan: Plan, network: NetworkRow, device: Device, neighbours: readonly StationRow[]): NewIdentity | IdentityFault {
  const kind = kindOf(network)
  const ips = kind.hasIp ? ipsOnCable(plan, network) : new Set<string>()
  const numbers = new Set(neighbours.map(({ deviceNumber }) => deviceNumber))
  const isFreeNumber = (number: number) => kind.number.isUnit || (number >= kind.number.first && number <= kind.number.last && !numbers.has(number))
  const free = kind.number.isUnit ? kind.number.start : freeNumber(kind, numbers)
  const highest = Math.max(0, ...neighbours.map(({ ip }) => hostOf(network, ip) ?? 0))
  const isFreeHost = (number: number) => {
    const ip = ipOfHost(network, number)
    return ip !== null && !ips.has(ip)
  }
  if (kind.hasIp && !subnetOf(network.controllerIp, network.prefixLength)) {
    return free === null ? 'numbers.full' : { ip: '', deviceNumber: free, name: freeName(plan, legalStationName(wishOf(device))) }
  }
  let number: number | null = null
  for (const candidate of candidates(network, kind, highest)) {
    if (kind.hasIp ? !isFreeHost(candidate) || (network.tied && !isFreeNumber(candidate)) : !isFreeNumber(candidate)) continue
    number = candidate
    break
  }
  if (number === null) return kind.hasIp ? 'subnet.full' : 'numbers.full'
  const deviceNumber = kind.hasIp ? (network.tied && !kind.number.isUnit ? number : free) : number
  if (deviceNumber === null) return 'numbers.full'
  const ip = kind.hasIp ? ipOfHost(network, number)! : ''
  if (network.namePattern === '') return { ip, deviceNumber, name: freeName(plan, legalStationName(wishOf(device))) }
  const filled = fillFields(network.namePattern, fieldsOf(network, device, '', number), identityFields)
  if ('fault' in filled) return { pattern: filled.fault }
  const taken = namesIn(plan)
  return { ip, deviceNumber, name: taken.has(filled.text) ? nextName(filled.text, taken) : filled.text }
}

function wishOf(device: Device): string {
  return (device.protocol === 'profinet' ? device.profinet.dnsCompatibleName : null) ?? device.name
}

function freeName(plan: Plan, wish: string): string {
  return nextName(`${wish}-1`, namesIn(plan))
}

export function namesIn(plan: Plan): ReadonlySet<string> {
  return new Set(Object.values(plan.stations).map(({ station }) => station.name))
}

function fieldsOf(network: NetworkRow, device: Device | null, station: string, n: number) {
  return { n, network: network.name, device: device?.name ?? '', order: device?.orderNumber ?? '', station }
}

/** The role name that the network's pattern asks of a station; null where it has no pattern or a wrong one. */
export function expectedRole(network: NetworkRow, device: Device | null, station: StationRow): string | null {
  return expected(network.rolePattern, network, device, station)
}

/** The same of its name. */
export function expectedName(network: NetworkRow, device: Device | null, station: StationRow): string | null {
  return expected(network.namePattern, network, device, station)
}

function expected(pattern: string, network: NetworkRow, device: Device | null, station: StationRow): string | null {
  const number = numberOf(network, station)
  if (pattern === '' || number === null) return null
  const filled = fillFields(pattern, fieldsOf(network, device, station.name, number), identityFields)
  return 'fault' in filled ? null : filled.text
}

/** What is to be given to stations of a network, and how. */
export interface IdentityWish {
  readonly start: number
  readonly step: number
  /** Empty: names stay. */
  readonly namePattern: string
  readonly rolePattern: string
  readonly setsNumber: boolean
  readonly setsIp: boolean
}

export type Identity = Pick<StationRow, 'name' | 'ip' | 'deviceNumber' | 'roleName'>

export interface IdentityChange {
  readonly id: Id
  readonly before: Identity
  readonly after: Identity
  readonly faults: readonly string[]
}

/** New identities for stations of a network in the order given, with what would be wrong with each; nothing is changed yet. Reserved
 *  numbers and those of stations that are not among them are left out. */
export function proposeIdentities(plan: Plan, catalog: Catalog, networkId: Id, stationIds: readonly Id[], wish: IdentityWish): { readonly changes: readonly IdentityChange[]; readonly fault: string | null } {
  const network = plan.networks[networkId]!
  const kind = kindOf(network)
  const own = new Set(stationIds)
  const others = Object.values(plan.stations).map(({ station }) => station).filter(({ id }) => !own.has(id))
  const otherIps = kind.hasIp ? ipsOnCable(plan, network, own) : new Set<string>()
  const otherNumbers = new Set(others.filter((station) => station.networkId === networkId).map(({ deviceNumber }) => deviceNumber))
  const isTaken = (n: number) => isReserved(network, n) || (wish.setsIp && kind.hasIp && otherIps.has(ipOfHost(network, n) ?? '')) || (wish.setsNumber && !kind.number.isUnit && otherNumbers.has(n))

  let n = wish.start
  let fault: string | null = null
  const changes = stationIds.map((id): Omit<IdentityChange, 'faults'> => {
    while (isTaken(n) && n <= 65_535) n += wish.step
    const { station } = plan.stations[id]!
    const { name, ip, deviceNumber, roleName } = station
    const fields = fieldsOf(network, findDevice(catalog, station.file, station.device), name, n)
    const fill = (pattern: string, old: string) => {
      if (pattern === '') return old
      const filled = fillFields(pattern, fields, identityFields)
      if ('text' in filled) return filled.text
      fault ??= filled.fault
      return old
    }
    const after = {
      name: fill(wish.namePattern, name),
      // Who is not served an address has no role name.
      roleName: roleName === '' ? '' : fill(wish.rolePattern, roleName),
      ip: wish.setsIp && kind.hasIp ? ipOfHost(network, n) ?? `${n}?` : ip,
      deviceNumber: wish.setsNumber && !kind.number.isUnit ? n : deviceNumber,
    }
    n += wish.step
    return { id, before: { name, ip, deviceNumber, roleName }, after }
  })

  const seen = { names: new Set(others.map(({ name }) => name.toLowerCase())), numbers: otherNumbers, ips: otherIps, roles: new Set(others.map(({ roleName }) => roleName).filter(Boolean)) }
  const isTwice = <T>(set: Set<T>, value: T) => set.has(value) || !set.add(value)
  const subnet = subnetOf(network.controllerIp, network.prefixLength)
  return {
    fault,
    changes: changes.map((change) => {
      const { name, ip, deviceNumber, roleName } = change.after
      const station = { ...plan.stations[change.id]!.station, ...change.after }
      const bank = switchesOf(findDevice(catalog, station.file, station.device), station)
      const wanted = bank && switchAddress(bank, station)
      const nameFault = kind.hasWireNames ? stationNameFault(name) : null
      const faults = [
        nameFault === null ? '' : `name: ${nameFault}`,
        isTwice(seen.names, name.toLowerCase()) ? 'the name stands already' : '',
        kind.hasIp && ipFault(ip, subnet) !== null ? 'no address of the subnet' : '',
        kind.hasIp && isTwice(seen.ips, kind.number.isUnit ? `${ip}/${deviceNumber}` : ip) ? 'the address is taken' : '',
        deviceNumber < kind.number.first || deviceNumber > kind.number.last ? `${kind.number.word.toLowerCase()} outside ${kind.number.first} to ${kind.number.last}` : '',
        !kind.number.isUnit && isTwice(seen.numbers, deviceNumber) ? `the ${kind.number.word.toLowerCase()} is taken` : '',
        roleName !== '' && isTwice(seen.roles, roleName) ? 'the role name stands already' : '',
        bank && wanted !== null && positionsFor(bank, wanted!) === null ? `its switches cannot make ${wanted}` : '',
      ]
      return { ...change, faults: faults.filter(Boolean) }
    }),
  }
}
