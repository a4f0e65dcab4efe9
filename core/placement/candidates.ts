import type { Module } from '../catalog/model'
import type { Derived, DerivedStation } from '../derive/derive'
import { slotOf } from './slots'

export interface Candidate {
  readonly module: Module
  /** How often the plan already uses it. */
  readonly uses: number
}

/** What a slot takes by the description file, most used in this plan first, then in the file's order. */
export function candidatesFor(derived: Derived, view: DerivedStation, slot: number): Candidate[] {
  const allowed = new Set((view.device && slotOf(view.device, slot)?.allowed) ?? [])
  const uses = new Map<string, number>()
  for (const { station, group } of derived.stations.values()) {
    if (station.file !== view.station.file) continue
    for (const id in group.modules) uses.set(group.modules[id]!.module, (uses.get(group.modules[id]!.module) ?? 0) + 1)
  }
  return (view.file?.modules ?? [])
    .filter(({ key }) => allowed.has(key))
    .map((module) => ({ module, uses: uses.get(module.key) ?? 0 }))
    .sort((a, b) => b.uses - a.uses)
}

export interface LaneSlot {
  readonly slot: number
  readonly moduleId: string | null
}

/** The slots a lane shows: all up to the last taken one, and the next free one behind it. */
export function laneSlots(view: DerivedStation): { shown: LaneSlot[]; free: number } {
  const standing = new Map(view.modules.filter(({ row }) => row).map(({ slot, id }) => [slot, id]))
  const last = Math.max(0, ...standing.keys())
  const numbers = (view.device?.slots ?? []).map(({ slot }) => slot).filter((slot) => slot <= last)
  const next = view.device?.slots.find(({ slot }) => slot > last)?.slot
  const shown = [...new Set([...numbers, ...standing.keys(), ...(next === undefined ? [] : [next])])].sort((a, b) => a - b)
  const free = (view.device?.slots ?? []).filter(({ slot, allowed }) => !standing.has(slot) && allowed.length > 0).length
  return { shown: shown.map((slot) => ({ slot, moduleId: standing.get(slot) ?? null })), free }
}
