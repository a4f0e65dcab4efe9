import type { Catalog } from '../catalog/catalog'
import { endOfLine, Wires } from '../networks/wires'
import type { Draft } from '../plan/draft'
import type { Id, LinkEnd, PortLink, StationRow } from '../plan/model'
import type { Refusal } from '../plan/refusals'
import { kindOf } from '../protocols/registry'
import { areApart } from '../vocabulary/medium'

/** What may be said of a link beyond its ends. */
export type LinkWords = Partial<Omit<PortLink, 'to'>>

/** The links of a plan being changed: who is joined to whom, and rows written as that changes. */
export class Cabling {
  private readonly wires: Wires

  constructor(
    private readonly draft: Draft,
    private readonly catalog: Catalog,
  ) {
    draft.visitStations(5)
    this.wires = new Wires(
      catalog,
      draft.plan,
      Object.values(draft.plan.stations).map(({ station }) => station),
    )
  }

  /** A station that came after this was made. */
  know(row: StationRow): void {
    this.wires.know(row)
  }

  at(end: LinkEnd) {
    return this.wires.at(end)
  }

  of(node: Id) {
    return this.wires.of(node)
  }

  /** Stations that carry no channels and stand between others. */
  passives(): Id[] {
    const { networks, stations } = this.draft.plan
    return Object.keys(stations).filter((id) => {
      const network = networks[stations[id]!.station.networkId]
      return network !== undefined && !kindOf(network).wiring
    })
  }

  freePort(node: Id): number | null {
    return this.wires.freePort(node)
  }

  /** What people call a node. */
  nameOf(node: Id): string {
    const { networks, controllers } = this.draft.plan
    const network = networks[node]
    return network
      ? (controllers[network.controllerId]?.name ?? network.name)
      : (this.draft.get('stations', node)?.name ?? node)
  }

  /** Joins two ports, or says why they cannot be. */
  join(from: LinkEnd, to: LinkEnd, words: LinkWords = {}): Refusal | null {
    if (from.node === to.node) return { code: 'link.self', node: this.nameOf(from.node) }
    const refusal = this.refusedEnd(from) ?? this.refusedEnd(to)
    if (refusal) return refusal
    const [at, other] = this.draft.plan.networks[from.node] ? [to, from] : [from, to]
    if (this.draft.plan.networks[at.node])
      return { code: 'link.other', node: this.nameOf(at.node), network: this.nameOf(other.node) }
    const networkId = this.networkOf(at.node)
    const media = [
      this.wires.mediumOf(at, networkId),
      this.wires.mediumOf(other, networkId),
    ] as const
    const medium = words.medium ?? media[0]
    if (areApart(media[0], media[1]))
      return { code: 'link.media', from: this.portWords(at), to: this.portWords(other) }
    const link: PortLink = {
      lengthM: null,
      cable: '',
      label: '',
      connectors: 0,
      ...words,
      medium,
      to: other,
    }
    const row = this.draft.get('stations', at.node)!
    this.wires.add(at, link)
    this.draft.put('stations', { ...row, links: { ...row.links, [at.port]: link } })
    return null
  }

  /** Takes the link on a port away; gives what was said of it. */
  part(end: LinkEnd): LinkWords | null {
    const wire = this.wires.at(end)
    if (!wire) return null
    const { owner, link } = wire
    const row = this.draft.get('stations', owner.node)
    if (row) {
      const { [String(owner.port)]: _gone, ...links } = row.links
      this.draft.put('stations', { ...row, links })
    }
    this.wires.remove(end)
    const { to: _to, ...words } = link
    return words
  }

  /** Says more of the link on a port. */
  say(end: LinkEnd, words: LinkWords): Refusal | null {
    const wire = this.wires.at(end)
    if (!wire) return { code: 'link.none', node: this.nameOf(end.node), port: end.port }
    const { owner, link } = wire
    this.part(end)
    const { to, ...known } = link
    return this.join(owner, to, { ...known, ...words })
  }

  /** Joins a station that hangs nowhere to the end of its network's line; where no port is free it
   *  stays as it is. */
  linkToEnd({ id, networkId }: StationRow, others: readonly StationRow[]): void {
    const network = this.draft.plan.networks[networkId]
    if (!network || !kindOf(network).wiring) return
    const ends = endOfLine(this.wires, networkId, id, others)
    if (ends) this.join(...ends)
  }

  /** What was said of the cable by which a station hangs: of the first link that it has itself. */
  saidOf(node: Id): LinkWords {
    const own = [...this.wires.of(node)]
      .sort(([a], [b]) => a - b)
      .find(([, { owner }]) => owner.node === node)
    if (!own) return {}
    const { to: _to, ...words } = own[1].link
    return words
  }

  /** The lowest free ports of two nodes that can be joined. */
  freePair(a: Id, b: Id): readonly [number, number] | null {
    return this.wires.freePair(a, b, this.networkOf(a))
  }

  /** Takes a node out of the wire and joins the two that were before and behind it. */
  bridgeOver(node: Id): void {
    const wires = [...this.wires.of(node)].sort(([a], [b]) => a - b)
    const peers = wires.map(([, { peer, link }]) => ({ peer, link }))
    for (const [port] of wires) this.part({ node, port })
    const [first, second] = peers
    if (first && second && first.peer.node !== second.peer.node)
      this.join(second.peer, first.peer, { medium: first.link.medium })
  }

  private refusedEnd(end: LinkEnd): Refusal | null {
    const { node, port } = end
    const count = this.wires.portsOf(node).length
    const isThere = this.draft.plan.networks[node] ?? this.draft.get('stations', node)
    if (!isThere) return { code: 'row.missing', what: 'station', id: node }
    if (port > count) return { code: 'link.noPort', node: this.nameOf(node), port, ports: count }
    const taken = this.wires.at(end)
    return taken
      ? {
          code: 'link.taken',
          node: this.nameOf(node),
          port: String(port),
          peer: this.portWords(taken.peer),
        }
      : null
  }

  private portWords({ node, port }: LinkEnd): string {
    return `port ${port} of ${this.nameOf(node)}`
  }

  private networkOf(node: Id): Id {
    return this.draft.get('stations', node)?.networkId ?? node
  }
}
