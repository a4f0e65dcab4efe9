import { parseIp, subnetOf } from '../addressing/ip'
import { legalStationName, nextName, wireName } from '../protocols/profinet/station-name'
import type { SwitchBank } from '../vocabulary/switch-bank'
import { canMake } from '../addressing/switches'
import type { Device } from '../catalog/model'
import { fillFields } from '../tags/pattern'
import { inRanges, parseValueList } from '../vocabulary/value-list'
import type { Id, NetworkRow, Plan, StationRow } from '../plan/model'
import type { NetworkKind } from '../protocols/protocol'
import { kindOf, protocolOf, ownNumbers } from '../protocols/registry'
import {
  controllerIpOf,
  hostOf,
  ipOf,
  ipOfHost,
  prefixLengthOf,
  rolePatternOf,
  subnetOfNetwork,
} from '../protocols/settings'

/** What a name pattern of a network can use. */
export const identityFields = {
  n: 'the station’s number: last octet or node number',
  network: 'name of the network',
  device: 'name of the head module',
  order: 'its order number',
  station: 'the name it has now',
} as const

/** The one number that name, address and switches of a station follow: of its address where the
 *  network has IP, else its node number. */
export function numberOf(
  network: NetworkRow,
  station: Pick<StationRow, 'settings' | 'deviceNumber'>,
): number | null {
  return kindOf(network).hasIp ? hostOf(network, ipOf(station)) : station.deviceNumber
}

/** Switches of a station: as its device sheet says, or as somebody chose by hand. */
export function switchesOf(
  device: Device | null,
  station: Pick<StationRow, 'switches'>,
): SwitchBank | null {
  return device?.switches ?? station.switches
}

/** The address that the switches of a station have to make. */
export function switchAddress(
  bank: SwitchBank,
  station: Pick<StationRow, 'settings' | 'deviceNumber'>,
): number | null {
  if (bank.sets === 'number') return station.deviceNumber
  const ip = parseIp(ipOf(station))
  return ip === null ? null : ip % 256
}

export function isReserved(network: Pick<NetworkRow, 'pool'>, number: number): boolean {
  return network.pool !== null && inRanges(parseValueList(network.pool.reserved) ?? [], number)
}

export function isInPool({ pool }: Pick<NetworkRow, 'pool'>, number: number): boolean {
  return (
    pool === null ||
    (number >= pool.first &&
      number <= pool.last &&
      (number - pool.first) % pool.step === 0 &&
      !isReserved({ pool }, number))
  )
}

function* numbersOf({ number: { first, last, start } }: NetworkKind): Generator<number> {
  for (let number = start; number <= last; number++) yield number
  for (let number = first; number < start; number++) yield number
}

/** Numbers that new stations may get, best first. Without a pool addresses go on behind the highest
 *  one, so that gaps stay for what was taken out. */
function* candidates(
  network: NetworkRow,
  kind: NetworkKind,
  highestHost: number,
): Generator<number> {
  const { pool } = network
  if (pool) {
    for (let number = pool.first; number <= pool.last; number += pool.step)
      if (!isReserved(network, number)) yield number
    return
  }
  yield* numbersOf(
    kind.hasIp
      ? {
          ...kind,
          number: {
            ...kind.number,
            first: 1,
            last: 2 ** (32 - prefixLengthOf(network)) - 2,
            start: highestHost + 1,
          },
        }
      : kind,
  )
}

/** An address for a controller on one more network: in the first subnet 192.168.n.0/24 that no
 *  network lies in (RFC 1918). */
export function freeControllerIp({ networks }: Plan): string {
  const used = Object.values(networks).flatMap((network) => subnetOfNetwork(network) ?? [])
  for (let third = 1; third < 255; third++) {
    const subnet = subnetOf(`192.168.${third}.1`, 24)!
    if (
      used.every(
        ({ network, broadcast }) => broadcast < subnet.network || network > subnet.broadcast,
      )
    )
      return `192.168.${third}.1`
  }
  return '10.0.0.1'
}

/** IP addresses in use on the cable of a network: of stations and of controllers. */
export function ipsOnCable(
  plan: Plan,
  network: NetworkRow,
  except: ReadonlySet<Id> = new Set(),
): Set<string> {
  const sharing = new Set(
    Object.values(plan.networks)
      .filter((other) => other.cable === network.cable && kindOf(other).hasIp)
      .map(({ id }) => id),
  )
  const used = new Set([...sharing].map((id) => controllerIpOf(plan.networks[id]!)))
  used.add(controllerIpOf(network))
  for (const id in plan.stations) {
    const { station } = plan.stations[id]!
    if (sharing.has(station.networkId) && !except.has(id)) used.add(ipOf(station))
  }
  return used
}

export interface NewIdentity {
  readonly ip: string
  readonly deviceNumber: number
  readonly name: string
}

export type IdentityFault =
  'subnet.full' | 'numbers.full' | 'switches.full' | { readonly pattern: string }

/** What somebody chose of a new station's identity; the rest follows. */
export type GivenIdentity = { readonly [K in keyof NewIdentity]?: NewIdentity[K] | undefined } & {
  readonly switches?: SwitchBank | null | undefined
}

/** What is taken where a station is to stand, and what its switches can make. */
interface Surroundings {
  readonly network: NetworkRow
  readonly ips: ReadonlySet<string>
  readonly numbers: ReadonlySet<number>
  readonly bank: SwitchBank | null
}

/** Whether name, address and number of its stations follow one number, and they have both address
 *  and number. */
const followsOneNumber = (network: NetworkRow) =>
  network.tied && kindOf(network).hasIp === true && kindOf(network).number.isUnit !== true

function isFreeNumber({ network, numbers, bank }: Surroundings, number: number): boolean {
  const {
    hasIp,
    number: { first, last, isUnit },
  } = kindOf(network)
  const isApart = isUnit === true || !numbers.has(number)
  return (
    isApart &&
    number >= first &&
    number <= last &&
    (hasIp === true || isInPool(network, number)) &&
    (bank?.sets !== 'number' || canMake(bank, number))
  )
}

function isFreeHost({ network, ips, bank }: Surroundings, host: number): boolean {
  const ip = ipOfHost(network, host)
  return (
    ip !== null &&
    !ips.has(ip) &&
    isInPool(network, host) &&
    (bank?.sets !== 'lastOctet' || canMake(bank, parseIp(ip)! % 256))
  )
}

/** What is taken where new stations are to stand; kept up to date while many come. */
export class TakenIdentities {
  readonly ips: Set<string>
  readonly numbers: Set<number>
  /** As they stand on the wire. */
  readonly names: Set<string>
  /** The highest address in use, as what is left of the network's own. */
  highest: number

  constructor(
    plan: Plan,
    readonly network: NetworkRow,
    neighbours: readonly StationRow[],
  ) {
    this.ips = kindOf(network).hasIp ? ipsOnCable(plan, network) : new Set()
    this.numbers = new Set([
      ...ownNumbers(network),
      ...neighbours.map(({ deviceNumber }) => deviceNumber),
    ])
    this.names = new Set(namesIn(plan))
    this.highest = neighbours.reduce(
      (most, station) => Math.max(most, hostOf(network, ipOf(station)) ?? 0),
      0,
    )
  }

  add({ ip, deviceNumber, name }: NewIdentity): void {
    this.ips.add(ip)
    this.numbers.add(deviceNumber)
    this.names.add(wireName(name))
    this.highest = Math.max(this.highest, hostOf(this.network, ip) ?? 0)
  }
}

/** Address, number and name for one more station: the next free ones of the network's pool that its
 *  switches can make, tied together where the network says so; what is given stays as it is. */
export function newIdentity(
  taken: TakenIdentities,
  device: Device,
  given: GivenIdentity = {},
): NewIdentity | IdentityFault {
  const { network } = taken
  const kind = kindOf(network)
  const bank = switchesOf(device, { switches: given.switches ?? null })
  const around: Surroundings = { network, bank, ips: taken.ips, numbers: taken.numbers }
  const ip = given.ip ?? freeIp(around, taken.highest, given.deviceNumber)
  const deviceNumber = given.deviceNumber ?? freeNumberFor(around, ip)
  if (ip === null)
    return bank && freeIp({ ...around, bank: null }, taken.highest, given.deviceNumber) !== null
      ? 'switches.full'
      : 'subnet.full'
  if (deviceNumber === null)
    return bank && freeNumberFor({ ...around, bank: null }, ip) !== null
      ? 'switches.full'
      : 'numbers.full'
  const number = kind.hasIp ? hostOf(network, ip) : deviceNumber
  if (given.name !== undefined) return { ip, deviceNumber, name: given.name }
  if (network.namePattern === '' || number === null)
    return {
      ip,
      deviceNumber,
      name: nextName(`${legalStationName(wishOf(device))}-1`, taken.names),
    }
  const filled = fillFields(
    network.namePattern,
    fieldsOf(network, device, '', number),
    identityFields,
  )
  if ('fault' in filled) return { pattern: filled.fault }
  return {
    ip,
    deviceNumber,
    name: taken.names.has(wireName(filled.text)) ? nextName(filled.text, taken.names) : filled.text,
  }
}

/** The next free address; where all follow one number, that of the number given, or one whose
 *  number is free too. Null where there is none. */
function freeIp(
  around: Surroundings,
  highest: number,
  givenNumber: number | undefined,
): string | null {
  const { network } = around
  if (!kindOf(network).hasIp || !subnetOfNetwork(network)) return ''
  const follows = followsOneNumber(network)
  if (follows && givenNumber !== undefined && isFreeHost(around, givenNumber))
    return ipOfHost(network, givenNumber)
  for (const host of candidates(network, kindOf(network), highest)) {
    if (
      isFreeHost(around, host) &&
      (!follows || givenNumber !== undefined || isFreeNumber(around, host))
    )
      return ipOfHost(network, host)
  }
  return null
}

/** The next free number; where all follow one number, that of the address if it is free. Null where
 *  there is none. */
function freeNumberFor(around: Surroundings, ip: string | null): number | null {
  const { network } = around
  const kind = kindOf(network)
  const host = ip === null ? null : hostOf(network, ip)
  if (followsOneNumber(network) && host !== null && isFreeNumber(around, host)) return host
  const numbers = kind.hasIp ? numbersOf(kind) : candidates(network, kind, 0)
  for (const number of numbers) if (isFreeNumber(around, number)) return number
  return null
}

/** The first identity that a station on its network could have instead of its own, nearest to it:
 *  another address, another number, or both where they follow one. Null where there is none. */
export function otherIdentity(
  plan: Plan,
  device: Device | null,
  station: StationRow,
  what: 'ip' | 'deviceNumber',
): { readonly ip?: string; readonly deviceNumber?: number } | null {
  const network = plan.networks[station.networkId]
  if (!network) return null
  const kind = kindOf(network)
  const others = Object.values(plan.stations).filter(
    (other) => other.station.networkId === network.id && other.station.id !== station.id,
  )
  const around: Surroundings = {
    network,
    bank: switchesOf(device, station),
    ips: kind.hasIp ? ipsOnCable(plan, network, new Set([station.id])) : new Set(),
    numbers: new Set([
      ...ownNumbers(network),
      ...others.map(({ station: { deviceNumber } }) => deviceNumber),
    ]),
  }
  const follows = followsOneNumber(network)
  const now =
    what === 'ip'
      ? (hostOf(network, ipOf(station)) ?? network.pool?.first ?? 1)
      : station.deviceNumber
  const most = what === 'ip' ? 2 ** (32 - prefixLengthOf(network)) - 2 : kind.number.last
  for (let distance = 0; distance <= Math.min(most, 65_535); distance++) {
    for (const number of distance === 0 ? [now] : [now + distance, now - distance]) {
      const isFree =
        what === 'ip'
          ? isFreeHost(around, number) && (!follows || isFreeNumber(around, number))
          : isFreeNumber(around, number) && (!follows || isFreeHost(around, number))
      if (!isFree || (number === now && isAsItIs(network, station, what, follows))) continue
      return {
        ...((what === 'ip' || follows) && { ip: ipOfHost(network, number)! }),
        ...((what === 'deviceNumber' || follows) && { deviceNumber: number }),
      }
    }
  }
  return null
}

/** Whether taking a station's own number once more would change nothing. */
function isAsItIs(
  network: NetworkRow,
  station: StationRow,
  what: 'ip' | 'deviceNumber',
  follows: boolean,
): boolean {
  const host = hostOf(network, ipOf(station))
  return follows ? host === station.deviceNumber : what === 'deviceNumber' || host !== null
}

function wishOf(device: Device): string {
  return protocolOf(device).wishedName?.(device) ?? device.name
}

/** Names of all stations as they stand on the wire. */
export function namesIn(plan: Plan): ReadonlySet<string> {
  return new Set(Object.values(plan.stations).map(({ station }) => wireName(station.name)))
}

/** Under what a station's name is its own: as it stands on the wire, on one cable. */
export const nameKey =
  ({ networks }: Plan) =>
  ({ networkId, name }: Pick<StationRow, 'networkId' | 'name'>): string =>
    `${networks[networkId]?.cable ?? ''}|${wireName(name)}`

export function fieldsOf(network: NetworkRow, device: Device | null, station: string, n: number) {
  return {
    n,
    network: network.name,
    device: device?.name ?? '',
    order: device?.orderNumber ?? '',
    station,
  }
}

/** The role name that the network's pattern asks of a station: with what its switches show, since
 *  it makes its role name of that. Null where the network has no pattern or a wrong one. */
export function expectedRole(
  network: NetworkRow,
  device: Device | null,
  station: StationRow,
): string | null {
  const bank = switchesOf(device, station)
  return expected(
    rolePatternOf(network),
    network,
    device,
    station,
    bank ? switchAddress(bank, station) : numberOf(network, station),
  )
}

/** The same of its name, with the number that all follow. */
export function expectedName(
  network: NetworkRow,
  device: Device | null,
  station: StationRow,
): string | null {
  return expected(network.namePattern, network, device, station, numberOf(network, station))
}

function expected(
  pattern: string,
  network: NetworkRow,
  device: Device | null,
  station: StationRow,
  number: number | null,
): string | null {
  if (pattern === '' || number === null) return null
  const filled = fillFields(
    pattern,
    fieldsOf(network, device, station.name, number),
    identityFields,
  )
  return 'fault' in filled ? null : filled.text
}
