// Against graphology, a general graph library of the registry.
import fc from 'fast-check'
import { MultiUndirectedGraph } from 'graphology'
import { connectedComponents } from 'graphology-components'
import { singleSourceLength } from 'graphology-shortest-path/unweighted'
import { describe, expect, test } from 'vitest'
import {
  circleOf,
  closingLinks,
  linksAt,
  lossesOf,
  sumsBehind,
  waysFromRoot,
  type Graph,
} from './graph'

const anyGraph: fc.Arbitrary<Graph> = fc
  .integer({ min: 1, max: 14 })
  .chain((size) =>
    fc
      .array(fc.tuple(fc.nat(size - 1), fc.nat(size - 1)), { maxLength: 20 })
      .map((pairs) => ({ size, links: pairs.filter(([a, b]) => a !== b) })),
  )

function reference({ size, links }: Graph) {
  const graph = new MultiUndirectedGraph()
  for (let i = 0; i < size; i++) graph.addNode(String(i))
  for (const [i, [a, b]] of links.entries()) graph.addEdgeWithKey(`e${i}`, String(a), String(b))
  return graph
}

const reached = (graph: MultiUndirectedGraph): Set<string> =>
  new Set(connectedComponents(graph).find((nodes) => nodes.includes('0')) ?? [])

describe('ways', () => {
  test('are as long as the shortest', () => {
    fc.assert(
      fc.property(anyGraph, (graph) => {
        const lengths = singleSourceLength(reference(graph), '0') as Record<string, number>
        const { steps } = waysFromRoot(graph)
        for (let i = 0; i < graph.size; i++) expect(steps[i]).toBe(lengths[String(i)] ?? -1)
      }),
    )
  })

  test('go on without what is out of use, as far as is reached then', () => {
    fc.assert(
      fc.property(anyGraph, fc.nat(), fc.nat(), (graph, linkSeed, nodeSeed) => {
        const cut = graph.links.length > 0 ? linkSeed % graph.links.length : -1
        const lost = graph.size > 1 ? 1 + (nodeSeed % (graph.size - 1)) : -1
        const other = reference(graph)
        if (cut !== -1) other.dropEdge(`e${cut}`)
        if (lost !== -1) other.dropNode(String(lost))
        const { order } = waysFromRoot(graph, { links: new Set([cut]), nodes: new Set([lost]) })
        expect(new Set(order.map(String))).toEqual(reached(other))
      }),
    )
  })
})

test('a closing link makes a circle in which each node has two links', () => {
  fc.assert(
    fc.property(anyGraph, (graph) => {
      const ways = waysFromRoot(graph)
      const joined = ways.order.length
      const inside = graph.links.filter(([a]) => ways.steps[a] !== -1).length
      expect(closingLinks(graph, ways)).toHaveLength(inside - (joined - 1))
      for (const closing of closingLinks(graph, ways)) {
        const { nodes, links } = circleOf(graph, ways, closing)
        expect(links).toHaveLength(nodes.length)
        for (const node of nodes)
          expect(links.filter((i) => graph.links[i]!.includes(node))).toHaveLength(2)
      }
    }),
  )
})

test('losses are what each link and each node alone cuts off', () => {
  fc.assert(
    fc.property(anyGraph, (graph) => {
      const weight = Float64Array.from({ length: graph.size }, (_, i) => 2 ** i)
      const { byLink, byNode } = lossesOf(graph, [weight])
      const whole = reached(reference(graph))
      const sumOf = (left: Set<string>, not: string[] = []) =>
        [...whole]
          .filter((node) => !left.has(node) && !not.includes(node))
          .reduce((sum, node) => sum + 2 ** Number(node), 0)
      for (const i of graph.links.keys()) {
        const without = reference(graph)
        without.dropEdge(`e${i}`)
        expect(byLink[0]![i]).toBe(sumOf(reached(without)))
      }
      for (let node = 1; node < graph.size; node++) {
        const without = reference(graph)
        without.dropNode(String(node))
        expect(byNode[0]![node]).toBe(
          whole.has(String(node)) ? sumOf(reached(without), [String(node)]) : 0,
        )
      }
    }),
  )
})

test('sums behind a node are those of all that is reached through it', () => {
  // 0 - 1 - 2, 1 - 3, and 4 that hangs nowhere.
  const graph: Graph = {
    size: 5,
    links: [
      [0, 1],
      [1, 2],
      [1, 3],
    ],
  }
  const sums = sumsBehind(waysFromRoot(graph, {}, linksAt(graph)), Float64Array.of(1, 2, 4, 8, 16))
  expect([...sums]).toEqual([15, 14, 4, 8, 16])
})
