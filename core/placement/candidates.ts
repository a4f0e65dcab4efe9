import type { Module } from '../catalog/model'
import type { Derived, DerivedStation } from '../derive/derive'
import type { CommandOf } from '../plan/commands'
import { whyOutOfOrder, type Standing } from './order'
import { slotOf } from './slots'

export interface Candidate {
  readonly module: Module
  /** How often the plan already uses it. */
  readonly uses: number
  /** What would be out of order with it there; null where nothing would. */
  readonly whyNot: string | null
}

/** The modules of a station as a row whose order can be looked at. */
export function standingRow(view: DerivedStation): Standing[] {
  return view.modules.flatMap(({ row, slot, described }) =>
    row && described ? [{ slot, module: described as Module }] : [],
  )
}

/** What a slot takes by the description file: what keeps the order first, then the most used in
 *  this plan, then in the file's order. */
export function candidatesFor(derived: Derived, view: DerivedStation, slot: number): Candidate[] {
  const allowed = new Set((view.device && slotOf(view.device, slot)?.allowed) ?? [])
  const uses = new Map<string, number>()
  for (const { station, group } of derived.stations.values()) {
    if (station.file !== view.station.file) continue
    for (const id in group.modules)
      uses.set(group.modules[id]!.module, (uses.get(group.modules[id]!.module) ?? 0) + 1)
  }
  const row = standingRow(view)
  const hasRules =
    view.device?.placement !== undefined ||
    (view.file?.modules.some(({ placement }) => placement) ?? false)
  return (view.file?.modules ?? [])
    .filter(({ key }) => allowed.has(key))
    .map((module) => ({
      module,
      uses: uses.get(module.key) ?? 0,
      whyNot: hasRules ? whyOutOfOrder(view.device!, row, slot, module) : null,
    }))
    .sort((a, b) => Number(a.whyNot !== null) - Number(b.whyNot !== null) || b.uses - a.uses)
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
  const shown = [
    ...new Set([...numbers, ...standing.keys(), ...(next === undefined ? [] : [next])]),
  ].sort((a, b) => a - b)
  const free = (view.device?.slots ?? []).filter(
    ({ slot, allowed }) => !standing.has(slot) && allowed.length > 0,
  ).length
  return { shown: shown.map((slot) => ({ slot, moduleId: standing.get(slot) ?? null })), free }
}

/** The first empty slot of a station that takes something; null where there is none. */
export function firstFreeSlot(view: DerivedStation): number | null {
  const standing = new Set(view.modules.flatMap(({ row, slot }) => (row ? [slot] : [])))
  return (
    view.device?.slots.find(({ slot, allowed }) => !standing.has(slot) && allowed.length > 0)
      ?.slot ?? null
  )
}

/** Modules that the description proposes for empty slots of a station, to be inserted in one step;
 *  empty where there are none. */
export function proposedModules(view: DerivedStation): readonly CommandOf<'insertModule'>[] {
  const standing = new Set(view.modules.flatMap(({ row, slot }) => (row ? [slot] : [])))
  return (view.device?.slots ?? []).flatMap(({ slot, default: module }) =>
    module !== null && !standing.has(slot)
      ? [
          {
            type: 'insertModule' as const,
            id: `${view.id}.${slot}`,
            stationId: view.id,
            slot,
            module,
            shift: false,
          },
        ]
      : [],
  )
}
