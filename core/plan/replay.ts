import { rowOf, type RowChange } from './draft'
import { rowsOfPlan } from './flat'
import { keyedFields, tableNames, type Id, type Plan, type RowOf, type TableName } from './model'
import { nameOfRow } from './validity'

/** What stands in the way of doing recorded changes once more: the row is no longer as they found
 *  it. */
export interface Obstacle {
  readonly table: RowChange['table']
  readonly id: Id
  readonly name: string
  /** `changed`: the same fields are different now; `gone`: it is not there any more; `there`: it is
   *  there already. */
  readonly how: 'changed' | 'gone' | 'there'
}

export interface Replayed {
  /** What can be done: fields that nobody touched since, rows that may come and go. */
  readonly changes: RowChange[]
  readonly obstacles: Obstacle[]
}

/** Recorded changes once more, on the plan as it is now: other fields of the same rows keep what
 *  was done to them since. Where a row was removed by the changes it goes as it is now. */
export function replayChanges(plan: Plan, recorded: readonly RowChange[]): Replayed {
  const changes: RowChange[] = []
  const obstacles: Obstacle[] = []
  const standing = rowsById(plan, recorded.length)
  for (const change of recorded) {
    const now = change.table === 'project' ? plan.project : standing(change.table, change.id)
    const { before, after } = change
    const stop = (how: Obstacle['how']) =>
      obstacles.push({
        table: change.table,
        id: change.id,
        name: nameOfRow((now ?? before ?? after) as never),
        how,
      })
    if (isSame(now, before)) changes.push(change)
    else if (before === null) stop('there')
    else if (now === null) stop('gone')
    else {
      const merged =
        after === null ? null : mergeFields(before as never, after as never, now as never)
      if (merged === null || merged.differs) stop('changed')
      if (merged === null || merged.row !== now)
        changes.push({
          ...change,
          before: now,
          after: merged === null ? null : merged.row,
        } as RowChange)
    }
  }
  return { changes, obstacles }
}

/** Rows by table and id; looked up once for all where many will be asked for. */
function rowsById(
  plan: Plan,
  count: number,
): (table: TableName, id: Id) => RowOf[TableName] | null {
  if (count < 200) return (table, id) => rowOf(plan, table, id)
  const all = rowsOfPlan(plan)
  const known = Object.fromEntries(
    tableNames.map((table) => [
      table,
      new Map((all[table] as readonly { id: Id }[]).map((row) => [row.id, row])),
    ]),
  ) as unknown as Record<TableName, Map<Id, RowOf[TableName]>>
  return (table, id) => known[table].get(id) ?? null
}

type Fields = Readonly<Record<string, unknown>>

/** `now` with the step from `before` to `after` done to all fields that still are as `before` had
 *  them. */
function mergeFields(
  before: Fields,
  after: Fields,
  now: Fields,
  isDeep = false,
): { row: Fields; differs: boolean } {
  let row = now
  let differs = false
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)])) {
    if (isSame(before[key], after[key]) || isSame(now[key], after[key])) continue
    if (isSame(now[key], before[key])) {
      const { [key]: _old, ...others } = row
      row = after[key] === undefined ? others : { ...row, [key]: after[key] }
    } else if (
      (isDeep || keyedFields.has(key)) &&
      [before[key], after[key], now[key]].every(isFields)
    ) {
      const merged = mergeFields(
        before[key] as Fields,
        after[key] as Fields,
        now[key] as Fields,
        true,
      )
      differs ||= merged.differs
      if (merged.row !== now[key]) row = { ...row, [key]: merged.row }
    } else differs = true
  }
  return { row, differs }
}

function isFields(value: unknown): value is Fields {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** The same content, whatever the order of keys; a missing key is an undefined one. */
export function isSame(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  const keys = new Set([...Object.keys(a), ...Object.keys(b)])
  return [...keys].every((key) =>
    isSame((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]),
  )
}
