import { findDevice, findModule, type Catalog } from '../../catalog/catalog'
import type { Draft } from '../../plan/draft'
import { feed as feedSchema, type Feed, type FeedPoint, type Id } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import type { Handler } from '../handler'

export const feedHandlers: { setFeeds: Handler<'setFeeds'> } = {
  setFeeds: (draft, catalog, { edits }) => {
    for (const { at, set } of edits) {
      const refusal = setFeed(draft, catalog, at, set)
      if (refusal) return refusal
    }
    return null
  },
}

function setFeed(
  draft: Draft,
  catalog: Catalog,
  { node, second }: FeedPoint,
  set: Partial<Feed> | null,
): Refusal | null {
  const station = draft.get('stations', node)
  const module = station ? null : draft.get('modules', node)
  const row = station ?? module
  if (!row) return { code: 'row.missing', what: 'station', id: node }
  const key = station && second ? 'secondFeed' : 'feed'
  const before = (row as { feed: Feed | null; secondFeed?: Feed | null })[key] ?? null
  const made = set === null ? { ok: true as const, feed: null } : withSaid(before, set)
  if (!made.ok) return { code: 'feed.none', node: nameOf(draft, node) }
  const { feed } = made
  if (feed) {
    const refusal =
      whyNoSupply(draft, catalog, feed.from) ??
      (station ? whyCircle(draft, node, feed.from) : whyNoGroup(draft, catalog, node))
    if (refusal) return refusal
    if (
      second &&
      station &&
      findDevice(catalog, station.file, station.device)?.power?.second !== true
    )
      return { code: 'feed.second', node: station.name }
  }
  if (station) draft.put('stations', { ...station, [key]: feed })
  else draft.put('modules', { ...module!, feed })
  return null
}

function withSaid(
  before: Feed | null,
  set: Partial<Feed>,
): { ok: true; feed: Feed } | { ok: false } {
  const said = Object.entries(set).filter(([, value]) => value !== undefined)
  const parsed = feedSchema.safeParse({ ...before, ...Object.fromEntries(said) })
  return parsed.success ? { ok: true, feed: parsed.data } : { ok: false }
}

function whyNoSupply(draft: Draft, catalog: Catalog, id: Id): Refusal | null {
  const row = draft.get('stations', id)
  if (!row) return { code: 'row.missing', what: 'supply', id }
  return findDevice(catalog, row.file, row.device)?.source
    ? null
    : { code: 'feed.noSupply', node: row.name }
}

/** A module feeds a potential group only where its description says so. */
function whyNoGroup(draft: Draft, catalog: Catalog, id: Id): Refusal | null {
  const module = draft.get('modules', id)!
  const station = draft.get('stations', module.stationId)!
  const described = findModule(catalog, station.file, module.module)
  return (described?.placement?.fieldSupplyMa ?? 0) > 0
    ? null
    : { code: 'feed.noGroup', module: described?.name ?? module.module }
}

/** Supplies that would feed each other. */
function whyCircle(draft: Draft, node: Id, from: Id): Refusal | null {
  const seen = new Set<Id>([from])
  // Grows while it is gone through.
  for (const id of seen) {
    if (id === node) return { code: 'feed.circle', node: nameOf(draft, node) }
    const row = draft.get('stations', id)
    for (const feed of [row?.feed, row?.secondFeed]) if (feed) seen.add(feed.from)
  }
  return null
}

const nameOf = (draft: Draft, node: Id) => draft.get('stations', node)?.name ?? node
