import { findDevice, type Catalog } from '../catalog/catalog'
import { describedController, interfaceOf } from './interfaces'
import type { Id, LinkEnd, NetworkRow, Plan, PortLink, StationRow } from '../plan/model'
import { sharingOf } from '../protocols/profinet/sharing'
import { kindOf, portsOfDevice } from '../protocols/registry'
import type { PortDescription } from '../protocols/wiring'
import { areApart, type Medium } from '../vocabulary/medium'

/** One link as seen from one of its ends. */
export interface Wire {
  readonly peer: LinkEnd
  readonly link: PortLink
  /** Where the link is written down: a station and its port. */
  readonly owner: LinkEnd
}

/** Ports of a station by their number from 1, as its description names them. */
export function portsOfStation(
  catalog: Catalog,
  network: NetworkRow,
  { file, device }: Pick<StationRow, 'file' | 'device'>,
): readonly PortDescription[] {
  return portsOfDevice(network, findDevice(catalog, file, device))
}

/** Ports of the interface by which a controller stands on a network: as its rack's sheet says, else
 *  as usual. */
export function portsOfInterface(
  plan: Pick<Plan, 'networks' | 'stations'>,
  catalog: Catalog,
  network: NetworkRow,
): readonly PortDescription[] {
  const controller = describedController(plan, catalog, network.controllerId)
  const own = controller && interfaceOf(plan.networks, controller, network)
  return numberedPorts(own?.ports ?? kindOf(network).wiring?.controllerPorts ?? 0)
}

function numberedPorts(count: number): PortDescription[] {
  return Array.from({ length: count }, (_, i) => ({ name: `Port ${i + 1}` }))
}

/** Who is joined to whom, by node and port. A network's id stands for its controller's interface.
 *  Links whose other end is gone, and the later one of two on one port, are left out. */
export class Wires {
  private readonly byNode = new Map<Id, Map<number, Wire>>()
  private readonly ports = new Map<Id, readonly PortDescription[]>()

  constructor(
    private readonly catalog: Catalog,
    private readonly plan: Pick<Plan, 'networks' | 'stations'>,
    stations: Iterable<StationRow>,
  ) {
    const rows = [...stations]
    for (const row of rows) this.know(row)
    for (const row of rows)
      for (const [port, link] of Object.entries(row.links))
        this.add({ node: row.id, port: Number(port) }, link)
  }

  /** A node that may be joined. */
  know(row: StationRow): void {
    const network = this.plan.networks[row.networkId]
    if (!network) return
    // A shared device has its ports once, at the station that it is shared with.
    const isShared = sharingOf(row).sharedWith !== ''
    this.ports.set(row.id, isShared ? [] : portsOfStation(this.catalog, network, row))
  }

  forget(node: Id): void {
    for (const port of this.byNode.get(node)?.keys() ?? []) this.remove({ node, port })
    this.byNode.delete(node)
    this.ports.delete(node)
  }

  /** The link on a port; null where it is free. */
  at({ node, port }: LinkEnd): Wire | null {
    return this.byNode.get(node)?.get(port) ?? null
  }

  of(node: Id): ReadonlyMap<number, Wire> {
    return this.byNode.get(node) ?? none
  }

  /** Ports of a node by their number from 1; none where it is not there. */
  portsOf(node: Id): readonly PortDescription[] {
    const network = this.plan.networks[node]
    const known = this.ports.get(node)
    if (known || !network) return known ?? []
    const ports = portsOfInterface(this.plan, this.catalog, network)
    this.ports.set(node, ports)
    return ports
  }

  /** What a port is for. */
  mediumOf({ node, port }: LinkEnd, networkId: Id): Medium {
    return this.portsOf(node)[port - 1]?.medium ?? usualMedium(this.plan.networks[networkId])
  }

  freePorts(node: Id): number[] {
    const taken = this.byNode.get(node)
    return this.portsOf(node).flatMap((_, i) => (taken?.has(i + 1) ? [] : [i + 1]))
  }

  /** The lowest port with nothing on it. */
  freePort(node: Id): number | null {
    return this.freePorts(node)[0] ?? null
  }

  /** The lowest free ports of two nodes that can be joined. */
  freePair(a: Id, b: Id, networkId: Id): readonly [number, number] | null {
    for (const one of this.freePorts(a))
      for (const other of this.freePorts(b)) {
        const media = [
          this.mediumOf({ node: a, port: one }, networkId),
          this.mediumOf({ node: b, port: other }, networkId),
        ] as const
        if (!areApart(...media)) return [one, other]
      }
    return null
  }

  /** Whether the link was taken in: both nodes are there, and both ports were free. */
  add(owner: LinkEnd, link: PortLink): boolean {
    const { to } = link
    const isThere = (node: Id) => this.ports.has(node) || this.plan.networks[node] !== undefined
    if (owner.node === to.node || !isThere(to.node) || !isThere(owner.node)) return false
    if (this.at(owner) || this.at(to)) return false
    this.put(owner, { peer: to, link, owner })
    this.put(to, { peer: owner, link, owner })
    return true
  }

  remove(end: LinkEnd): void {
    const wire = this.at(end)
    if (!wire) return
    this.byNode.get(end.node)!.delete(end.port)
    this.byNode.get(wire.peer.node)!.delete(wire.peer.port)
  }

  private put({ node, port }: LinkEnd, wire: Wire): void {
    const ports = this.byNode.get(node)
    if (ports) ports.set(port, wire)
    else this.byNode.set(node, new Map([[port, wire]]))
  }
}

const none: ReadonlyMap<number, Wire> = new Map()

const usualMedium = (network: NetworkRow | undefined): Medium =>
  (network && kindOf(network).wiring?.medium) ?? 'copper'

/** Where the next station of a network is joined: behind the last one that has a free port of the
 *  same kind, else to the controller; its own port, and the other one. Null where none is free. */
export function endOfLine(
  wires: Wires,
  networkId: Id,
  stationId: Id,
  stations: readonly Pick<StationRow, 'id' | 'position'>[],
): readonly [LinkEnd, LinkEnd] | null {
  const lastFirst = [...stations].sort((a, b) => b.position - a.position || (a.id < b.id ? 1 : -1))
  for (const node of [...lastFirst.map(({ id }) => id), networkId]) {
    if (node === stationId) continue
    const pair = wires.freePair(stationId, node, networkId)
    if (pair)
      return [
        { node: stationId, port: pair[0] },
        { node, port: pair[1] },
      ]
  }
  return null
}
