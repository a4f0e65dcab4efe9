import type { RowChange } from './draft'
import {
  tableNames,
  type Id,
  type PlanRows,
  type RowOf,
  type SignalRow,
  type TableName,
} from './model'
import { faultsOfRows, ownership, type PlanFault } from './validity'

/** Which of several ways out of a fault is wanted. Rows are named `table/id`. */
export interface MendWishes {
  /** Rows that were put there on purpose: where two contend, they stay. */
  readonly kept?: ReadonlySet<string>
  /** Rows that are meant to be gone: what belonged to them follows them instead of bringing them
   *  back. */
  readonly gone?: ReadonlySet<string>
  /** Rows as they were before they went, for owners that have to come back. */
  readonly remembered?: ReadonlyMap<string, RowOf[TableName]>
}

export interface Mended {
  readonly rows: PlanRows
  readonly changes: RowChange[]
}

const keyOf = (table: TableName, id: Id) => `${table}/${id}`

/** Makes rows a valid plan with as little loss as can be: owners that are remembered come back;
 *  signals lose their channel and wait; what has no place at all goes. The changes hold everything
 *  that went. */
export function mend(rows: PlanRows, wishes: MendWishes = {}): Mended {
  const work = new Mending(rows, wishes)
  for (let faults = faultsOfRows(rows); faults.length > 0; faults = faultsOfRows(work.rows)) {
    const settled = new Set<string>()
    for (const fault of faults) {
      if (settled.has(keyOf(fault.table, fault.id))) continue
      settled.add(keyOf(fault.table, fault.id))
      work.settle(fault)
    }
  }
  return { rows: work.rows, changes: work.changes }
}

/** Owners, as `table/id`, whose return would mend something; their own owners are asked for when
 *  they are known. */
export function missingOwners(rows: PlanRows, { gone, remembered }: MendWishes): string[] {
  const known = [...(remembered ?? new Map<string, RowOf[TableName]>()).entries()]
  const all = { ...rows } as Record<TableName, RowOf[TableName][]>
  for (const [key, row] of known) {
    const table = key.split('/')[0] as TableName
    if (!all[table].some(({ id }) => id === row.id)) all[table] = [...all[table], row]
  }
  const missing = faultsOfRows(all as unknown as PlanRows).flatMap((fault) => {
    const key =
      fault.code === 'owner.missing' && fault.table !== 'signals'
        ? keyOf(ownership[fault.table]!.owners[0]!, fault.owner)
        : null
    return key === null || gone?.has(key) ? [] : [key]
  })
  return [...new Set(missing)]
}

class Mending {
  private readonly tables: Record<TableName, Map<Id, RowOf[TableName]>>
  private readonly log = new Map<
    string,
    { before: RowOf[TableName] | null; after: RowOf[TableName] | null }
  >()
  private readonly broughtBack = new Set<string>()

  constructor(
    rows: PlanRows,
    private readonly wishes: MendWishes,
  ) {
    this.tables = Object.fromEntries(
      tableNames.map((table) => [table, new Map<Id, RowOf[TableName]>()]),
    ) as never
    // Of rows with one id in one table only the first one can be kept.
    for (const table of tableNames)
      for (const row of rows[table])
        if (!this.tables[table].has(row.id)) this.tables[table].set(row.id, row)
  }

  get rows(): PlanRows {
    return Object.fromEntries(
      tableNames.map((table) => [table, [...this.tables[table].values()]]),
    ) as unknown as PlanRows
  }

  get changes(): RowChange[] {
    const logged = [...this.log].map(
      ([key, { before, after }]) =>
        ({
          table: key.slice(0, key.indexOf('/')),
          id: key.slice(key.indexOf('/') + 1),
          before,
          after,
        }) as RowChange,
    )
    return logged.filter(({ before, after }) => before !== after)
  }

  settle(fault: PlanFault): void {
    const ways: { [C in PlanFault['code']]: (fault: Extract<PlanFault, { code: C }>) => void } = {
      // Within a table the first of two stayed above; a module named like a station goes.
      'id.twice': ({ table, id }) =>
        this.tables.stations.has(id) && table === 'modules' ? this.remove(table, id) : undefined,
      'owner.missing': ({ table, id, owner }) => this.adopt(table, id, owner),
      'slot.twice': ({ id, other }) => this.remove('modules', this.loser('modules', id, other)),
      'channel.twice': ({ id, other }) => this.unplace(this.loser('signals', id, other)),
    }
    ;(ways[fault.code] as (fault: PlanFault) => void)(fault)
  }

  private adopt(table: TableName, id: Id, owner: Id): void {
    if (table === 'signals') return this.unplace(id)
    const ownerTable = ownership[table]!.owners[0]!
    const key = keyOf(ownerTable, owner)
    if (this.tables[ownerTable].has(owner)) return
    const row =
      this.wishes.gone?.has(key) || this.broughtBack.has(key)
        ? undefined
        : this.wishes.remembered?.get(key)
    if (!row) return this.remove(table, id)
    this.broughtBack.add(key)
    this.write(ownerTable, owner, row)
  }

  private loser(table: 'modules' | 'signals', id: Id, other: Id): Id {
    return this.wishes.kept?.has(keyOf(table, id)) && !this.wishes.kept.has(keyOf(table, other))
      ? other
      : id
  }

  private unplace(id: Id): void {
    const row = this.tables.signals.get(id) as SignalRow | undefined
    if (row) this.write('signals', id, { ...row, place: null })
  }

  private remove(table: TableName, id: Id): void {
    this.write(table, id, null)
  }

  private write(table: TableName, id: Id, after: RowOf[TableName] | null): void {
    const key = keyOf(table, id)
    const before = this.log.has(key)
      ? this.log.get(key)!.before
      : (this.tables[table].get(id) ?? null)
    this.log.set(key, { before, after })
    if (after) this.tables[table].set(id, after)
    else this.tables[table].delete(id)
  }
}
