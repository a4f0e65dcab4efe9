import type { DerivedStation } from '../derive/derive'
import type { Id } from '../plan/model'
import { lossesOf, sumsBehind, waysFromRoot, type Ways } from './graph'
import type { NetNode, WiredLink, WiredNetwork, WiredStation } from './model'

/** What fails: links by their id, nodes by theirs (a network's id: its controller's interface). */
export interface Failures {
  readonly links: ReadonlySet<string>
  readonly nodes: ReadonlySet<Id>
}

/** What becomes of the stations of a network. */
export interface Outcome {
  /** No way to the controller is left. */
  readonly unreachable: readonly DerivedStation[]
  /** The connection ends, since the watchdog is shorter than the reconfiguration, and comes back. */
  readonly drops: readonly DerivedStation[]
  /** The way changed and the connection did not end. */
  readonly ridesThrough: readonly DerivedStation[]
}

/** What becomes of a network's stations when links and nodes fail together. */
export function whatIf(planned: WiredNetwork, failures: Failures): Outcome {
  const { nodes, links, stations, wire } = planned
  const cut = new Set(links.flatMap(({ id }, i) => (failures.links.has(id) ? [i] : [])))
  const lost = new Set(nodes.flatMap(({ id }, i) => (failures.nodes.has(id) ? [i] : [])))
  const ways = waysFromRoot(wire.graph, { links: cut, nodes: lost, passing: wire.onWire }, wire.at)
  const breaking = new Set([...lost].filter((node) => !wire.onWire.has(node)))
  const isTouched = touched(wire.ways, cut, breaking)
  const outcome = {
    unreachable: [] as DerivedStation[],
    drops: [] as DerivedStation[],
    ridesThrough: [] as DerivedStation[],
  }
  const numbers = new Map(nodes.map(({ id }, i) => [id, i]))
  for (const station of stations) {
    const number = numbers.get(station.view.id)!
    if (ways.steps[number] === -1 || lost.has(number)) outcome.unreachable.push(station.view)
    else if (isTouched[number] === 1)
      (station.ridesThrough === false ? outcome.drops : outcome.ridesThrough).push(station.view)
  }
  return outcome
}

/** Nodes whose way, while all was well, went over something that failed. */
function touched(
  { order, link, before }: Ways,
  cut: ReadonlySet<number>,
  lost: ReadonlySet<number>,
): Uint8Array {
  const is = new Uint8Array(link.length)
  for (const node of order) {
    const up = before[node]!
    if (up === -1) continue
    is[node] = Number(is[up] === 1 || cut.has(link[node]!) || lost.has(up))
  }
  return is
}

/** One thing that fails alone, and how many stations and named signals that costs. */
export interface SingleFailure {
  readonly link: WiredLink | null
  readonly node: NetNode | null
  readonly unreachable: number
  readonly drops: number
  readonly signals: number
}

/** What every single link and every single node costs, worst first; all at once, by one search
 *  through the network. The controller itself is left out: it costs everything. */
export function singleFailures({
  nodes,
  links,
  stations,
  wire,
  network,
}: WiredNetwork): SingleFailure[] {
  const weights = weightsOf(nodes, stations, network.id)
  const { graph, at, ways, onWire } = wire
  const losses = lossesOf(graph, weights, at)
  const behind = sumsBehind(ways, weights[2])
  // The node at the far end of each link that is on a way.
  const below = new Int32Array(links.length).fill(-1)
  for (const node of ways.order) if (ways.link[node] !== -1) below[ways.link[node]!] = node
  const found: SingleFailure[] = links.map((link, i) => ({
    link,
    node: null,
    unreachable: losses.byLink[0]![i]!,
    signals: losses.byLink[1]![i]!,
    drops: below[i] === -1 ? 0 : behind[below[i]!]! - losses.byLink[2]![i]!,
  }))
  for (const [i, node] of nodes.entries()) {
    if (i === 0 || ways.steps[i] === -1) continue
    const [own, ownSignals, ownDrops] = weights.map((of) => of[i]!) as [number, number, number]
    found.push({
      link: null,
      node,
      unreachable: own + (onWire.has(i) ? 0 : losses.byNode[0]![i]!),
      signals: ownSignals + (onWire.has(i) ? 0 : losses.byNode[1]![i]!),
      drops: onWire.has(i) ? 0 : behind[i]! - ownDrops - losses.byNode[2]![i]!,
    })
  }
  return found.sort((a, b) => b.signals - a.signals || b.unreachable - a.unreachable)
}

/** Stations, their named signals, and those that do not outlive a reconfiguration, by node. */
function weightsOf(
  nodes: readonly NetNode[],
  stations: readonly WiredStation[],
  networkId: Id,
): [Float64Array, Float64Array, Float64Array] {
  const make = () => new Float64Array(nodes.length)
  const [count, signals, weak] = [make(), make(), make()]
  const isWeak = new Set(
    stations.flatMap(({ view, ridesThrough }) => (ridesThrough === false ? [view.id] : [])),
  )
  for (const [i, { view }] of nodes.entries()) {
    if (view?.station.networkId !== networkId) continue
    count[i] = 1
    signals[i] = view.named
    weak[i] = Number(isWeak.has(view.id))
  }
  return [count, signals, weak]
}

/** Tags of all signals of a station, in the order of its rows. */
export function tagsOf({ group }: DerivedStation): string[] {
  return Object.values(group.signals).flatMap(({ tag }) => (tag === '' ? [] : [tag]))
}
