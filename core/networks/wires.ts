import { findDevice, type Catalog } from '../catalog/catalog'
import type { Id, LinkEnd, NetworkRow, Plan, PortLink, StationRow } from '../plan/model'
import { kindOf, portsOfDevice } from '../protocols/registry'
import type { PortDescription } from '../protocols/wiring'

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

/** Ports of the interface by which a controller stands on a network. */
export function portsOfInterface(network: NetworkRow): readonly PortDescription[] {
  return numberedPorts(kindOf(network).wiring?.controllerPorts ?? 0)
}

function numberedPorts(count: number): PortDescription[] {
  return Array.from({ length: count }, (_, i) => ({ name: `Port ${i + 1}` }))
}

/** Who is joined to whom, by node and port. A network's id stands for its controller's interface.
 *  Links whose other end is gone, and the later one of two on one port, are left out. */
export class Wires {
  private readonly byNode = new Map<Id, Map<number, Wire>>()
  private readonly portCounts = new Map<Id, number>()

  constructor(
    private readonly catalog: Catalog,
    private readonly networks: Plan['networks'],
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
    const network = this.networks[row.networkId]
    if (!network) return
    this.portCounts.set(row.id, portsOfStation(this.catalog, network, row).length)
  }

  forget(node: Id): void {
    for (const port of this.byNode.get(node)?.keys() ?? []) this.remove({ node, port })
    this.byNode.delete(node)
    this.portCounts.delete(node)
  }

  /** The link on a port; null where it is free. */
  at({ node, port }: LinkEnd): Wire | null {
    return this.byNode.get(node)?.get(port) ?? null
  }

  of(node: Id): ReadonlyMap<number, Wire> {
    return this.byNode.get(node) ?? none
  }

  /** How many ports a node has; 0 where it is not there. */
  portsOf(node: Id): number {
    const network = this.networks[node]
    return network ? portsOfInterface(network).length : (this.portCounts.get(node) ?? 0)
  }

  /** The lowest port with nothing on it. */
  freePort(node: Id): number | null {
    const taken = this.byNode.get(node)
    const count = this.portsOf(node)
    for (let port = 1; port <= count; port++) if (!taken?.has(port)) return port
    return null
  }

  /** Whether the link was taken in: both nodes are there, and both ports were free. */
  add(owner: LinkEnd, link: PortLink): boolean {
    const { to } = link
    const isThere = (node: Id) => this.portCounts.has(node) || this.networks[node] !== undefined
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

/** Where the next station of a network is joined: behind the last one that has a free port, else to
 *  the controller; null where no port is free. */
export function endOfLine(
  wires: Wires,
  networkId: Id,
  stations: readonly Pick<StationRow, 'id' | 'position'>[],
): LinkEnd | null {
  const lastFirst = [...stations].sort((a, b) => b.position - a.position || (a.id < b.id ? 1 : -1))
  for (const node of [...lastFirst.map(({ id }) => id), networkId]) {
    const port = wires.freePort(node)
    if (port !== null) return { node, port }
  }
  return null
}
