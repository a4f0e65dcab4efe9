import type { FoundDevice, IdentifiedBy } from '../protocols/master'
import { kindNamed } from '../protocols/registry'
import { commonOrder } from './common-order'
import { agreement } from './compare'
import type { RehearsalFinding } from './finding'
import * as words from './match-words'
import { switchesAt, type PlannedNetwork, type PlannedStation } from './planned'

/** How it is known that a device is a station's. */
export type MatchedBy = 'name' | 'address' | 'position' | 'neighbour' | 'type'

export interface StationMatch {
  readonly station: PlannedStation
  /** `found`: its device is known. `candidates`: one that it may be, and has to be told so.
   *  `ambiguous`: several look alike. */
  readonly state: 'found' | 'candidates' | 'ambiguous' | 'missing'
  readonly device: FoundDevice | null
  readonly by: MatchedBy | null
  /** Devices that it may be, best first. */
  readonly candidates: readonly FoundDevice[]
  readonly findings: readonly RehearsalFinding[]
}

export interface NetworkMatch {
  readonly network: PlannedNetwork
  readonly stations: readonly StationMatch[]
  /** Found, but no station of the plan is it. */
  readonly extra: readonly { readonly device: FoundDevice; readonly finding: RehearsalFinding }[]
}

/** Found against planned on one network: exact; then by neighbours, by type and modules, or
 *  several that look alike. */
export function matchNetwork(network: PlannedNetwork, found: readonly FoundDevice[]): NetworkMatch {
  const { identifiedBy } = kindNamed(network.kind).master!
  const exact = exactMatches(identifiedBy, network.stations, found)
  // Of several with one name each may be somebody else.
  const taken = new Set(
    [...exact.values()].flatMap((holders) => (holders.length === 1 ? [holders[0]!.key] : [])),
  )
  const free = found.filter(({ key }) => !taken.has(key))
  const stations = network.stations.map((station) =>
    matchStation(station, exact.get(station.id) ?? [], free, network, identifiedBy),
  )
  const possible = new Set(stations.flatMap(({ candidates }) => candidates.map(({ key }) => key)))
  return {
    network,
    stations,
    extra: free
      .filter(({ key }) => !possible.has(key))
      .map((device) => ({ device, finding: words.extra(network, device) })),
  }
}

/** Devices that say by name, address or position which station they are. */
function exactMatches(
  by: IdentifiedBy,
  stations: readonly PlannedStation[],
  found: readonly FoundDevice[],
): ReadonlyMap<string, readonly FoundDevice[]> {
  if (by === 'position') return alongTheLine(stations, found)
  const said = new Map<string, FoundDevice[]>()
  for (const device of found) {
    const word = by === 'name' ? device.name : addressWord(device)
    if (word) said.set(word, [...(said.get(word) ?? []), device])
  }
  return new Map(
    stations.map((station) => [
      station.id,
      said.get(by === 'name' ? station.wireName : addressWordOf(station)) ?? [],
    ]),
  )
}

/** By what a station is spoken to: its IP address, or its number. */
export function wireAddressOf({ kind, ip, number }: PlannedStation): string {
  return kindNamed(kind).hasIp ? ip : String(number)
}

/** The same with the unit, where units share an address; what found devices have is written alike. */
function addressWordOf(station: PlannedStation): string {
  const address = wireAddressOf(station)
  return kindNamed(station.kind).number.isUnit && address !== ''
    ? `${address}/${station.number}`
    : address
}
const addressWord = ({ address, unit }: FoundDevice) =>
  address === null || unit === undefined ? address : `${address}/${unit}`

/** Planned and found devices side by side, as many of one type as possible in their order. Between
 *  two that agree, as many planned as found means that the types are wrong, not the places. */
function alongTheLine(
  stations: readonly PlannedStation[],
  found: readonly FoundDevice[],
): ReadonlyMap<string, readonly FoundDevice[]> {
  const agree = (station: PlannedStation, device: FoundDevice) =>
    station.identity.type === device.type
  return new Map(
    commonOrder(stations, found, agree).flatMap(({ left, right, pair }) => [
      ...(left.length === right.length
        ? left.map((station, i) => [station.id, [right[i]!]] as const)
        : []),
      ...(pair ? [[pair[0].id, [pair[1]]] as const] : []),
    ]),
  )
}

function matchStation(
  station: PlannedStation,
  holders: readonly FoundDevice[],
  free: readonly FoundDevice[],
  network: PlannedNetwork,
  by: IdentifiedBy,
): StationMatch {
  const [device] = holders
  if (holders.length > 1)
    return {
      station,
      state: 'ambiguous',
      device: null,
      by: null,
      candidates: holders,
      findings: [words.twice(station, holders, by)],
    }
  if (device)
    return {
      station,
      state: 'found',
      device,
      by,
      candidates: [],
      findings: words.identity(station, device),
    }
  const possible = free.filter((one) => isPossible(station, one, network, by))
  if (possible.length === 0)
    return {
      station,
      state: 'missing',
      device: null,
      by: null,
      candidates: [],
      findings: [words.missing(station, by)],
    }
  const near = possible.filter((one) => isBetweenNeighbours(station, one, network))
  const [best, next] = [...(near.length > 0 ? near : possible)].sort(
    (a, b) => agreement(station, b) - agreement(station, a),
  ) as [FoundDevice, ...FoundDevice[]]
  const isClear =
    possible.length === 1 ||
    near.length === 1 ||
    (next !== undefined && agreement(station, best) > agreement(station, next))
  return {
    station,
    state: isClear ? 'candidates' : 'ambiguous',
    device: null,
    by: near.length === 1 ? 'neighbour' : 'type',
    candidates: [best, ...possible.filter((one) => one !== best)],
    findings: [
      words.candidates(
        station,
        [best, ...possible.filter((one) => one !== best)],
        isClear,
        near.length === 1,
        by,
        switchesAt(station) !== null,
      ),
    ],
  }
}

/** Of its type, and not what another station of the plan is called. */
function isPossible(
  station: PlannedStation,
  device: FoundDevice,
  network: PlannedNetwork,
  by: IdentifiedBy,
): boolean {
  const isType = device.type === station.identity.type || device.type === ''
  if (!isType) return false
  return by === 'name'
    ? station.wireName !== device.name
    : !network.stations.some((other) => addressWordOf(other) === addressWord(device))
}

/** Whether those at the ends of its cables are those that the plan has there; older devices send
 *  their name alone, newer their port with it. */
function isBetweenNeighbours(
  { neighbours }: PlannedStation,
  device: FoundDevice,
  { stations }: PlannedNetwork,
): boolean {
  const wanted = neighbours.flatMap(({ stationId }) => {
    const other = stations.find(({ id }) => id === stationId)
    return other ? [other.wireName] : []
  })
  return (
    wanted.length > 0 &&
    device.neighbours.length > 0 &&
    device.neighbours.every(({ name }) => wanted.includes(name))
  )
}
