import { maskOf, formatIp } from '../addressing/ip'
import { switchesOf } from '../changing/identities'
import type { Catalog } from '../catalog/catalog'
import type { Device } from '../catalog/model'
import { blocksOfHead, submodulesOf } from '../catalog/placed'
import type { Derived, DerivedModule, DerivedNetwork, DerivedStation } from '../derive/model'
import { recordsOnWire } from '../derive/wire-records'
import { wiredNetworks } from '../networks'
import type { LinkEnd, Plan, ProjectRow } from '../plan/model'
import { failSafeParts } from '../safety'
import type { FailSafeAddress, WantedStation, WireIdentity } from '../protocols/master'
import type { NetworkProtocol } from '../protocols/protocol'
import { wireName } from '../protocols/profinet/station-name'
import { kindOf, protocolOf, type NetworkKindName } from '../protocols/registry'
import { ipOf, prefixLengthOf } from '../protocols/settings'
import type { RealModule } from '../protocols/wire'

/** A planned station as its wire should show it. */
export interface PlannedStation extends WantedStation {
  readonly name: string
  readonly networkId: string
  readonly kind: NetworkKindName
  readonly view: DerivedStation
  /** What its ranges and addresses are told by. */
  readonly plan: Plan
  readonly project: ProjectRow
  readonly catalog: Catalog
  /** Names of its modules by slot, and of all modules that its file has, by how the wire calls
   *  them. */
  readonly slotNames: Readonly<Record<number, string>>
  readonly moduleNames: Readonly<Record<string, string>>
  /** Stations at the other ends of its cables, by its port. */
  readonly neighbours: readonly PlannedNeighbour[]
}

export interface PlannedNeighbour {
  readonly port: number
  readonly stationId: string
  readonly peerPort: number
}

/** A network with the stations that it should show. */
export interface PlannedNetwork {
  readonly id: string
  readonly name: string
  readonly kind: NetworkKindName
  readonly controller: string
  readonly stations: readonly PlannedStation[]
}

/** What the wires should show: networks whose stations can be asked, with all stations whose
 *  description file is there. */
export function plannedNetworks(derived: Derived): PlannedNetwork[] {
  const { controllers } = derived
  const neighbours = neighboursIn(derived)
  return controllers.flatMap(({ controller, networks }) =>
    networks.flatMap((band) =>
      kindOf(band.network).master
        ? [
            {
              id: band.network.id,
              name: band.network.name,
              kind: band.network.settings.kind,
              controller: controller.name,
              stations: band.stations.flatMap((view) => {
                const station = plannedStation(view, band, derived)
                return station ? [{ ...station, neighbours: neighbours.get(view.id) ?? [] }] : []
              }),
            },
          ]
        : [],
    ),
  )
}

export function plannedStations(derived: Derived): PlannedStation[] {
  return plannedNetworks(derived).flatMap(({ stations }) => stations)
}

function plannedStation(
  view: DerivedStation,
  { network }: DerivedNetwork,
  { plan, catalog }: Derived,
): Omit<PlannedStation, 'neighbours'> | null {
  const { id, station, file, device, modules } = view
  if (!file || !device) return null
  const protocol = protocolOf(device)
  const kind = kindOf(network)
  return {
    id,
    name: station.name,
    networkId: network.id,
    kind: network.settings.kind,
    settings: network.settings,
    view,
    plan,
    project: plan.project,
    catalog,
    wireName: kind.hasWireNames ? wireName(station.name) : '',
    ip: ipOf(station),
    mask: kind.hasIp ? formatIp(maskOf(prefixLengthOf(network))) : '',
    number: station.deviceNumber,
    identity: identityOf(protocol, device),
    modules: modules.flatMap((module) => realModule(protocol, view, module, catalog) ?? []),
    records: recordsOnWire(view, catalog),
    failSafe: failSafeAddresses(view, catalog),
    slotNames: Object.fromEntries(
      modules.map(({ slot, described }) => [slot, described?.name ?? `slot ${slot}`]),
    ),
    moduleNames: moduleNamesOf(file, protocol),
  }
}

/** Who is joined to whom, cable by cable. */
function neighboursIn(derived: Derived): Map<string, PlannedNeighbour[]> {
  const found = new Map<string, PlannedNeighbour[]>()
  const add = (at: LinkEnd, other: LinkEnd) => {
    const known = found.get(at.node) ?? []
    if (known.some(({ port }) => port === at.port)) return
    found.set(at.node, [...known, { port: at.port, stationId: other.node, peerPort: other.port }])
  }
  for (const { links } of wiredNetworks(derived))
    for (const { from, to } of links) {
      add(from, to)
      add(to, from)
    }
  return found
}

const names = new WeakMap<object, Record<string, string>>()

function moduleNamesOf(file: NonNullable<DerivedStation['file']>, protocol: NetworkProtocol) {
  let known = names.get(file)
  if (!known)
    names.set(
      file,
      (known = Object.fromEntries(
        file.modules.map((module) => [identOf(protocol, module), module.name]),
      )),
    )
  return known
}

/** What a device says of itself; where no number does, maker and order number. */
function identityOf(protocol: NetworkProtocol, device: Device): WireIdentity {
  if (protocol.identity) return protocol.identity(device)
  const { vendor, orderNumber } =
    'sheet' in device.identity
      ? device.identity.sheet
      : { vendor: '', orderNumber: device.orderNumber ?? device.key }
  return { type: `${vendor}/${orderNumber}`, typeName: orderNumber, firmware: device.firmware }
}

/** Destination addresses that no switches set. */
function failSafeAddresses(view: DerivedStation, catalog: Catalog): FailSafeAddress[] {
  return failSafeParts(view, catalog).flatMap(({ module, placed, f }) =>
    module.described && 'failSafeSwitches' in module.described
      ? []
      : [
          {
            slot: module.slot,
            subslot: placed.subslot ?? 1,
            destination: f.destinationAddress,
          },
        ],
  )
}

type Described = NonNullable<DerivedModule['described']>

function identOf(protocol: NetworkProtocol, module: Described): string {
  return 'identity' in module
    ? (protocol.headIdent?.(module) ?? '')
    : (protocol.identOf?.(module) ?? module.orderNumber ?? module.key)
}

function realModule(
  protocol: NetworkProtocol,
  { station }: DerivedStation,
  { slot, row, described }: DerivedModule,
  catalog: Catalog,
): RealModule | null {
  if (!described) return null
  const submodules =
    'identity' in described
      ? blocksOfHead(catalog, described, station)
      : submodulesOf(catalog, station.file, described, row!)
  return {
    slot,
    ident: identOf(protocol, described),
    submodules: submodules.map(({ subslot, ident, inputBytes, outputBytes }) => ({
      subslot: subslot ?? 1,
      ident: ident === null ? '' : ident.toString(16).padStart(8, '0'),
      inputBytes,
      outputBytes,
    })),
  }
}

/** The switches of a station; null where it has none. */
export function switchesAt({ view: { station, device } }: Pick<PlannedStation, 'view'>) {
  return switchesOf(device, station)
}
