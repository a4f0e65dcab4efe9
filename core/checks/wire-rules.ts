import type { DerivedStation } from '../derive/derive'
import { wiredNetworks, wiresOf, type WiredLink, type WiredNetwork } from '../networks'
import { endOfLine, portsOfInterface, portsOfStation } from '../networks/wires'
import type { SingleCommand } from '../plan/commands'
import type { LinkEnd } from '../plan/model'
import type { WireFault } from '../protocols/traffic'
import { kindOf, protocolOf } from '../protocols/registry'
import { media } from '../vocabulary/medium'
import { numbered } from '../vocabulary/plural'
import { atStation, nameOf, planRule, type FindingPlace, type Fix, type PlanScope } from './finding'

/** Rules about cables, ports, segments, rings and times on the wire. They compare stations of a
 *  network with each other. */

export const atNetwork = ({ network: { id, name } }: WiredNetwork): FindingPlace => ({
  kind: 'network',
  id,
  words: name,
})

const portWords = ({ nodes }: WiredNetwork, { node, port }: LinkEnd) =>
  `port ${port} of ${nameOf(nodes.find(({ id }) => id === node)?.name ?? node)}`

const linkWords = (wired: WiredNetwork, { from, to }: Pick<WiredLink, 'from' | 'to'>) =>
  `${portWords(wired, from)} to ${portWords(wired, to)}`

/** A place for something about a link: the station it is written down at. */
function atLink({ derived }: PlanScope, wired: WiredNetwork, { from }: WiredLink): FindingPlace {
  const view = derived.stations.get(from.node)
  return view ? atStation(view) : atNetwork(wired)
}

function* linksOf(scope: PlanScope): Iterable<{ wired: WiredNetwork; one: WiredLink }> {
  for (const wired of wiredNetworks(scope.derived))
    for (const one of wired.links) yield { wired, one }
}

/** What was worked out of a network, kept as long as nothing of it changes. */
function remembered<T>(of: (wired: WiredNetwork, scope: PlanScope) => T) {
  const known = new WeakMap<WiredNetwork, T>()
  return (wired: WiredNetwork, scope: PlanScope): T => {
    if (!known.has(wired)) known.set(wired, of(wired, scope))
    return known.get(wired)!
  }
}

/** Commands that carry a fault's way out. */
function fixesOf(fixes: WireFault['fixes'], networkId: string, stationId: string | null): Fix[] {
  return (fixes ?? []).map(({ label, of, settings }) => {
    const set = { settings } as never
    const command: SingleCommand =
      of === 'network' || stationId === null
        ? { type: 'updateNetwork', id: networkId, set }
        : { type: 'updateStation', id: stationId, set }
    return { label, command }
  })
}

interface FoundFault {
  readonly at: FindingPlace
  readonly facts: WireFault & { networkId: string; stationId: string | null }
}

/** Times and rates of a network and its stations that its protocol does not take. */
const faultsOf = remembered((wired): FoundFault[] => {
  const { network, stations } = wired
  const { times } = kindOf(network)
  const settings = network.settings as never
  const found = (faults: readonly WireFault[] | undefined, view: DerivedStation | null) =>
    (faults ?? []).map((fault) => ({
      at: view ? atStation(view) : atNetwork(wired),
      facts: { ...fault, networkId: network.id, stationId: view?.id ?? null },
    }))
  const views = stations.map(({ view }) => view)
  return [
    ...found(times?.networkFaults?.(settings, views, wired), null),
    ...views.flatMap((view) => found(times?.faults?.(settings, view, wired), view)),
  ]
})

const timesRule = (code: string, severity: WireFault['severity']) =>
  planRule<FoundFault['facts']>({
    code,
    severity,
    find: function* (scope) {
      for (const wired of wiredNetworks(scope.derived))
        yield* faultsOf(wired, scope).filter(({ facts }) => facts.severity === severity)
    },
    say: ({ what, is, wants }, at) => `${at.words}: ${what} is ${is}; ${wants}.`,
    fixes: ({ fixes, networkId, stationId }) => fixesOf(fixes, networkId, stationId),
  })

/** Ends of links at ports that a node does not have, of those with so many. */
function strangeEnds(
  scope: PlanScope,
  wired: WiredNetwork,
  isAsked: (node: string) => boolean,
  portsOf: (node: string) => number,
) {
  return wired.links.flatMap((one) =>
    [one.from, one.to].flatMap((end) => {
      if (!isAsked(end.node)) return []
      const ports = portsOf(end.node)
      const facts = { port: portWords(wired, end), ports, end: one.from }
      return end.port > ports ? [{ at: atLink(scope, wired, one), facts }] : []
    }),
  )
}

/** Links at ports that their stations do not have. */
const strangePorts = remembered((wired, scope) => {
  const { plan, catalog } = scope.derived
  const rowOf = (node: string) => plan.stations[node]?.station
  return strangeEnds(
    scope,
    wired,
    (node) => rowOf(node) !== undefined,
    (node) => {
      const row = rowOf(node)!
      return portsOfStation(catalog, plan.networks[row.networkId]!, row).length
    },
  )
})

/** The same of controllers' interfaces, which follow from racks that stand elsewhere. */
function strangeInterfacePorts(wired: WiredNetwork, scope: PlanScope) {
  const { plan, catalog } = scope.derived
  return strangeEnds(
    scope,
    wired,
    (node) => plan.networks[node] !== undefined,
    (node) => portsOfInterface(plan, catalog, plan.networks[node]!).length,
  )
}

/** The station with the longest way among those whose way is longer than is advised. */
const deepestOf = remembered(({ network, stations }) => {
  const mostHops = kindOf(network).times?.mostHops
  if (!mostHops) return []
  const deep = stations.flatMap(({ view, hops }) => {
    const advised = hops === null ? null : mostHops(network.settings as never, view)
    return advised && hops! > advised.hops ? [{ view, hops: hops!, advised }] : []
  })
  const [deepest] = deep.toSorted((a, b) => b.hops - a.hops)
  return deepest
    ? [
        {
          at: atStation(deepest.view),
          facts: {
            hops: deepest.hops,
            most: deepest.advised.hops,
            updateUs: deepest.advised.updateUs,
            others: deep.length - 1,
          },
        },
      ]
    : []
})

/** The fullest link of a network, where its share lies between two. */
const loadRule = (code: string, from: number, to: number, severity: 'warning' | 'note') =>
  planRule<{ link: string; percent: number; others: number; advice: string }>({
    code,
    severity,
    find: function* (scope) {
      for (const wired of wiredNetworks(scope.derived)) {
        const share = ({ towards, away }: WiredLink) => Math.max(towards ?? 0, away ?? 0)
        const full = wired.links.filter((one) => share(one) > from)
        const fullest = full.reduce<WiredLink | null>(
          (most, one) => (most && share(most) >= share(one) ? most : one),
          null,
        )
        if (fullest && share(fullest) <= to)
          yield {
            at: atLink(scope, wired, fullest),
            facts: {
              link: linkWords(wired, fullest),
              percent: Math.round(share(fullest) * 100),
              others: full.length - 1,
              advice:
                severity === 'note' ? 'from 20 % on it is worth a look' : '50 % is advised at most',
            },
          }
      }
    },
    say: ({ link, percent, others, advice }, at) =>
      `${at.words}: cyclic data take ${percent} % of the link from ${link}${others > 0 ? `, the fullest of ${others + 1}` : ''}; ${advice}.`,
  })

export const wireRules = [
  planRule<{ network: string }>({
    code: 'link.none',
    severity: 'warning',
    find: function* ({ derived }) {
      for (const { network, stations } of wiredNetworks(derived))
        for (const { view, hops } of stations)
          if (hops === null) yield { at: atStation(view), facts: { network: network.name } }
    },
    say: ({ network }, at) =>
      `${at.words} has no way to the controller of ${network}: no link leads there.`,
    fixes: (_, { id }, __, now) => {
      const row = now.plan.stations[id]?.station
      if (!row) return []
      const wires = wiresOf(now)
      const others = [...now.stations.values()]
        .map(({ station }) => station)
        .filter((other) => other.networkId === row.networkId && other.id !== id)
      const ends = endOfLine(wires, row.networkId, id, others)
      if (!ends) return []
      const [from, to] = ends
      return [
        {
          label: 'Link it to the end of the line',
          command: { type: 'linkPorts', links: [{ from, to }] },
        },
      ]
    },
  }),

  planRule<{ port: string; ports: number; end: LinkEnd }>({
    code: 'link.port',
    severity: 'blocker',
    find: function* (scope) {
      for (const wired of wiredNetworks(scope.derived)) {
        yield* strangePorts(wired, scope)
        yield* strangeInterfacePorts(wired, scope)
      }
    },
    say: ({ port, ports }, at) =>
      `${at.words}: a link stands at ${port}, which has ${ports === 0 ? 'no ports' : `only ${numbered(ports, 'port')}`} by its description.`,
    fixes: ({ end }) => [
      { label: 'Remove the link', command: { type: 'unlinkPorts', ends: [end] } },
    ],
  }),

  planRule<{ port: string; end: LinkEnd }>({
    code: 'link.off',
    severity: 'blocker',
    find: function* (scope) {
      const { plan } = scope.derived
      for (const { wired, one } of linksOf(scope))
        for (const end of [one.from, one.to]) {
          const { ports } = plan.stations[end.node]?.station ?? plan.networks[end.node]!
          if (ports[end.port]?.off)
            yield { at: atLink(scope, wired, one), facts: { port: portWords(wired, end), end } }
        }
    },
    say: ({ port }, at) => `${at.words}: a link stands at ${port}, which is switched off.`,
    fixes: ({ end }, _, __, { plan }) => {
      const { ports } = plan.stations[end.node]?.station ?? plan.networks[end.node]!
      const { off: _off, ...others } = ports[end.port] ?? {}
      const set = Object.keys(others).length === 0 ? null : others
      return [
        {
          label: 'Switch the port on',
          command: { type: 'setPorts', edits: [{ at: end, set }] },
        },
      ]
    },
  }),

  planRule<{ link: string; medium: string; lengthM: number; reachM: number }>({
    code: 'link.length',
    severity: 'warning',
    find: function* (scope) {
      for (const { wired, one } of linksOf(scope)) {
        const { reachM, word } = media[one.link.medium]
        const { lengthM } = one.link
        if (reachM !== null && lengthM !== null && lengthM > reachM)
          yield {
            at: atLink(scope, wired, one),
            facts: { link: linkWords(wired, one), medium: word, lengthM, reachM },
          }
      }
    },
    say: ({ link, medium, lengthM, reachM }, at) =>
      `${at.words}: the link from ${link} is ${lengthM} m long; ${medium.toLowerCase()} reaches ${reachM} m.`,
  }),

  planRule<{ link: string; pairs: number }>({
    code: 'link.connectors',
    severity: 'warning',
    find: function* (scope) {
      for (const { wired, one } of linksOf(scope))
        if (one.link.medium === 'copper' && one.link.connectors > mostConnectors)
          yield {
            at: atLink(scope, wired, one),
            facts: { link: linkWords(wired, one), pairs: one.link.connectors },
          }
    },
    say: ({ link, pairs }, at) =>
      `${at.words}: the link from ${link} has ${pairs} pairs of connectors; copper takes ${mostConnectors}.`,
  }),

  planRule<{ link: string; from: LinkEnd; kind: string; canRing: boolean; networkId: string }>({
    code: 'link.loop',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived))
        for (const one of wired.loops) {
          const kind = kindOf(wired.network)
          yield {
            at: atNetwork(wired),
            facts: {
              link: linkWords(wired, one),
              from: one.from,
              kind: kind.name,
              canRing: kind.wiring?.ring !== undefined && wired.ring === null,
              networkId: wired.network.id,
            },
          }
        }
    },
    say: ({ link }, at) =>
      `${at.words}: the link from ${link} closes a loop that is not planned as a ring.`,
    fixes: ({ canRing, from, networkId }) => [
      ...(canRing
        ? [
            {
              label: 'Plan it as a ring',
              command: {
                type: 'updateNetwork' as const,
                id: networkId,
                set: { settings: { ring: true } },
              },
            },
          ]
        : []),
      { label: 'Remove the link', command: { type: 'unlinkPorts', ends: [from] } },
    ],
  }),

  planRule<object>({
    code: 'ring.open',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived))
        if (wired.ring && !wired.ring.closed && wired.stations.length > 0)
          yield { at: atNetwork(wired), facts: {} }
    },
    say: (_, at) => `${at.words} is planned as a ring, and no link closes it.`,
    fixes: (_, { id }) => [
      { label: 'Close the ring', command: { type: 'closeRing', networkId: id } },
      {
        label: 'Plan it as a line',
        command: { type: 'updateNetwork', id, set: { settings: { ring: false } } },
      },
    ],
  }),

  planRule<{ word: string }>({
    code: 'ring.manager',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived)) {
        const rule = kindOf(wired.network).wiring?.ring
        if (wired.ring?.closed && !wired.ring.manager && rule)
          yield { at: atNetwork(wired), facts: { word: rule.managerWord } }
      }
    },
    say: ({ word }, at) =>
      `The ring of ${at.words} has no ${word}: the chosen node does not stand on it.`,
    fixes: (_, { id }) => [
      {
        label: 'Let the controller watch over it',
        command: { type: 'updateNetwork', id, set: { settings: { ringManager: '' } } },
      },
    ],
  }),

  planRule<{ nodes: number; most: number; source: string }>({
    code: 'ring.nodes',
    severity: 'warning',
    find: function* ({ derived }) {
      for (const wired of wiredNetworks(derived)) {
        const rule = kindOf(wired.network).wiring?.ring
        const nodes = wired.ring?.nodes.length ?? 0
        if (rule && nodes > rule.maxNodes)
          yield {
            at: atNetwork(wired),
            facts: { nodes, most: rule.maxNodes, source: rule.source },
          }
      }
    },
    say: ({ nodes, most, source }, at) =>
      `The ring of ${at.words} has ${nodes} nodes; at most ${most} close it in time (${source}).`,
  }),

  planRule<{ network: string }>({
    code: 'ring.role',
    severity: 'blocker',
    find: function* ({ derived }) {
      for (const { ring, network } of wiredNetworks(derived))
        for (const { view } of ring?.nodes ?? []) {
          if (!view?.device) continue
          if (protocolOf(view.device).closesRings?.(view.device) === false)
            yield { at: atStation(view), facts: { network: network.name } }
        }
    },
    say: ({ network }, at) =>
      `${at.words} stands on the ring of ${network}, and takes no part in rings by its description.`,
  }),

  planRule<{ watchdogUs: number; ringUs: number; network: string; networkId: string }>({
    code: 'ring.watchdog',
    severity: 'warning',
    find: function* ({ derived }) {
      for (const { ring, network, stations } of wiredNetworks(derived))
        for (const { view, ridesThrough, watchdogUs } of stations)
          if (ring && ridesThrough === false)
            yield {
              at: atStation(view),
              facts: {
                watchdogUs: watchdogUs!,
                ringUs: ring.reconfigurationUs,
                network: network.name,
                networkId: network.id,
              },
            }
    },
    say: ({ watchdogUs, ringUs, network }, at) =>
      `The watchdog of ${at.words} is ${watchdogUs / 1000} ms; the ring of ${network} may take ${ringUs / 1000} ms to change over, and the station drops out.`,
    fixes: ({ ringUs, networkId }, { id }, _, now) => {
      const view = now.stations.get(id)
      const network = now.plan.networks[networkId]
      if (!view || !network) return []
      const fixes = kindOf(network).times?.ridingThrough?.(network.settings as never, view, ringUs)
      return fixesOf(fixes, networkId, id)
    },
  }),

  planRule<{ hops: number; most: number; updateUs: number; others: number }>({
    code: 'link.depth',
    severity: 'warning',
    find: function* (scope) {
      for (const wired of wiredNetworks(scope.derived)) yield* deepestOf(wired, scope)
    },
    say: ({ hops, most, updateUs, others }, at) =>
      `The way of ${at.words}${others > 0 ? ` and ${numbered(others, 'other')}` : ''} is up to ${hops} switches long; at ${updateUs / 1000} ms update time ${most} are advised.`,
  }),

  timesRule('wire.times', 'blocker'),
  timesRule('wire.timesOdd', 'warning'),
  loadRule('link.load', 0.2, 0.5, 'note'),
  loadRule('link.loadHigh', 0.5, Infinity, 'warning'),
]

/** Pairs of connectors that a copper channel takes (ISO/IEC 11801, from memory). */
const mostConnectors = 4
