import type { RowChange } from '../plan/draft'
import type { AddressMap, ModuleRow, SignalRow } from '../plan/model'

/** What a change does to what stood there: for the preview of a replacement. */
export interface Effect {
  readonly kept: number
  readonly added: readonly ModuleRow[]
  readonly removed: readonly ModuleRow[]
  /** Signals that lose their channel; tag and comment stay. */
  readonly unplaced: readonly SignalRow[]
  readonly readdressed: readonly {
    readonly id: string
    readonly slot: number
    readonly before: AddressMap
    readonly after: AddressMap
  }[]
}

/** Sorts the rows of a change into what stays, comes, goes and loses its place. `modules` is how
 *  many stood there before. */
export function effectOf(changes: readonly RowChange[], modules: number): Effect {
  const rows = changes.filter((change) => change.table === 'modules')
  const removed = rows.flatMap(({ before, after }) =>
    before && !after ? [before as ModuleRow] : [],
  )
  return {
    kept: modules - removed.length,
    added: rows.flatMap(({ before, after }) => (after && !before ? [after as ModuleRow] : [])),
    removed,
    unplaced: changes.flatMap(({ table, before, after }) =>
      table === 'signals' &&
      (before as SignalRow | null)?.place &&
      !(after as SignalRow | null)?.place
        ? [before as SignalRow]
        : [],
    ),
    readdressed: rows.flatMap(({ id, before, after }) => {
      const [old, next] = [before as ModuleRow | null, after as ModuleRow | null]
      return old && next && JSON.stringify(old.addresses) !== JSON.stringify(next.addresses)
        ? [{ id, slot: next.slot, before: old.addresses, after: next.addresses }]
        : []
    }),
  }
}
