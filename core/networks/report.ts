import type { Id } from '../plan/model'
import type { NetNode, WiredNetwork } from './model'

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
    clocks: wired.clocks && {
      reference: names.get(wired.clocks.reference ?? '') ?? null,
      timed: wired.clocks.timed.map(({ id, ...clock }) => ({
        station: names.get(id) ?? id,
        ...clock,
      })),
    },
    segments: segments.map((segment) => ({
      nodes: namesOf(segment.nodes),
      lengthM: segment.lengthM,
      limitM: segment.limitM,
      spursM: segment.spursM,
      spurLimitM: segment.spurLimitM,
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
