import type { Catalog } from '../../catalog/catalog'
import type { Handler } from '../handler'
import type { Draft } from '../../plan/draft'
import type { CommandOf } from '../../plan/commands'
import type { SignalFacts, SignalPlace, SignalRow } from '../../plan/model'
import { namePartner, signalsWithPartner } from '../../plan/partners'
import type { Refusal } from '../../plan/refusals'
import { tagIdentity } from '../../tags/identifier'
import { placeText } from '../../vocabulary/data-place'
import { channelsByPlace, layoutOfOwner, layoutOfRow, layoutOfStation, withKind } from './placing'

export const signalHandlers: {
  editSignals: Handler<'editSignals'>
  removeSignals: Handler<'removeSignals'>
} = {
  removeSignals: (draft, _, { ids }) => {
    draft.expectSignals(ids.length)
    for (const id of ids) {
      if (!draft.get('signals', id)) return { code: 'row.missing', what: 'signal', id }
      draft.remove('signals', id)
    }
    return null
  },

  editSignals: (draft, catalog, { edits }) => {
    draft.expectSignals(edits.length)
    const taken = new PlaceIndex(draft)
    const renamed = new Map<string, string>()
    for (const { id, facts, ...set } of edits) {
      const before = draft.get('signals', id)
      const row: SignalRow = {
        ...(before ?? { id, place: null, tag: '', comment: '', terminal: '', facts: {} }),
        ...withoutUndefined(set),
      }
      const known = facts ? { ...row, facts: withFacts(row.facts, facts) } : row
      // Who leaves a channel and says nothing of the kind keeps it.
      const isLeaving = before?.place != null && known.place === null && facts?.kind === undefined
      const after = isLeaving
        ? {
            ...known,
            facts: withKind(
              known,
              channelsOf(draft, catalog, before.place!.moduleId).get(placeText(before.place!)),
            ),
          }
        : known
      if (after.place && !samePlace(after.place, before?.place ?? null)) {
        const refusal = whyNotThere(draft, catalog, after.place) ?? taken.whyNot(after.place, id)
        if (refusal) return refusal
      }
      if (before && before.tag !== '' && after.tag !== '' && before.tag !== after.tag)
        renamed.set(tagIdentity(before.tag), after.tag)
      const isEmpty =
        known.tag === '' &&
        known.comment === '' &&
        known.terminal === '' &&
        Object.keys(known.facts).length === 0
      taken.move(id, before?.place ?? null, isEmpty ? null : after.place)
      if (isEmpty) draft.remove('signals', id)
      else draft.put('signals', after)
    }
    if (renamed.size > 0)
      followRenames(
        draft,
        renamed,
        new Set(edits.filter(({ facts }) => facts?.partner !== undefined).map(({ id }) => id)),
      )
    return null
  },
}

/** Who belongs to a signal belongs to it under its new name too, unless the same edit says
 *  otherwise. */
function followRenames(
  draft: Draft,
  renamed: ReadonlyMap<string, string>,
  said: ReadonlySet<string>,
): void {
  draft.visitStations(10)
  const { stations, unplaced } = draft.plan
  const named = namePartner(unplaced)
  for (const id in stations) {
    const { signals } = stations[id]!
    named.push(
      ...(draft.touchedStations.has(id) ? namePartner(signals) : signalsWithPartner(signals)),
    )
  }
  for (const signal of named) {
    const partner = renamed.get(tagIdentity(signal.facts.partner!))
    if (partner !== undefined && !said.has(signal.id))
      draft.put('signals', { ...signal, facts: { ...signal.facts, partner } })
  }
}

type FactsEdit = NonNullable<CommandOf<'editSignals'>['edits'][number]['facts']>

/** Which signal holds which channel, built once per touched module, so that thousands of edits stay
 *  quick. */
class PlaceIndex {
  private readonly holders = new Map<string, string>()
  private readonly known = new Set<string>()

  constructor(private readonly draft: Draft) {}

  whyNot(place: SignalPlace, id: string): Refusal | null {
    const stationId = this.draft.stationOf(place.moduleId)
    if (stationId && !this.known.has(stationId)) {
      this.known.add(stationId)
      for (const signal of Object.values(this.draft.plan.stations[stationId]!.signals))
        this.holders.set(keyOf(signal.place!), signal.id)
    }
    const holder = this.holders.get(keyOf(place))
    if (holder === undefined || holder === id) return null
    return {
      code: 'channel.taken',
      tag: this.draft.get('signals', holder)?.tag ?? '',
      place: wordPlace(place),
    }
  }

  move(id: string, from: SignalPlace | null, to: SignalPlace | null): void {
    if (from && this.holders.get(keyOf(from)) === id) this.holders.delete(keyOf(from))
    if (to) this.holders.set(keyOf(to), id)
  }
}

const channelsOf = (draft: Draft, catalog: Catalog, moduleId: string) =>
  channelsByPlace(layoutOfOwner(draft, catalog, moduleId))

function whyNotThere(draft: Draft, catalog: Catalog, place: SignalPlace): Refusal | null {
  const stationId = draft.stationOf(place.moduleId)
  if (!stationId) return { code: 'row.missing', what: 'module', id: place.moduleId }
  const { station, modules } = draft.plan.stations[stationId]!
  const row = modules[place.moduleId]
  const layout = row ? layoutOfRow(catalog, station, row) : layoutOfStation(catalog, station)
  if (!layout) return { code: 'file.missing', file: station.file }
  const exists = layout.channels.some((channel) => placeText(channel) === placeText(place))
  return exists ? null : { code: 'channel.missing', place: wordPlace(place) }
}

function keyOf(place: SignalPlace): string {
  return `${place.moduleId}/${placeText(place)}`
}

function samePlace(a: SignalPlace, b: SignalPlace | null): boolean {
  return b !== null && keyOf(a) === keyOf(b)
}

function wordPlace({ subslot, direction, offsetBits }: SignalPlace): string {
  return `Subslot ${subslot}, ${direction === 'in' ? 'input' : 'output'} ${offsetBits >> 3}.${offsetBits & 7}`
}

function withFacts(before: SignalFacts, edit: FactsEdit): SignalFacts {
  return Object.fromEntries(
    Object.entries({ ...before, ...withoutUndefined(edit) }).filter(([, value]) => value !== null),
  )
}

function withoutUndefined<T extends object>(set: T): { [K in keyof T]: Exclude<T[K], undefined> } {
  return Object.fromEntries(Object.entries(set).filter(([, value]) => value !== undefined)) as never
}
