import type { Catalog } from '../../catalog/catalog'
import type { Handler } from '../apply'
import { stationIdOf, type Draft } from '../draft'
import type { SignalPlace, SignalRow } from '../model'
import type { Refusal } from '../refusals'
import { layoutOfRow, layoutOfStation } from './placing'

export const signalHandlers: { editSignals: Handler<'editSignals'> } = {
  editSignals: (draft, catalog, { edits }) => {
    const taken = new PlaceIndex(draft)
    for (const { id, ...set } of edits) {
      const before = draft.get('signals', id)
      const after: SignalRow = { ...(before ?? { id, place: null, tag: '', comment: '', terminal: '' }), ...withoutUndefined(set) }
      if (after.place && !samePlace(after.place, before?.place ?? null)) {
        const refusal = whyNotThere(draft, catalog, after.place) ?? taken.whyNot(after.place, id)
        if (refusal) return refusal
      }
      const isEmpty = after.tag === '' && after.comment === '' && after.terminal === ''
      taken.move(id, before?.place ?? null, isEmpty ? null : after.place)
      if (isEmpty) draft.remove('signals', id)
      else draft.put('signals', after)
    }
    return null
  },
}

/** Which signal holds which channel, built once per touched module, so that thousands of edits stay quick. */
class PlaceIndex {
  private readonly holders = new Map<string, string>()
  private readonly known = new Set<string>()

  constructor(private readonly draft: Draft) {}

  whyNot(place: SignalPlace, id: string): Refusal | null {
    const stationId = stationIdOf(this.draft.plan, place.moduleId)
    if (stationId && !this.known.has(stationId)) {
      this.known.add(stationId)
      for (const signal of Object.values(this.draft.plan.stations[stationId]!.signals)) this.holders.set(keyOf(signal.place!), signal.id)
    }
    const holder = this.holders.get(keyOf(place))
    if (holder === undefined || holder === id) return null
    return { code: 'channel.taken', tag: this.draft.get('signals', holder)?.tag ?? '', place: wordPlace(place) }
  }

  move(id: string, from: SignalPlace | null, to: SignalPlace | null): void {
    if (from && this.holders.get(keyOf(from)) === id) this.holders.delete(keyOf(from))
    if (to) this.holders.set(keyOf(to), id)
  }
}

function whyNotThere(draft: Draft, catalog: Catalog, place: SignalPlace): Refusal | null {
  const stationId = stationIdOf(draft.plan, place.moduleId)
  if (!stationId) return { code: 'row.missing', what: 'module', id: place.moduleId }
  const { station, modules } = draft.plan.stations[stationId]!
  const row = modules[place.moduleId]
  const layout = row ? layoutOfRow(catalog, station, row) : layoutOfStation(catalog, station)
  if (!layout) return { code: 'file.missing', file: station.file }
  const exists = layout.channels.some(({ subslot, direction, offsetBits }) => subslot === place.subslot && direction === place.direction && offsetBits === place.offsetBits)
  return exists ? null : { code: 'channel.missing', place: wordPlace(place) }
}

function keyOf({ moduleId, subslot, direction, offsetBits }: SignalPlace): string {
  return `${moduleId}/${subslot}/${direction}/${offsetBits}`
}

function samePlace(a: SignalPlace, b: SignalPlace | null): boolean {
  return b !== null && keyOf(a) === keyOf(b)
}

function wordPlace({ subslot, direction, offsetBits }: SignalPlace): string {
  return `Subslot ${subslot}, ${direction === 'in' ? 'input' : 'output'} ${offsetBits >> 3}.${offsetBits & 7}`
}

function withoutUndefined<T extends object>(set: T): { [K in keyof T]: Exclude<T[K], undefined> } {
  return Object.fromEntries(Object.entries(set).filter(([, value]) => value !== undefined)) as never
}
