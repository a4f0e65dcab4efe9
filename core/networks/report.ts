import type { DerivedStation } from '../derive/derive'
import type { Id } from '../plan/model'
import type { NetNode, WiredNetwork } from './model'
import { tagsOf, whatIf, type Failures } from './what-if'

/** A network as `npx kataxis networks` prints it, without its findings. */
export function networkReport(wired: WiredNetwork) {
  const { network, nodes, links, stations, segments, ring, bitRate } = wired
  const names = new Map<Id, string>(nodes.map(({ id, name }) => [id, name]))
  const end = ({ node, port }: { node: Id; port: number }) => ({
    node: names.get(node) ?? node,
    port,
    id: node,
  })
  const namesOf = (all: readonly NetNode[]) => all.map(({ name }) => name)
  return {
    id: network.id,
    name: network.name,
    kind: network.settings.kind,
    bitRate,
    links: links.map(({ id, from, to, link, towards, away }) => ({
      id,
      from: end(from),
      to: end(to),
      medium: link.medium,
      lengthM: link.lengthM,
      cable: link.cable,
      label: link.label,
      bitRate,
      towards,
      away,
    })),
    stations: stations.map(({ view, ridesThrough, hops, ...wire }) => ({
      id: view.id,
      name: view.station.name,
      hops,
      frameBytes: wire.frameBytes,
      updateTimeUs: wire.updateTimeUs,
      watchdogUs: wire.watchdogUs,
      ridesThrough,
    })),
    cycleUs: wired.cycleUs,
    framesPerCycle: wired.framesPerCycle,
    packetsPerSecond: wired.packetsPerSecond,
    segments: segments.map((segment) => ({
      nodes: namesOf(segment.nodes),
      lengthM: segment.lengthM,
      limitM: segment.limitM,
      terminated: segment.terminated,
    })),
    ring: ring && {
      closed: ring.closed,
      nodes: ring.nodes.length,
      manager: ring.manager?.name ?? null,
      reconfigurationUs: ring.reconfigurationUs,
    },
  }
}

/** What becomes of all networks together when links and nodes fail. */
export function whatIfReport(networks: readonly WiredNetwork[], failures: Failures) {
  const outcomes = networks.map((wired) => whatIf(wired, failures))
  const all = (key: keyof (typeof outcomes)[number]): DerivedStation[] =>
    outcomes.flatMap((outcome) => outcome[key])
  const names = (views: readonly DerivedStation[]) => views.map(({ station }) => station.name)
  return {
    unreachable: names(all('unreachable')),
    drops: names(all('drops')),
    signals: all('unreachable').flatMap(tagsOf),
    ridesThrough: names(all('ridesThrough')),
  }
}
