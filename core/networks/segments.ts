import type { Id, NetworkRow, Ports } from '../plan/model'
import { kindOf } from '../protocols/registry'
import type { Ways } from './graph'
import type { NetNode, WiredLink, Segment } from './model'

/** The line of a bus from one end to the other, as far as it is joined to the controller. Where
 *  nobody decided a terminator, it is on at the ends and off between, as it should be. */
export function segmentsOf(
  network: NetworkRow,
  nodes: readonly NetNode[],
  links: readonly WiredLink[],
  { steps }: Ways,
): Segment[] {
  const joined = nodes.filter((_, i) => steps[i] !== -1)
  if (joined.length < 2) return []
  const ids = new Set(joined.map(({ id }) => id))
  const own = links.filter(({ from, to }) => ids.has(from.node) && ids.has(to.node))
  const degree = new Map<Id, number>()
  for (const { from, to } of own)
    for (const { node } of [from, to]) degree.set(node, (degree.get(node) ?? 0) + 1)
  const isEnd = ({ id }: NetNode) => (degree.get(id) ?? 0) < 2
  const ends = joined.filter(isEnd)
  const terminators = joined.filter((node) => isTerminated(network, node) ?? isEnd(node))
  const { times } = kindOf(network)
  return [
    {
      nodes: joined,
      lengthM: own.reduce((sum, { link }) => sum + (link.lengthM ?? 0), 0),
      limitM: times?.segmentM?.(network.settings as never) ?? null,
      nodeLimit: times?.segmentNodes ?? null,
      terminators,
      terminated:
        terminators.length === ends.length && ends.every((end) => terminators.includes(end)),
    },
  ]
}

function isTerminated(network: NetworkRow, { view }: NetNode): boolean | null {
  const ports: Ports = view ? view.station.ports : network.ports
  const decided = Object.values(ports).flatMap(({ terminated }) => terminated ?? [])
  return decided.length === 0 ? null : decided.some(Boolean)
}
