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
  const { links, stations, wire } = planned
  const cut = new Set(links.flatMap(({ id }, i) => (failures.links.has(id) ? [i] : [])))
  const lost = new Set([...failures.nodes].flatMap((id) => wire.numbers.get(id) ?? []))
  const without = { links: cut, nodes: lost, passing: wire.onWire }
  const ways = waysFromRoot(wire.graph, without, wire.at)
  const fromSecond = new Map(
    [...new Set(stations.flatMap(({ second }) => second ?? []))].map((root) => [
      root,
      waysFromRoot(wire.graph, without, wire.at, root),
    ]),
  )
  const breaking = new Set([...lost].filter((node) => !wire.onWire.has(node)))
  const isTouched = touched(wire.ways, cut, breaking)
  const outcome = {
    unreachable: [] as DerivedStation[],
    drops: [] as DerivedStation[],
    ridesThrough: [] as DerivedStation[],
  }
  for (const station of stations) {
    const number = wire.numbers.get(station.view.id)!
    const isReached = (from: Ways | undefined) => from !== undefined && from.steps[number] !== -1
    if (lost.has(number)) outcome.unreachable.push(station.view)
    else if (!isReached(ways))
      // The second controller stands for the first one.
      (isReached(fromSecond.get(station.second ?? -1))
        ? outcome.ridesThrough
        : outcome.unreachable
      ).push(station.view)
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
export function singleFailures({ nodes, links, stations, wire }: WiredNetwork): SingleFailure[] {
  const { graph, at, ways, onWire, numbers } = wire
  const single = stations.filter(({ second }) => second === null)
  const weights = weightsOf(nodes, stations, numbers)
  const losses = lossesOf(graph, weightsOf(nodes, single, numbers), at)
  // For those with a second controller both count as one, wherever its interface stands.
  for (const root of new Set(stations.flatMap(({ second }) => second ?? []))) {
    const both = { size: graph.size, links: [...graph.links, [0, root] as const] }
    const own = stations.filter(({ second }) => second === root)
    const more = lossesOf(both, weightsOf(nodes, own, numbers))
    for (const [k, sums] of losses.byLink.entries())
      for (let i = 0; i < sums.length; i++) sums[i]! += more.byLink[k]![i]!
    for (const [k, sums] of losses.byNode.entries())
      for (let i = 0; i < sums.length; i++) sums[i]! += more.byNode[k]![i]!
  }
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
  numbers: ReadonlyMap<Id, number>,
): [Float64Array, Float64Array, Float64Array] {
  const make = () => new Float64Array(nodes.length)
  const [count, signals, weak] = [make(), make(), make()]
  for (const { view, ridesThrough } of stations) {
    const number = numbers.get(view.id)!
    count[number]! += 1
    signals[number]! += view.named
    weak[number]! += Number(ridesThrough === false)
  }
  return [count, signals, weak]
}

/** Tags of all signals of a station, in the order of its rows. */
export function tagsOf({ group }: DerivedStation): string[] {
  return Object.values(group.signals).flatMap(({ tag }) => (tag === '' ? [] : [tag]))
}
