import type { Derived, DerivedNetwork, DerivedStation } from '../derive/derive'
import type { Id, NetworkRow, Plan } from '../plan/model'
import { sharingOf } from '../protocols/profinet/sharing'
import { kindOf } from '../protocols/registry'
import { noCycle, noTraffic, type Traffic } from '../protocols/traffic'
import type { RingRule } from '../protocols/wiring'
import { circleOf, closingLinks, linksAt, waysFromRoot, type Graph, type Ways } from './graph'
import type { NetNode, WiredLink, WiredNetwork, WiredStation, Ring } from './model'
import { segmentsOf } from './segments'
import { portsOfStation, Wires } from './wires'

/** A network with what it was worked out from beside its own stations. */
interface Known {
  readonly wired: WiredNetwork
  readonly beside: readonly DerivedNetwork[]
}
const known = new WeakMap<DerivedNetwork, Known>()
const ofPlan = new WeakMap<Derived, readonly WiredNetwork[]>()
const traffics = new WeakMap<DerivedStation, { network: NetworkRow; traffic: Traffic }>()

/** All networks of a plan that have something to join, in the order of controllers. Those of which
 *  nothing changed are taken from the last time: of their own stations, and, where links lead from
 *  one network into another, of all that do so. */
export function wiredNetworks(derived: Derived): readonly WiredNetwork[] {
  let wired = ofPlan.get(derived)
  if (!wired) ofPlan.set(derived, (wired = wireAll(derived)))
  return wired
}

function wireAll(derived: Derived): WiredNetwork[] {
  const bands = derived.controllers.flatMap(({ networks }) => networks)
  const crossing = crossingNetworks(derived)
  const together = bands.filter(({ network }) => crossing.has(network.id))
  return bands.flatMap((band) => {
    if (!kindOf(band.network).wiring) return []
    const beside = crossing.has(band.network.id) ? together : []
    const before = known.get(band)
    if (before && isSameList(before.beside, beside)) return [before.wired]
    const views = beside.length > 0 ? beside.flatMap(({ stations }) => stations) : band.stations
    const wired = wireNetwork(derived, band, wiresAmong(derived, views))
    known.set(band, { wired, beside })
    return [wired]
  })
}

const isSameList = (a: readonly object[], b: readonly object[]) =>
  a.length === b.length && a.every((one, i) => one === b[i])

/** Networks from which a link leads into another one, or into which one leads; so does a device that
 *  two controllers share or stand for. */
function crossingNetworks({ plan, stations }: Derived): ReadonlySet<Id> {
  const crossing = new Set<Id>()
  for (const { station } of stations.values()) {
    const join = (node: Id) => {
      const other = stations.get(node)?.station.networkId ?? plan.networks[node]?.id
      if (other !== undefined && other !== station.networkId)
        crossing.add(station.networkId).add(other)
    }
    for (const key in station.links) join(station.links[key]!.to.node)
    const { sharedWith, secondController } = sharingOf(station)
    if (sharedWith) join(sharedWith)
    if (secondController) join(secondController)
  }
  return crossing
}

/** The view of the device itself: of a shared one that of the station it is shared with. */
function deviceOf({ stations }: Derived, view: DerivedStation): DerivedStation {
  return stations.get(sharingOf(view.station).sharedWith) ?? view
}

/** Who is joined to whom in a whole plan. */
export function wiresOf(derived: Derived): Wires {
  return wiresAmong(derived, [...derived.stations.values()])
}

function wiresAmong({ plan, catalog }: Derived, views: readonly DerivedStation[]): Wires {
  return new Wires(
    catalog,
    plan,
    views.map(({ station }) => station),
  )
}

/** Nodes from the controller's interface on, all of the network's stations, joined or not, and the
 *  interfaces of their second controllers. */
function nodesOf(derived: Derived, { network, stations }: DerivedNetwork, wires: Wires): NetNode[] {
  const nodes: NetNode[] = [interfaceNode(derived.plan, network)]
  const seen = new Set<Id>([network.id])
  const add = (view: DerivedStation | undefined) => {
    if (!view || seen.has(view.id)) return
    seen.add(view.id)
    nodes.push({ id: view.id, name: view.station.name, view })
  }
  for (const view of stations) {
    add(deviceOf(derived, view))
    const second = derived.plan.networks[sharingOf(view.station).secondController]
    if (second && !seen.has(second.id)) {
      seen.add(second.id)
      nodes.push(interfaceNode(derived.plan, second))
    }
  }
  // Grows while it is gone through.
  for (const { id } of nodes)
    for (const { peer } of wires.of(id).values()) add(derived.stations.get(peer.node))
  return nodes
}

function interfaceNode({ controllers }: Plan, { id, controllerId, name }: NetworkRow): NetNode {
  return { id, name: controllers[controllerId]?.name ?? name, view: null }
}

function wireNetwork(derived: Derived, band: DerivedNetwork, wires: Wires): WiredNetwork {
  const { network } = band
  const kind = kindOf(network)
  const nodes = nodesOf(derived, band, wires)
  const numbers = new Map(nodes.map(({ id }, i) => [id, i]))
  for (const view of band.stations)
    if (!numbers.has(view.id)) numbers.set(view.id, numbers.get(deviceOf(derived, view).id)!)
  const ends = endsOf(nodes, numbers, wires)
  const graph: Graph = { size: nodes.length, links: ends.map(({ pair }) => pair) }
  const at = linksAt(graph)
  const open = waysFromRoot(graph, {}, at)
  const planned = kind.wiring!.ring
  const isRing = planned !== undefined && 'ring' in network.settings && network.settings.ring
  const circles = closingLinks(graph, open)
  const ringCircle = isRing && circles.length > 0 ? circleOf(graph, open, circles[0]!) : null
  const ring = isRing ? ringOf(network, planned, nodes, ringCircle?.nodes ?? []) : null
  const kept =
    ringCircle && ring?.manager && !planned!.runsBothWays
      ? keptClosed(ends, numbers.get(ring.manager.id)!, ring.manager.id, ringCircle.links)
      : -1
  const ways = kept === -1 ? open : waysFromRoot(graph, { links: new Set([kept]) }, at)
  const settings = network.settings as never
  const bitRate = kind.times?.bitRate(settings) ?? null
  const cycle = kind.times?.cycle?.(settings, band.stations) ?? noCycle
  const onRing = new Set(ringCircle?.links)
  const stations = stationsOf(band, numbers, ways, onRing, ring)
  const loads = loadsOf(stations, ways, graph, numbers, bitRate)
  // Those with a second controller send and take the same once more, over the ways to that one.
  const closed = kept === -1 ? {} : { links: new Set([kept]) }
  const fromSecond = new Map(
    [...new Set(stations.flatMap(({ second }) => second ?? []))].map((root) => [
      root,
      waysFromRoot(graph, closed, at, root),
    ]),
  )
  for (const [root, own] of fromSecond) {
    const more = loadsOf(
      stations.filter(({ second }) => second === root),
      own,
      graph,
      numbers,
      bitRate,
    )
    for (let i = 0; i < ends.length; i++) {
      loads.towards[i]! += more.towards[i]!
      loads.away[i]! += more.away[i]!
    }
  }
  const everyUs = kind.times?.everyUs?.(settings) ?? null
  const all =
    cycle.cycleBytes && everyUs && bitRate
      ? (cycle.cycleBytes * 8 * 1_000_000) / everyUs / bitRate
      : null
  const hasLoads =
    kind.wiring!.shape === 'switched' &&
    stations.some(({ updateTimeUs }) => updateTimeUs.in !== null || updateTimeUs.out !== null)
  const links = ends.map(({ id, from, to, link }, i): WiredLink => ({
    id,
    from,
    to,
    link,
    towards: hasLoads ? loads.towards[i]! : all,
    away: hasLoads ? loads.away[i]! : all,
  }))
  const isBus = kind.wiring!.shape === 'bus'
  return {
    network,
    bitRate,
    nodes,
    links,
    stations,
    cycleUs: cycle.cycleUs,
    framesPerCycle: cycle.framesPerCycle,
    packetsPerSecond: cycle.packetsPerSecond,
    clocks: kind.times?.clocks?.(settings, band.stations) ?? null,
    segments: isBus ? segmentsOf(network, nodes, links, ways, portsOfNode(network, derived)) : [],
    ring,
    loops: circles.slice(ringCircle ? 1 : 0).map((i) => links[i]!),
    wire: {
      ...{ graph, numbers, at, ways, fromSecond, kept },
      onWire: isBus ? ownNumbersOf(nodes, network) : new Set(),
    },
  }
}

/** A bus's own stations; repeaters and the controller are no part of its wire. */
const ownNumbersOf = (nodes: readonly NetNode[], { id }: NetworkRow) =>
  new Set(nodes.flatMap(({ view }, i) => (view?.station.networkId === id ? [i] : [])))

/** Ports of the stations of a network, and of what stands between them. */
const portsOfNode =
  (of: NetworkRow, { plan, catalog }: Derived) =>
  (node: NetNode) => {
    const row = node.view?.station
    return row ? portsOfStation(catalog, plan.networks[row.networkId] ?? of, row) : []
  }

type End = Pick<WiredLink, 'id' | 'from' | 'to' | 'link'> & { readonly pair: [number, number] }

/** Every link between the nodes, once, in the order of the nodes it is written down at. */
function endsOf(nodes: readonly NetNode[], numbers: ReadonlyMap<Id, number>, wires: Wires): End[] {
  return nodes.flatMap(({ id }, number) =>
    [...wires.of(id)]
      .sort(([a], [b]) => a - b)
      .flatMap(([port, { peer, link, owner }]) => {
        const other = numbers.get(peer.node)
        if (owner.node !== id || owner.port !== port || other === undefined) return []
        return [
          { id: `${id}:${port}`, from: { node: id, port }, to: peer, link, pair: [number, other] },
        ]
      }),
  ) as End[]
}

function ringOf(
  network: NetworkRow,
  { reconfigurationUs }: RingRule,
  nodes: readonly NetNode[],
  circle: readonly number[],
): Ring {
  const chosen = (network.settings as { ringManager?: string }).ringManager
  const wanted = chosen ? chosen : network.id
  const onRing = circle.map((i) => nodes[i]!)
  const manager = (circle.length > 0 ? onRing : nodes).find(({ id }) => id === wanted) ?? null
  return { closed: circle.length > 0, nodes: onRing, manager, reconfigurationUs }
}

/** Of the manager's two links on the ring the one on its higher port: no frames pass there while all
 *  is well (IEC 62439-2, CIP Vol. 2; that it is this one is an assumption). */
function keptClosed(
  ends: readonly End[],
  manager: number,
  managerId: Id,
  onRing: readonly number[],
): number {
  const portAt = (i: number) =>
    ends[i]!.from.node === managerId ? ends[i]!.from.port : ends[i]!.to.port
  const own = onRing.filter((i) => ends[i]!.pair.includes(manager))
  return own.sort((a, b) => portAt(b) - portAt(a))[0] ?? -1
}

function trafficOf(view: DerivedStation, network: NetworkRow): Traffic {
  const before = traffics.get(view)
  if (before?.network === network) return before.traffic
  const traffic = kindOf(network).times?.traffic?.(network.settings as never, view) ?? noTraffic
  traffics.set(view, { network, traffic })
  return traffic
}

function stationsOf(
  { network, stations }: DerivedNetwork,
  numbers: ReadonlyMap<Id, number>,
  ways: Ways,
  onRing: ReadonlySet<number>,
  ring: Ring | null,
): WiredStation[] {
  const overRing = new Uint8Array(ways.steps.length)
  for (const node of ways.order)
    overRing[node] = Number(onRing.has(ways.link[node]!) || overRing[ways.before[node]!] === 1)
  return stations.map((view) => {
    const number = numbers.get(view.id)!
    const steps = ways.steps[number]!
    const traffic = trafficOf(view, network)
    return {
      view,
      hops: steps === -1 ? null : steps - 1,
      ...traffic,
      second: numbers.get(sharingOf(view.station).secondController) ?? null,
      ridesThrough: ring?.closed && overRing[number] === 1 ? outlives(traffic, ring) : null,
    }
  })
}

/** A connection without a watchdog never ends. */
const outlives = ({ watchdogUs }: Traffic, { reconfigurationUs }: Ring) =>
  watchdogUs === null || watchdogUs >= reconfigurationUs

/** Shares of the bit rate that cyclic frames take on each link, both ways. */
function loadsOf(
  stations: readonly WiredStation[],
  { order, before, link }: Ways,
  { size, links }: Graph,
  numbers: ReadonlyMap<Id, number>,
  bitRate: number | null,
) {
  const sums = { in: new Float64Array(size), out: new Float64Array(size) }
  let toAll = 0
  const own = new Float64Array(size)
  for (const { view, frameBytes, updateTimeUs, isMulticast } of stations) {
    const number = numbers.get(view.id)!
    for (const way of ['in', 'out'] as const) {
      const [bytes, everyUs] = [frameBytes[way], updateTimeUs[way]]
      if (bytes === null || everyUs === null || bitRate === null) continue
      const share = (bytes * 8 * 1_000_000) / everyUs / bitRate
      sums[way][number]! += share
      if (isMulticast && way === 'in') {
        toAll += share
        own[number]! += share
      }
    }
  }
  const towards = new Float64Array(links.length)
  const away = new Float64Array(links.length)
  for (let i = order.length - 1; i > 0; i--) {
    const node = order[i]!
    towards[link[node]!] = sums.in[node]!
    // What goes to all comes down here too, but for what is sent from below.
    away[link[node]!] = sums.out[node]! + toAll - own[node]!
    own[before[node]!]! += own[node]!
    sums.in[before[node]!]! += sums.in[node]!
    sums.out[before[node]!]! += sums.out[node]!
  }
  return { towards, away }
}
