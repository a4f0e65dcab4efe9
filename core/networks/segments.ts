import type { NetworkRow, Ports } from '../plan/model'
import { kindOf } from '../protocols/registry'
import type { PortDescription } from '../protocols/wiring'
import type { Ways } from './graph'
import type { NetNode, Segment, WiredLink } from './model'

interface Line {
  readonly nodes: NetNode[]
  readonly links: WiredLink[]
}

/** The lines of a bus between repeaters, as far as they are joined to the controller. A repeater
 *  stands on each of its lines. Where nobody decided a terminator, it is on at the ends and off
 *  between, as it should be. */
export function segmentsOf(
  network: NetworkRow,
  nodes: readonly NetNode[],
  links: readonly WiredLink[],
  { steps }: Ways,
  portsOf: (node: NetNode) => readonly PortDescription[],
): Segment[] {
  const joined = nodes.filter((_, i) => steps[i] !== -1)
  const { times } = kindOf(network)
  return linesOf(joined, links, portsOf)
    .filter((line) => line.nodes.length > 1)
    .map((line) => {
      const ends = line.nodes.filter((node) => degreeIn(line, node) < 2)
      const terminators = line.nodes.filter(
        (node) => isTerminated(network, node, line, portsOf(node)) ?? ends.includes(node),
      )
      return {
        nodes: line.nodes,
        links: line.links,
        lengthM: line.links.reduce((sum, { link }) => sum + (link.lengthM ?? 0), 0),
        limitM: times?.segmentM?.(network.settings as never) ?? null,
        spursM: line.nodes.reduce((sum, node) => sum + spurOf(network, node), 0),
        spurLimitM: times?.spursM?.(network.settings as never) ?? null,
        nodeLimit: times?.segmentNodes ?? null,
        terminators,
        terminated:
          terminators.length === ends.length && ends.every((end) => terminators.includes(end)),
      }
    })
}

/** Links that hang together without a repeater between, from the controller on. */
function linesOf(
  joined: readonly NetNode[],
  links: readonly WiredLink[],
  portsOf: (node: NetNode) => readonly PortDescription[],
): Line[] {
  const byId = new Map(joined.map((node) => [node.id, { node, ports: portsOf(node) }]))
  /** A node has one side, a repeater one for each of its lines. */
  const sideOf = ({ node, port }: WiredLink['from']) =>
    `${node}/${byId.get(node)?.ports[port - 1]?.segment ?? 0}`
  const own = links.filter(({ from, to }) => byId.has(from.node) && byId.has(to.node))
  const at = new Map<string, WiredLink[]>()
  for (const one of own)
    for (const end of [one.from, one.to]) {
      const side = sideOf(end)
      const known = at.get(side)
      if (known) known.push(one)
      else at.set(side, [one])
    }
  const seen = new Set<string>()
  const lines: Line[] = []
  for (const first of at.keys()) {
    if (seen.has(first)) continue
    const line = { nodes: new Set<NetNode>(), links: new Set<WiredLink>() }
    const waiting = [first]
    for (const side of waiting) {
      if (seen.has(side)) continue
      seen.add(side)
      line.nodes.add(byId.get(side.slice(0, side.lastIndexOf('/')))!.node)
      for (const one of at.get(side)!) {
        line.links.add(one)
        waiting.push(sideOf(one.from), sideOf(one.to))
      }
    }
    lines.push({
      nodes: joined.filter((node) => line.nodes.has(node)),
      links: [...line.links],
    })
  }
  return lines
}

const degreeIn = ({ links }: Line, { id }: NetNode) =>
  links.filter(({ from, to }) => from.node === id || to.node === id).length

/** What was decided on a node's ports, of a station on any, of a repeater on those of the line; a
 *  port that always terminates leaves nothing to decide. */
function isTerminated(
  network: NetworkRow,
  { id, view }: NetNode,
  { links }: Line,
  described: readonly PortDescription[],
): boolean | null {
  const ports: Ports = view ? view.station.ports : network.ports
  const isOwn = view === null || view.station.networkId === network.id
  const onLine = new Set(
    links
      .flatMap(({ from, to }) => [from, to].filter(({ node }) => node === id))
      .map(({ port }) => String(port)),
  )
  if ([...onLine].some((port) => described[Number(port) - 1]?.terminates)) return true
  const decided = Object.entries(ports).flatMap(([port, { terminated }]) =>
    terminated !== undefined && (isOwn || onLine.has(port)) ? [terminated] : [],
  )
  return decided.length === 0 ? null : decided.some(Boolean)
}

/** The spur by which a node hangs off its line, in metres. */
function spurOf(network: NetworkRow, { view }: NetNode): number {
  const ports: Ports = view ? view.station.ports : network.ports
  return Object.values(ports).reduce((sum, { spurM = 0 }) => sum + spurM, 0)
}
