import { derive, type Derived } from '../derive/derive'
import { createChecker, type Findings } from './check'
import { parseIp } from '../addressing/ip'
import type { SwitchBank } from '../vocabulary/switch-bank'
import { canMake } from '../addressing/switches'
import { findDevice, type Catalog } from '../catalog/catalog'
import { fillFields } from '../tags/pattern'
import type { Id, NetworkRow, Plan, StationRow } from '../plan/model'
import { kindOf, ownNumbers } from '../protocols/registry'
import { ipOf, ipOfHost, roleNameOf } from '../protocols/settings'
import {
  identityFields,
  switchesOf,
  isReserved,
  ipsOnCable,
  fieldsOf,
} from '../changing/identities'

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

/** Under what a station is known on its network; empty where it has no such thing. */
export interface Identity {
  readonly name: string
  readonly ip: string
  readonly deviceNumber: number
  readonly roleName: string
}

export function identityOf(station: StationRow): Identity {
  const { name, deviceNumber } = station
  return { name, deviceNumber, ip: ipOf(station), roleName: roleNameOf(station) }
}

/** What gives a station another identity. */
export function identityEdit({ name, ip, deviceNumber, roleName }: Identity, station: StationRow) {
  return {
    name,
    deviceNumber,
    settings: {
      ...('ip' in station.settings && { ip }),
      ...('roleName' in station.settings && { roleName }),
    },
  }
}

export interface IdentityChange {
  readonly id: Id
  readonly before: Identity
  readonly after: Identity
  readonly faults: readonly string[]
}

/** What stations that keep their identity have taken already. */
interface TakenBeside {
  readonly numbers: Set<number>
  readonly ips: Set<string>
}

/** New identities for stations of a network in the order given, with what would be wrong with each;
 *  nothing is changed yet. What is wrong is what the rules find; a
 *  `checker` that is kept looks only at what differs from its last call. Reserved numbers and those of stations that are not among them are left
 *  out. */
export function proposeIdentities(
  plan: Plan,
  catalog: Catalog,
  networkId: Id,
  stationIds: readonly Id[],
  wish: IdentityWish,
  checker: (derived: Derived) => Findings = createChecker(),
): { readonly changes: readonly IdentityChange[]; readonly fault: string | null } {
  const network = plan.networks[networkId]!
  const taken = takenBeside(plan, network, new Set(stationIds))
  const sets = {
    ip: wish.setsIp && kindOf(network).hasIp === true,
    number: wish.setsNumber && !kindOf(network).number.isUnit,
  }
  const isTaken = (n: number) =>
    n <= 65_535 &&
    (isReserved(network, n) ||
      (sets.ip && taken.ips.has(ipOfHost(network, n) ?? '')) ||
      (sets.number && taken.numbers.has(n)))

  let n = wish.start
  let fault: string | null = null
  const changes = stationIds.map((id): Omit<IdentityChange, 'faults'> => {
    const { station } = plan.stations[id]!
    const device = findDevice(catalog, station.file, station.device)
    n = nextNumber(network, switchesOf(device, station), { n, sets, isTaken, step: wish.step })
    const before = identityOf(station)
    const { name, ip, deviceNumber, roleName } = before
    const fields = fieldsOf(network, device, name, n)
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
      ip: sets.ip ? (ipOfHost(network, n) ?? `${n}?`) : ip,
      deviceNumber: sets.number ? n : deviceNumber,
    }
    n += wish.step
    return { id, before, after }
  })
  const found = findingsWith(plan, catalog, changes, checker)
  return {
    fault,
    changes: changes.map((change) => ({ ...change, faults: found.get(change.id) ?? [] })),
  }
}

function takenBeside(plan: Plan, network: NetworkRow, own: ReadonlySet<Id>): TakenBeside {
  const others = Object.values(plan.stations)
    .map(({ station }) => station)
    .filter(({ id }) => !own.has(id))
  return {
    numbers: new Set([
      ...ownNumbers(network),
      ...others
        .filter((station) => station.networkId === network.id)
        .map(({ deviceNumber }) => deviceNumber),
    ]),
    ips: kindOf(network).hasIp ? ipsOnCable(plan, network, own) : new Set<string>(),
  }
}

/** The next number from `n` on that is free and that the switches can make. Where no number further
 *  on is one they can make, that is told beside the next free one. */
function nextNumber(
  network: NetworkRow,
  bank: SwitchBank | null,
  {
    n,
    sets,
    isTaken,
    step,
  }: {
    readonly n: number
    readonly sets: { readonly ip: boolean; readonly number: boolean }
    readonly isTaken: (n: number) => boolean
    readonly step: number
  },
): number {
  const makes = (number: number) =>
    bank === null ||
    !(bank.sets === 'number' ? sets.number : sets.ip) ||
    canMake(
      bank,
      bank.sets === 'number' ? number : (parseIp(ipOfHost(network, number) ?? '') ?? 0) % 256,
    )
  let free = n
  while (isTaken(free)) free += step
  let able = free
  while (able <= 65_535 && (isTaken(able) || !makes(able))) able += step
  return able <= 65_535 ? able : free
}

/** Rules about what a proposal changes. */
const identityCodes: ReadonlySet<string> = new Set([
  'station.name',
  'station.nameDuplicate',
  'station.ip',
  'station.ipDuplicate',
  'station.number',
  'station.deviceNumberDuplicate',
  'station.roleDuplicate',
  'station.switches',
])

/** What the rules would find if the stations had their new identities. */
function findingsWith(
  plan: Plan,
  catalog: Catalog,
  changes: readonly Omit<IdentityChange, 'faults'>[],
  checker: (derived: Derived) => Findings,
): ReadonlyMap<Id, readonly string[]> {
  const given = changes.map(({ id, after }) => {
    const group = plan.stations[id]!
    const { settings, ...common } = identityEdit(after, group.station)
    const station = {
      ...group.station,
      ...common,
      settings: { ...group.station.settings, ...settings },
    }
    return [id, { ...group, station }] as const
  })
  const then = { ...plan, stations: { ...plan.stations, ...Object.fromEntries(given) } }
  const said = new Map<Id, string[]>()
  for (const { code, at, message } of checker(derive(then, catalog)).all) {
    if (!identityCodes.has(code)) continue
    const known = said.get(at.id)
    if (known) known.push(message)
    else said.set(at.id, [message])
  }
  return said
}
