import { wiredNetworks, type Segment } from '../networks'
import type { LinkEnd } from '../plan/model'
import { nameOf, planRule } from './finding'
import { atNetwork } from './wire-rules'

/** Rules about the lines of a bus: their length, nodes, spurs and terminators. */
export const segmentRules = [
  planRule<{ lengthM: number; limitM: number; bitRate: number | null }>({
    code: 'segment.length',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived))
        for (const { lengthM, limitM } of wired.segments)
          if (limitM !== null && lengthM > limitM)
            yield { at: atNetwork(wired), facts: { lengthM, limitM, bitRate: wired.bitRate } }
    },
    say: ({ lengthM, limitM, bitRate }, at) =>
      `The line of ${at.words} is ${lengthM} m long; at ${(bitRate ?? 0) / 1000} kbit/s it reaches ${limitM} m.`,
  }),

  planRule<{ spursM: number; most: number; bitRate: number | null }>({
    code: 'segment.spurs',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived))
        for (const { spursM, spurLimitM } of wired.segments)
          if (spurLimitM !== null && spursM > spurLimitM)
            yield {
              at: atNetwork(wired),
              facts: { spursM, most: spurLimitM, bitRate: wired.bitRate },
            }
    },
    say: ({ spursM, most, bitRate }, at) =>
      `The spurs of ${at.words} are ${spursM} m long together; at ${(bitRate ?? 0) / 1000} kbit/s ${most === 0 ? 'none are allowed' : `${most} m are`}.`,
  }),

  planRule<{ nodes: number; most: number }>({
    code: 'segment.nodes',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived))
        for (const { nodes, nodeLimit } of wired.segments)
          if (nodeLimit !== null && nodes.length > nodeLimit)
            yield { at: atNetwork(wired), facts: { nodes: nodes.length, most: nodeLimit } }
    },
    say: ({ nodes, most }, at) =>
      `The line of ${at.words} has ${nodes} nodes; a segment takes ${most}, repeaters counted.`,
  }),

  planRule<{ on: string; ends: number; ports: { at: LinkEnd; set: { terminated: boolean } }[] }>({
    code: 'segment.terminators',
    severity: 'warning',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived))
        for (const segment of wired.segments) {
          const { terminated, terminators } = segment
          if (!terminated)
            yield {
              at: atNetwork(wired),
              facts: {
                on: terminators.map(({ name }) => nameOf(name)).join(', '),
                ends: terminators.length,
                ports: rightTerminators(segment),
              },
            }
        }
    },
    say: ({ on, ends }, at) =>
      `The line of ${at.words} is terminated at ${ends === 0 ? 'no node' : on}; it has to be at both ends, and nowhere between.`,
    fixes: ({ ports }) => [
      { label: 'Terminate both ends', command: { type: 'setPorts', edits: ports } },
    ],
  }),
]

/** Where the terminators of a line belong: at the nodes with one neighbour only. */
function rightTerminators({ nodes, links }: Segment) {
  return nodes.map(({ id }) => {
    const ends = links.flatMap(({ from, to }) => [from, to]).filter(({ node }) => node === id)
    return { at: { node: id, port: ends[0]!.port }, set: { terminated: ends.length < 2 } }
  })
}
