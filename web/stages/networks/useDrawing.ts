import type { Id, WiredNetwork } from '@kataxis/core'
import ELK, { type ElkExtendedEdge, type ElkNode } from 'elkjs/lib/elk-api.js'
import ElkWorker from 'elkjs/lib/elk-worker.min.js?worker'
import { onScopeDispose, shallowRef, watch } from 'vue'

export const nodeWidth = 128
export const nodeHeight = 46
/** Lines with more nodes than this are broken into rows. */
const longestRow = 7
/** From so many nodes on, one with so many links makes keeping the order of the list too slow: tens of
 *  seconds for a star of 500, below one without. */
const manyNodes = 100
const manyLinks = 8

export interface DrawnNode {
  readonly id: Id
  readonly x: number
  readonly y: number
}
export interface DrawnLink {
  readonly id: string
  /** Corners of the line from end to end. */
  readonly points: readonly { readonly x: number; readonly y: number }[]
}
export interface Drawing {
  readonly width: number
  readonly height: number
  readonly nodes: ReadonlyMap<Id, DrawnNode>
  readonly links: ReadonlyMap<string, DrawnLink>
}

/** Where the nodes of a network stand and how its links run: laid out in a worker, anew whenever
 *  nodes or links came or went. Null until the first is there. */
export function useDrawing(wired: () => WiredNetwork | null) {
  const drawing = shallowRef<Drawing | null>(null)
  const elk = new ELK({ workerFactory: () => new ElkWorker() })
  onScopeDispose(() => elk.terminateWorker())
  let turn = 0
  const shape = () => {
    const now = wired()
    return now ? JSON.stringify([now.nodes.map(({ id }) => id), endsOf(now)]) : ''
  }
  watch(
    shape,
    async () => {
      const now = wired()
      const mine = ++turn
      if (!now) return
      const laid = await elk.layout(graphOf(now))
      if (mine === turn) drawing.value = read(laid)
    },
    { immediate: true },
  )
  return drawing
}

/** Each link from the end nearer to the controller on, so that all lines run the same way. */
function endsOf({ links, nodes, wire }: WiredNetwork) {
  const steps = new Map(nodes.map(({ id }, i) => [id, wire.ways.steps[i]!]))
  return links.map(({ id, from, to }) => {
    const isTurned = steps.get(from.node)! > steps.get(to.node)!
    const [near, far] = isTurned ? [to, from] : [from, to]
    return { id, sources: [near.node], targets: [far.node] }
  })
}

function graphOf(wired: WiredNetwork): ElkNode {
  const isWide =
    wired.nodes.length > manyNodes && wired.wire.at.some((links) => links.length > manyLinks)
  const isLong = !isWide && wired.nodes.length > longestRow
  return {
    id: 'network',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.spacing.nodeNode': '34',
      'elk.layered.spacing.nodeNodeBetweenLayers': '76',
      'elk.layered.spacing.edgeNodeBetweenLayers': '20',
      'elk.spacing.edgeNode': '30',
      'elk.padding': '[top=24,left=24,bottom=24,right=24]',
      ...(isWide
        ? { 'elk.layered.nodePlacement.strategy': 'SIMPLE' }
        : { 'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES' }),
      ...(isLong && {
        'elk.layered.wrapping.strategy': 'MULTI_EDGE',
        'elk.layered.wrapping.additionalEdgeSpacing': '4',
        'elk.aspectRatio': '3',
      }),
    },
    children: wired.nodes.map(({ id }) => ({ id, width: nodeWidth, height: nodeHeight })),
    edges: endsOf(wired),
  }
}

function read(laid: ElkNode): Drawing {
  const nodes = (laid.children ?? []).map(({ id, x = 0, y = 0 }) => [id, { id, x, y }] as const)
  const links = ((laid.edges ?? []) as ElkExtendedEdge[]).map(({ id, sections = [] }) => {
    const points = sections.flatMap(({ startPoint, bendPoints = [], endPoint }) => [
      startPoint,
      ...bendPoints,
      endPoint,
    ])
    return [id, { id, points }] as const
  })
  return {
    width: laid.width ?? 0,
    height: laid.height ?? 0,
    nodes: new Map(nodes),
    links: new Map(links),
  }
}
