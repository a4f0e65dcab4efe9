import { Draft, type RowChange } from './draft'
import { isSame } from './replay'
export { rowsOfPlan } from './flat'
import type { z } from 'zod'
import {
  projectRow,
  tableNames,
  tables,
  type Id,
  type Plan,
  type PlanRows,
  type ProjectRow,
  type RowOf,
  type TableName,
} from './model'

/** Owners before what they own, so that a group exists when its rows arrive. */
const ownersFirst = ['project', ...tableNames]

/** The plan after the changes. Removals run from the owned to the owners, additions the other
 *  way. */
export function applyChanges(plan: Plan, changes: readonly RowChange[]): Plan {
  const draft = new Draft(plan)
  draft.expectSignals(changes.length)
  const ordered = [...changes].sort(
    (a, b) => ownersFirst.indexOf(a.table) - ownersFirst.indexOf(b.table),
  )
  for (const change of ordered) {
    if (change.table === 'project') draft.setProject(change.after)
    else if (change.after) draft.put(change.table, change.after)
  }
  for (const change of ordered.reverse()) {
    if (change.table !== 'project' && !change.after) draft.remove(change.table, change.id)
  }
  return draft.plan
}

/** Changes as they were written down once, with what rows have had since then filled in. */
export function completed(changes: readonly RowChange[]): RowChange[] {
  return changes.map((change) => {
    const row = change.table === 'project' ? projectRow : (tables[change.table] as z.ZodType)
    const fill = (value: unknown) => (value === null ? null : row.parse(value))
    return { ...change, before: fill(change.before), after: fill(change.after) } as RowChange
  })
}

export function invert(changes: readonly RowChange[]): RowChange[] {
  return changes
    .map((change) => ({ ...change, before: change.after, after: change.before }) as RowChange)
    .reverse()
}

/** Many changes, one after the other, as one: each row as it was first and as it is last; what came
 *  back to itself drops out. */
export function netChanges(steps: readonly (readonly RowChange[])[]): RowChange[] {
  const net = new Map<string, RowChange>()
  for (const change of steps.flat()) {
    const key = `${change.table}/${change.id}`
    const earlier = net.get(key)
    net.set(key, (earlier ? { ...change, before: earlier.before } : change) as RowChange)
  }
  return [...net.values()].filter(({ before, after }) => !isSame(before, after))
}

export function emptyPlan(project: ProjectRow): Plan {
  return { project, controllers: {}, networks: {}, stations: {}, unplaced: {} }
}

/** The in-memory plan of flat tables that make a valid plan, see `faultsOfRows`; callers check that
 *  first. */
export function planFromRows(project: ProjectRow, rows: PlanRows): Plan {
  const groups = rows.stations.map((station) => ({
    station,
    modules: {} as Record<Id, RowOf['modules']>,
    signals: {} as Record<Id, RowOf['signals']>,
  }))
  // By what a signal can stand on: heads and modules.
  const groupOf = new Map(groups.map((group) => [group.station.id, group]))
  for (const module of rows.modules) {
    const group = groupOf.get(module.stationId)!
    group.modules[module.id] = module
    groupOf.set(module.id, group)
  }
  const unplaced: Record<Id, RowOf['signals']> = {}
  for (const signal of rows.signals) {
    const group = signal.place && groupOf.get(signal.place.moduleId)
    ;(group ? group.signals : unplaced)[signal.id] = signal
  }
  return {
    project,
    controllers: byId(rows.controllers),
    networks: byId(rows.networks),
    stations: Object.fromEntries(groups.map((group) => [group.station.id, group])),
    unplaced,
  }
}

function byId<T extends { id: string }>(rows: readonly T[]): Record<string, T> {
  return Object.fromEntries(rows.map((row) => [row.id, row]))
}

export type { RowChange, TableName }
