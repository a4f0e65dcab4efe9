/** Nodes by number from 0, and links between them; node 0 is where all data come from and go. */
export interface Graph {
  readonly size: number
  /** Both ends of each link. */
  readonly links: readonly (readonly [number, number])[]
}

/** Links at each node. */
export function linksAt({ size, links }: Graph): number[][] {
  const at: number[][] = Array.from({ length: size }, () => [])
  for (const [i, [a, b]] of links.entries()) {
    at[a]!.push(i)
    at[b]!.push(i)
  }
  return at
}

/** Ways from node 0 to all others, each with as few links as can be. */
export interface Ways {
  /** The link by which each node is reached, and the node before it; -1 for node 0 and where there
   *  is no way. */
  readonly link: Int32Array
  readonly before: Int32Array
  /** Links on the way; -1 where there is none. */
  readonly steps: Int32Array
  /** Nodes that are reached, each behind the one before it. */
  readonly order: number[]
}

/** What is out of use. `passing`: lost nodes through which links go on, as on one wire. */
export interface Without {
  readonly links?: ReadonlySet<number>
  readonly nodes?: ReadonlySet<number>
  readonly passing?: ReadonlySet<number>
}

/** Breadth-first search (common knowledge) from node 0, or another one; of two ways as long the one
 *  over the earlier link. */
export function waysFromRoot(
  graph: Graph,
  { links: cut, nodes: lost, passing }: Without = {},
  at: readonly (readonly number[])[] = linksAt(graph),
  root = 0,
): Ways {
  const link = new Int32Array(graph.size).fill(-1)
  const before = new Int32Array(graph.size).fill(-1)
  const steps = new Int32Array(graph.size).fill(-1)
  const order: number[] = []
  if (lost?.has(root)) return { link, before, steps, order }
  steps[root] = 0
  order.push(root)
  // Grows while it is gone through.
  for (const node of order) {
    for (const one of at[node]!) {
      if (cut?.has(one)) continue
      const [a, b] = graph.links[one]!
      const next = a === node ? b : a
      if (steps[next] !== -1 || (lost?.has(next) && !passing?.has(next))) continue
      steps[next] = steps[node]! + 1
      link[next] = one
      before[next] = node
      order.push(next)
    }
  }
  return { link, before, steps, order }
}

/** A link that is on no way, so that it closes a circle with the ways to both its ends. */
export function closingLinks({ links }: Graph, ways: Ways): number[] {
  return links.flatMap(([a, b], i) =>
    ways.steps[a] !== -1 && ways.steps[b] !== -1 && ways.link[a] !== i && ways.link[b] !== i
      ? [i]
      : [],
  )
}

/** The nodes and links of the circle that a link closes. */
export function circleOf(
  { links }: Graph,
  ways: Ways,
  closing: number,
): { readonly nodes: number[]; readonly links: number[] } {
  let [a, b] = links[closing]!
  const nodes = a === b ? [a] : [a, b]
  const on = [closing]
  while (a !== b) {
    if (ways.steps[a]! < ways.steps[b]!) [a, b] = [b, a]
    on.push(ways.link[a]!)
    a = ways.before[a]!
    if (a !== b) nodes.push(a)
  }
  return { nodes, links: on }
}

/** What is cut off from node 0 where one link or one node alone fails: the sum of the weights of the
 *  nodes behind it. */
export interface Losses {
  /** By link: what has no way left without it. */
  readonly byLink: Float64Array[]
  /** By node, without its own weight. */
  readonly byNode: Float64Array[]
}

/** Depth-first search with lowest numbers that can be reached back (Tarjan 1972: bridges and
 *  articulation points), and sums over what hangs below. `weights` are several figures a node; the
 *  result has them in the same order. */
export function lossesOf(
  graph: Graph,
  weights: readonly Float64Array[],
  at: readonly (readonly number[])[] = linksAt(graph),
): Losses {
  const { size, links } = graph
  const number = new Int32Array(size).fill(-1)
  const low = new Int32Array(size)
  const upLink = new Int32Array(size).fill(-1)
  const next = new Int32Array(size)
  const order: number[] = []
  const parent = new Int32Array(size).fill(-1)
  const stack = size > 0 ? [0] : []
  if (size > 0) visit(0)
  while (stack.length > 0) {
    const node = stack[stack.length - 1]!
    const one = at[node]![next[node]!++]
    if (one === undefined) {
      stack.pop()
      const up = parent[node]!
      if (up !== -1) low[up] = Math.min(low[up]!, low[node]!)
      continue
    }
    if (one === upLink[node]) continue
    const [a, b] = links[one]!
    const other = a === node ? b : a
    if (number[other] === -1) {
      upLink[other] = one
      parent[other] = node
      visit(other)
      stack.push(other)
    } else low[node] = Math.min(low[node]!, number[other]!)
  }
  const below = weights.map((own) => Float64Array.from(own))
  const byLink = weights.map(() => new Float64Array(links.length))
  const byNode = weights.map(() => new Float64Array(size))
  for (let i = order.length - 1; i > 0; i--) {
    const node = order[i]!
    const up = parent[node]!
    for (const [k, sums] of below.entries()) {
      const sum = sums[node]!
      sums[up]! += sum
      // Nothing below leads back above its link, or above its parent.
      if (low[node]! > number[up]!) byLink[k]![upLink[node]!] = sum
      if (low[node]! >= number[up]!) byNode[k]![up]! += sum
    }
  }
  return { byLink, byNode }

  function visit(node: number): void {
    number[node] = low[node] = order.length
    order.push(node)
  }
}

/** Sums of weights over each node and all that is reached through it. */
export function sumsBehind({ order, before }: Ways, weights: Float64Array): Float64Array {
  const sums = Float64Array.from(weights)
  for (let i = order.length - 1; i > 0; i--) sums[before[order[i]!]!]! += sums[order[i]!]!
  return sums
}
