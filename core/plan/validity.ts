import type { RowChange } from './draft'
import { placeText } from '../vocabulary/data-place'
import { stationIdOf } from './draft'
import type { Id, Plan, PlanRows, RowOf, SignalPlace, TableName } from './model'

/** What makes rows no plan: an id or a place given twice, or an owner that is not there. `name` is
 *  what people call the row, `other` the row that was there first. */
export type PlanFault =
  | { code: 'id.twice'; table: TableName; id: Id; name: string }
  | { code: 'owner.missing'; table: TableName; id: Id; name: string; owner: Id }
  | { code: 'slot.twice'; table: 'modules'; id: Id; name: string; other: Id; slot: number }
  | { code: 'channel.twice'; table: 'signals'; id: Id; name: string; other: Id }

interface Ownership<T extends TableName> {
  readonly owners: readonly TableName[]
  readonly ownerOf: (row: RowOf[T]) => Id | null
}

/** Who has to be there for a row to be; null: nobody. */
export const ownership: { readonly [T in TableName]: Ownership<T> | null } = {
  controllers: null,
  networks: { owners: ['controllers'], ownerOf: ({ controllerId }) => controllerId },
  stations: { owners: ['networks'], ownerOf: ({ networkId }) => networkId },
  modules: { owners: ['stations'], ownerOf: ({ stationId }) => stationId },
  signals: { owners: ['modules', 'stations'], ownerOf: ({ place }) => place?.moduleId ?? null },
}
const order = Object.keys(ownership) as TableName[]

/** The one place that says what a valid plan is: every id once, every owner there, one module a
 *  slot, one signal a channel. Heads and modules share their ids, since a signal's place may name
 *  either. */
export function faultsOfRows(rows: PlanRows): PlanFault[] {
  const faults: PlanFault[] = []
  const ids = Object.fromEntries(order.map((table) => [table, new Set<Id>()])) as Record<
    TableName,
    Set<Id>
  >
  for (const table of order) {
    for (const row of rows[table]) {
      const isTaken = ids[table].has(row.id) || (table === 'modules' && ids.stations.has(row.id))
      if (isTaken) faults.push({ code: 'id.twice', table, id: row.id, name: nameOfRow(row) })
      ids[table].add(row.id)
    }
  }
  for (const table of order) {
    const rule = ownership[table]
    if (!rule) continue
    for (const row of rows[table]) {
      const owner = rule.ownerOf(row as never)
      if (owner === null || rule.owners.some((one) => ids[one].has(owner))) continue
      faults.push({ code: 'owner.missing', table, id: row.id, name: nameOfRow(row), owner })
    }
  }
  const slots = new Map<string, Id>()
  for (const row of rows.modules) {
    const other = takes(slots, `${row.stationId}/${row.slot}`, row.id)
    if (other !== null)
      faults.push({
        code: 'slot.twice',
        table: 'modules',
        id: row.id,
        name: nameOfRow(row),
        other,
        slot: row.slot,
      })
  }
  const channels = new Map<string, Id>()
  for (const row of rows.signals) {
    const other = row.place && takes(channels, channelOf(row.place), row.id)
    if (other !== null)
      faults.push({
        code: 'channel.twice',
        table: 'signals',
        id: row.id,
        name: nameOfRow(row),
        other,
      })
  }
  return faults
}

/** What would be wrong with a plan after changes: `faultsOfRows` over the rows beside those
 *  changed, so that an edit of one module looks at one station. Changes of what no rule asks for
 *  cost nothing. */
export function faultsOfChange(plan: Plan, changes: readonly RowChange[]): PlanFault[] {
  const structural = changes.filter(isStructural)
  if (structural.length === 0) return []
  return faultsOfRows(rowsAfter(neighbourhood(plan, structural), structural))
}

/** Rows with changes written over them. */
export function rowsAfter(rows: PlanRows, changes: readonly RowChange[]): PlanRows {
  const after = Object.fromEntries(
    order.map((table) => [
      table,
      new Map((rows[table] as readonly { id: Id }[]).map((row) => [row.id, row])),
    ]),
  ) as unknown as Record<TableName, Map<Id, unknown>>
  for (const change of changes) {
    if (change.table === 'project') continue
    if (change.after) after[change.table].set(change.id, change.after)
    else after[change.table].delete(change.id)
  }
  return Object.fromEntries(
    order.map((table) => [table, [...after[table].values()]]),
  ) as unknown as PlanRows
}

/** A fault as a sentence. */
export function wordFault(fault: PlanFault): string {
  return (wording[fault.code] as (fault: PlanFault) => string)(fault)
}

const what: Record<TableName, string> = {
  controllers: 'Controller',
  networks: 'Network',
  stations: 'Station',
  modules: 'Module',
  signals: 'Signal',
}
const ownerWords: Record<TableName, string> = {
  controllers: '',
  networks: 'belongs to a controller',
  stations: 'hangs on a network',
  modules: 'stands in a station',
  signals: 'sits on a module',
}

const wording: { [C in PlanFault['code']]: (fault: Extract<PlanFault, { code: C }>) => string } = {
  'id.twice': ({ table, id, name }) =>
    `${what[table]} ${name} has the id ${id}, which another row has too.`,
  'owner.missing': ({ table, name }) =>
    `${what[table]} ${name} ${ownerWords[table]} that is not in the plan.`,
  'slot.twice': ({ slot, name }) => `Slot ${slot} is taken twice, also by module ${name}.`,
  'channel.twice': ({ name }) =>
    `Signal ${name} sits on a channel that carries another signal already.`,
}

/** What people call a row. */
export function nameOfRow(row: RowOf[TableName]): string {
  const { name, tag, module, slot } = row as {
    name?: string
    tag?: string
    module?: string
    slot?: number
  }
  if (module !== undefined) return `${module} (slot ${slot})`
  return (name ?? tag) || row.id
}

export function channelOf(place: SignalPlace): string {
  return `${place.moduleId}/${placeText(place)}`
}

function takes(places: Map<string, Id>, place: string, id: Id): Id | null {
  const other = places.get(place) ?? null
  if (other === null) places.set(place, id)
  return other
}

/** Whether a row comes, goes, or changes its owner, slot or channel. */
function isStructural(change: RowChange): boolean {
  if (change.table === 'project') return false
  if (!change.before || !change.after) return true
  const rule = ownership[change.table]
  if (rule && rule.ownerOf(change.before as never) !== rule.ownerOf(change.after as never))
    return true
  if (change.table === 'modules') return change.before.slot !== change.after.slot
  if (change.table !== 'signals' || !change.before.place || !change.after.place) return false
  return channelOf(change.before.place) !== channelOf(change.after.place)
}

/** All rows that the rules could compare with the changed ones: heads of the plan, and the content
 *  of the stations they are about. */
function neighbourhood(plan: Plan, changes: readonly RowChange[]): PlanRows {
  const moduleHomes = new Map<Id, Id>()
  const touched = new Set<Id>()
  for (const change of changes) {
    if (change.table === 'stations') touched.add(change.id)
    if (change.table !== 'modules') continue
    for (const row of [change.before, change.after]) {
      if (!row) continue
      touched.add(row.stationId)
      moduleHomes.set(row.id, row.stationId)
    }
  }
  const homeOf = homesOf(plan, changes.length)
  for (const change of changes) {
    if (change.table !== 'signals') continue
    for (const place of [change.before?.place, change.after?.place]) {
      if (!place) continue
      const home = moduleHomes.get(place.moduleId) ?? homeOf(place.moduleId)
      if (home !== null) touched.add(home)
    }
  }
  const groups = [...touched].flatMap((id) => plan.stations[id] ?? [])
  return {
    controllers: Object.values(plan.controllers),
    networks: Object.values(plan.networks),
    stations: Object.values(plan.stations).map(({ station }) => station),
    modules: groups.flatMap(({ modules }) => Object.values(modules)),
    signals: groups.flatMap(({ signals }) => Object.values(signals)),
  }
}

/** The station of a module; looked up once for all where many will be asked for. */
function homesOf(plan: Plan, count: number): (moduleId: Id) => Id | null {
  if (count < 20) return (moduleId) => stationIdOf(plan, moduleId)
  const homes = new Map<Id, Id>()
  for (const [id, { modules }] of Object.entries(plan.stations)) {
    homes.set(id, id)
    for (const moduleId in modules) homes.set(moduleId, id)
  }
  return (moduleId) => homes.get(moduleId) ?? null
}
