import type { Derived } from '../../derive/derive'
import { wiredNetworks, type NetNode, type WiredNetwork } from '../../networks'
import type { Id } from '../../plan/model'
import { kindOf } from '../../protocols/registry'
import { ipOf } from '../../protocols/settings'
import { numbered } from '../../vocabulary/plural'
import type { Block, Figure } from './flow'
import type { Mark } from './marks'
import { printable } from './text'

const box = { width: 96, height: 24, gapX: 30, gapY: 9 } as const
/** Boxes in a row of the drawing; a longer line goes on in the row below. */
const mostColumns = 6
const longestName = 19

interface Placed {
  readonly node: NetNode
  readonly column: number
  readonly row: number
}

/** Networks as they are cabled, drawn: from the controller on, each node to the right of the one it is
 *  reached by, branches below each other; links that close a ring are dashed. */
export function networkFigures(derived: Derived): Block[] {
  return wiredNetworks(derived).flatMap((wired): Block[] => {
    const { network, nodes, links } = wired
    if (nodes.length < 2) return []
    return [
      {
        kind: 'heading',
        text: network.name,
        note: `${kindOf(network).name}, ${numbered(nodes.length, 'node')}, ${numbered(links.length, 'cable')}`,
      },
      { kind: 'figures', figures: rowsOf(wired, derived) },
    ]
  })
}

/** The drawing, cut into strips that a page can break between. */
function rowsOf(wired: WiredNetwork, derived: Derived): Figure[] {
  const { placed, parents } = layOut(wired)
  const at = new Map(placed.map((one) => [one.node.id, one]))
  const height = box.height + box.gapY
  const rowCount = 1 + Math.max(0, ...placed.map(({ row }) => row))
  const strips = Array.from({ length: rowCount }, (): Mark[] => [])
  const left = ({ column }: Placed) => column * (box.width + box.gapX)
  for (const one of placed) strips[one.row]!.push(...boxMarks(one.node, left(one), derived))
  for (const [child, { parent, words }] of parents) {
    const [from, to] = [at.get(parent), at.get(child)]
    if (!from || !to) continue
    const middle = box.height / 2
    const turn = left(from) + box.width + box.gapX / 2
    if (from.row === to.row)
      strips[from.row]!.push({
        kind: 'line',
        points: [
          [left(from) + box.width, middle],
          [left(to), middle],
        ],
        width: 1,
      })
    else {
      const wraps = to.column <= from.column
      const x = wraps ? left(from) + box.width / 2 : turn
      strips[from.row]!.push({
        kind: 'line',
        points: wraps
          ? [
              [x, box.height],
              [x, height],
            ]
          : [
              [left(from) + box.width, middle],
              [x, middle],
              [x, height],
            ],
        width: 1,
      })
      for (let row = from.row + 1; row < to.row; row++)
        strips[row]!.push({
          kind: 'line',
          points: [
            [x, 0],
            [x, height],
          ],
          width: 1,
        })
      const entry = wraps ? left(to) + box.width / 2 : left(to)
      strips[to.row]!.push({
        kind: 'line',
        points: wraps
          ? [
              [x, 0],
              [x, -box.gapY / 2],
              [entry, -box.gapY / 2],
              [entry, 0],
            ]
          : [
              [x, 0],
              [x, middle],
              [entry, middle],
            ],
        width: 1,
      })
    }
    if (words !== '')
      strips[to.row]!.push({
        kind: 'text',
        ...{ x: left(to) - 2, y: middle - 2, align: 'right', face: 'narrow', size: 6 },
        text: words,
        ink: 'quiet',
      })
  }
  const width = mostColumns * (box.width + box.gapX)
  const closing = wired.links
    .filter(({ from, to }) => !isBranch(parents, from.node, to.node))
    .map(({ from, to, link }) => {
      const name = (id: Id) => at.get(id)?.node.name ?? ''
      return `${link.label === '' ? 'A cable' : link.label} closes the ring between ${name(from.node)} port ${from.port} and ${name(to.node)} port ${to.port}.`
    })
  return [
    ...strips.map((marks): Figure => ({ width, height, marks })),
    ...closing.map((words): Figure => ({
      width,
      height: 12,
      marks: [{ kind: 'text', x: 0, y: 9, text: printable(words), face: 'narrow', size: 7.5 }],
    })),
  ]
}

type Parents = ReadonlyMap<Id, { readonly parent: Id; readonly words: string }>

const isBranch = (parents: Parents, a: Id, b: Id) =>
  parents.get(a)?.parent === b || parents.get(b)?.parent === a

/** Each node by the shortest way from the first, which is the controller; the others of a line go on
 *  to the right, branches begin a row of their own. */
function layOut({ nodes, links }: WiredNetwork): { placed: Placed[]; parents: Parents } {
  const byNode = new Map<Id, { readonly other: Id; readonly words: string }[]>()
  const join = (from: Id, other: Id, words: string) =>
    byNode.set(from, [...(byNode.get(from) ?? []), { other, words }])
  for (const { from, to, link } of links) {
    const words = [link.label, link.lengthM === null ? '' : `${link.lengthM} m`]
      .filter(Boolean)
      .join(' ')
      .slice(0, 12)
    join(from.node, to.node, words)
    join(to.node, from.node, words)
  }
  const parents = new Map<Id, { parent: Id; words: string }>()
  const children = new Map<Id, Id[]>()
  const seen = new Set<Id>()
  const roots: Id[] = []
  const byId = new Map(nodes.map((node) => [node.id, node]))
  for (const { id: root } of nodes.toSorted((a, b) => rank(a) - rank(b))) {
    if (seen.has(root)) continue
    seen.add(root)
    roots.push(root)
    const queue = [root]
    for (let id = queue.shift(); id !== undefined; id = queue.shift()) {
      for (const { other, words } of byNode.get(id) ?? []) {
        if (seen.has(other) || !byId.has(other)) continue
        seen.add(other)
        parents.set(other, { parent: id, words })
        children.set(id, [...(children.get(id) ?? []), other])
        queue.push(other)
      }
    }
  }
  const placed: Placed[] = []
  let row = -1
  const open = roots.toReversed().map((id) => ({ id, column: 0, opensRow: true }))
  for (let one = open.pop(); one; one = open.pop()) {
    const wraps = one.column >= mostColumns
    if (one.opensRow || wraps) row++
    const column = wraps ? 0 : one.column
    placed.push({ node: byId.get(one.id)!, column, row })
    const below = (children.get(one.id) ?? []).map((id, i) => ({
      id,
      column: column + 1,
      opensRow: i > 0,
    }))
    open.push(...below.toReversed())
  }
  return { placed, parents }
}

/** Controllers first. */
const rank = ({ view }: NetNode) => (view === null ? 0 : 1)

function boxMarks(node: NetNode, x: number, { plan }: Derived): Mark[] {
  const { view } = node
  const name = printable(node.name)
  const band = view && plan.networks[view.station.networkId]
  const kind = band && kindOf(band)
  const address = !view
    ? ''
    : kind?.hasIp
      ? ipOf(view.station)
      : `${kind?.number.word ?? ''} ${view.station.deviceNumber}`
  return [
    {
      kind: 'box',
      ...{ x, y: 0, width: box.width, height: box.height },
      ...(view === null ? { fill: 'shade' as const } : { fill: 'paper' as const }),
      line: 'ink',
    },
    {
      kind: 'text',
      ...{ x: x + 4, y: 10, face: 'narrowStrong', size: 7.5 },
      text: name.length > longestName ? `${name.slice(0, longestName - 1)}…` : name,
    },
    {
      kind: 'text',
      ...{ x: x + 4, y: 19, face: 'mono', size: 5.5, ink: 'quiet' },
      text: printable(address),
    },
  ]
}
