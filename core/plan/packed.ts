import { z } from 'zod'
import { signalPlace, tables, type SignalRow } from './model'

const { id, tag, comment, terminal, facts } = tables.signals.shape

/** Signals in a row that stand in one direction of one subslot, or in none: without the words that
 *  repeat a hundred thousand times in a large plan. Each is its id, its offset in bits, tag,
 *  comment, terminal, and what else is known of it, if anything is. */
export const packedSignals = z.array(
  z.object({
    at: signalPlace.omit({ offsetBits: true }).nullable(),
    signals: z.array(
      z.union([
        z.tuple([id, z.number(), tag, comment, terminal]),
        z.tuple([id, z.number(), tag, comment, terminal, facts]),
      ]),
    ),
  }),
)
export type PackedSignals = z.infer<typeof packedSignals>

const nothing: SignalRow['facts'] = Object.freeze({})

/** The inverse of `unpackSignals`. */
export function packSignals(rows: readonly SignalRow[]): PackedSignals {
  const groups: PackedSignals = []
  let last: PackedSignals[number] | undefined
  for (const { id, place, tag, comment, terminal, facts } of rows) {
    if (!last || !isBeside(last.at, place)) {
      const { offsetBits: _, ...at } = place ?? { offsetBits: 0 }
      groups.push((last = { at: place && (at as typeof place), signals: [] }))
    }
    const known = [id, place?.offsetBits ?? 0, tag, comment, terminal] as const
    last.signals.push(Object.keys(facts).length > 0 ? [...known, facts] : [...known])
  }
  return groups
}

/** Signals in the order they were packed in. */
export function unpackSignals(groups: PackedSignals): SignalRow[] {
  const rows: SignalRow[] = []
  for (const { at, signals } of groups)
    for (const [id, offsetBits, tag, comment, terminal, facts = nothing] of signals) {
      const place = at && {
        moduleId: at.moduleId,
        subslot: at.subslot,
        direction: at.direction,
        offsetBits,
        ...(at.part && { part: at.part }),
      }
      rows.push({ id, place, tag, comment, terminal, facts })
    }
  return rows
}

function isBeside(at: PackedSignals[number]['at'], place: SignalRow['place']): boolean {
  if (!at || !place) return at === place
  return (
    at.moduleId === place.moduleId &&
    at.subslot === place.subslot &&
    at.direction === place.direction &&
    at.part === place.part
  )
}
