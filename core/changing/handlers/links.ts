import type { Catalog } from '../../catalog/catalog'
import type { Draft } from '../../plan/draft'
import type { Id, LinkEnd, NetworkRow, Ports, StationRow } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import { kindOf, networkSettingsFor } from '../../protocols/registry'
import { Cabling, type LinkWords } from '../cabling'
import type { Handler } from '../handler'

type Commands =
  | 'linkPorts'
  | 'updateLinks'
  | 'unlinkPorts'
  | 'lineUp'
  | 'starOn'
  | 'closeRing'
  | 'openRing'
  | 'insertBetween'
  | 'setPorts'

export const linkHandlers: { [T in Commands]: Handler<T> } = {
  linkPorts: (draft, catalog, { links }) => {
    const cabling = new Cabling(draft, catalog)
    return firstRefusal(links, ({ from, to, set }) => cabling.join(from, to, told(set)))
  },

  updateLinks: (draft, catalog, { edits }) => {
    const cabling = new Cabling(draft, catalog)
    return firstRefusal(edits, ({ at, set }) => cabling.say(at, told(set)))
  },

  unlinkPorts: (draft, catalog, { ends }) => {
    const cabling = new Cabling(draft, catalog)
    return firstRefusal(ends, (end) =>
      cabling.part(end)
        ? null
        : { code: 'link.none', node: cabling.nameOf(end.node), port: end.port },
    )
  },

  lineUp: (draft, catalog, { networkId, stationIds }) => {
    const network = draft.get('networks', networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: networkId }
    const cabling = new Cabling(draft, catalog)
    const ids = stationIds ?? stationsInOrder(draft, networkId).map(({ id }) => id)
    const refusal = firstRefusal(ids, (id) => strange(draft, cabling, network, id))
    return refusal ?? lineUp(cabling, networkId, ids)
  },

  starOn: (draft, catalog, { node, stationIds }) => {
    const cabling = new Cabling(draft, catalog)
    const others = stationIds.filter((id) => id !== node)
    const missing = others.find((id) => !draft.get('stations', id))
    if (missing !== undefined) return { code: 'row.missing', what: 'station', id: missing }
    const known = others.map((id) => cabling.saidOf(id))
    // What hung behind them stays linked.
    for (const id of others) cabling.bridgeOver(id)
    return firstRefusal(others, (id, i) => joinFree(cabling, id, node, known[i]!))
  },

  closeRing: (draft, catalog, { networkId }) => {
    const network = draft.get('networks', networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: networkId }
    if (!kindOf(network).wiring?.ring)
      return { code: 'ring.none', network: network.name, kind: network.settings.kind }
    const cabling = new Cabling(draft, catalog)
    const ends = endsOfLine(draft, cabling, network)
    if (!ends) return { code: 'ring.noEnd', network: network.name }
    const refusal = cabling.join(...ends)
    return refusal ?? planRing(draft, network, true)
  },

  openRing: (draft, catalog, { networkId }) => {
    const network = draft.get('networks', networkId)
    if (!network) return { code: 'row.missing', what: 'network', id: networkId }
    const cabling = new Cabling(draft, catalog)
    // Of the links at the controller's interface the one on the highest port that closes a circle.
    const ports = [...cabling.of(networkId).keys()].sort((a, b) => b - a)
    const closing = ports.find((port) => closesCircle(cabling, { node: networkId, port }))
    if (closing !== undefined) cabling.part({ node: networkId, port: closing })
    return planRing(draft, network, false)
  },

  insertBetween: (draft, catalog, { stationId, at }) => {
    const cabling = new Cabling(draft, catalog)
    if (!draft.get('stations', stationId))
      return { code: 'row.missing', what: 'station', id: stationId }
    const wire = cabling.at(at)
    if (!wire) return { code: 'link.none', node: cabling.nameOf(at.node), port: at.port }
    const { owner, link } = wire
    const { to } = link
    if (owner.node === stationId || to.node === stationId)
      return { code: 'link.self', node: cabling.nameOf(stationId) }
    cabling.bridgeOver(stationId)
    const { medium, cable } = link
    cabling.part(owner)
    return (
      joinFree(cabling, stationId, to.node, { medium, cable }, to.port) ??
      joinFree(cabling, stationId, owner.node, { medium, cable }, owner.port)
    )
  },

  setPorts: (draft, _, { edits }) => firstRefusal(edits, ({ at, set }) => setPort(draft, at, set)),
}

/** Does one after the other until one is refused. */
function firstRefusal<T>(
  all: readonly T[],
  work: (one: T, i: number) => Refusal | null,
): Refusal | null {
  for (const [i, one] of all.entries()) {
    const refusal = work(one, i)
    if (refusal) return refusal
  }
  return null
}

const told = (set: LinkWords | undefined): LinkWords =>
  Object.fromEntries(Object.entries(set ?? {}).filter(([, value]) => value !== undefined))

function strange(draft: Draft, cabling: Cabling, network: NetworkRow, id: Id): Refusal | null {
  const row = draft.get('stations', id)
  if (!row) return { code: 'row.missing', what: 'station', id }
  return row.networkId === network.id
    ? null
    : { code: 'link.other', node: cabling.nameOf(id), network: network.name }
}

function stationsInOrder(draft: Draft, networkId: Id): StationRow[] {
  return Object.values(draft.plan.stations)
    .map(({ station }) => station)
    .filter((station) => station.networkId === networkId)
    .sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1))
}

/** One line from the controller on; what was said of the cable by which a station hung is kept.
 *  Stations leave the switches and repeaters that they hung on. Where the one before has no port that
 *  fits, as behind terminals on a backplane, the line goes on from the last one that has. */
function lineUp(cabling: Cabling, networkId: Id, ids: readonly Id[]): Refusal | null {
  const among = new Set([networkId, ...ids, ...cabling.passives()])
  for (const [port, { peer }] of cabling.of(networkId))
    if (!ids.includes(peer.node) && among.has(peer.node)) cabling.part({ node: networkId, port })
  const known = ids.map((id) => partFromAll(cabling, id, among))
  return firstRefusal(ids, (id, i) => {
    const earlier = [networkId, ...ids.slice(0, i)].reverse()
    const before = earlier.find((node) => cabling.freePair(id, node)) ?? earlier[0]!
    return joinFree(cabling, id, before, known[i]!)
  })
}

/** Takes a station's links to certain nodes away; gives what was said of the first one. */
function partFromAll(cabling: Cabling, node: Id, others: ReadonlySet<Id>): LinkWords {
  let words: LinkWords = {}
  const ports = [...cabling.of(node)].sort(([a], [b]) => b - a)
  for (const [port, { peer, owner }] of ports) {
    if (!others.has(peer.node)) continue
    const said = cabling.part({ node, port })
    if (said && owner.node === node) words = said
  }
  return words
}

function joinFree(
  cabling: Cabling,
  node: Id,
  peer: Id,
  words: LinkWords,
  peerPort?: number,
): Refusal | null {
  const pair = cabling.freePair(node, peer)
  if (!pair)
    return {
      code: 'link.full',
      node: cabling.nameOf(cabling.freePort(node) === null ? node : peer),
    }
  return cabling.join({ node, port: pair[0] }, { node: peer, port: peerPort ?? pair[1] }, words)
}

/** The last node of the line that begins at the controller, and a free port there: of its interface,
 *  else of its first node. */
function endsOfLine(
  draft: Draft,
  cabling: Cabling,
  network: NetworkRow,
): [LinkEnd, LinkEnd] | null {
  const [first] = [...cabling.of(network.id).values()]
  const home = cabling.freePort(network.id) === null && first ? first.peer.node : network.id
  for (const { id } of stationsInOrder(draft, network.id).reverse()) {
    const pair = cabling.of(id).size === 1 && id !== home ? cabling.freePair(id, home) : null
    if (pair)
      return [
        { node: id, port: pair[0] },
        { node: home, port: pair[1] },
      ]
  }
  return null
}

/** Whether both ends of a link are joined without it too. */
function closesCircle(cabling: Cabling, end: LinkEnd): boolean {
  const seen = new Set([cabling.at(end)!.peer.node])
  const first = cabling.at(end)!.peer
  // Grows while it is gone through.
  for (const node of seen)
    for (const [port, { peer }] of cabling.of(node))
      if (node !== first.node || port !== first.port) seen.add(peer.node)
  return seen.has(end.node)
}

function planRing(draft: Draft, network: NetworkRow, ring: boolean): null {
  const now = draft.get('networks', network.id)!
  if ('ring' in now.settings)
    draft.put('networks', {
      ...now,
      settings: networkSettingsFor(now.settings.kind, { ...now.settings, ring }),
    })
  return null
}

function setPort(draft: Draft, { node, port }: LinkEnd, set: Ports[string] | null): Refusal | null {
  const network = draft.get('networks', node)
  const station = network ? null : draft.get('stations', node)
  const changed = (ports: Ports): Ports => {
    const { [String(port)]: _old, ...others } = ports
    return set === null ? others : { ...others, [port]: set }
  }
  if (network) draft.put('networks', { ...network, ports: changed(network.ports) })
  else if (station) draft.put('stations', { ...station, ports: changed(station.ports) })
  else return { code: 'row.missing', what: 'station', id: node }
  return null
}

/** Whether the stations of a network hang in one line in the order of its list; a ring is none. */
export function isLineInOrder(draft: Draft, catalog: Catalog, networkId: Id): boolean {
  const cabling = new Cabling(draft, catalog)
  if (cabling.of(networkId).size > 1) return false
  let before = networkId
  return stationsInOrder(draft, networkId).every(({ id }) => {
    const isJoined = [...cabling.of(id).values()].some(({ peer }) => peer.node === before)
    before = id
    return isJoined && cabling.of(id).size <= 2
  })
}

export { lineUp, stationsInOrder }
