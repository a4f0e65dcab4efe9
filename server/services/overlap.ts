import type { RowChange } from '@kataxis/core'
import type { ChangeEntry } from '../repositories/changes'

const words: Record<RowChange['table'], string> = {
  project: 'the project',
  controllers: 'the controller',
  networks: 'the network',
  stations: 'the station',
  modules: 'the module',
  signals: 'the signal',
}

/** The first value that somebody else changed since and that this change touches too; null where they keep apart.
 *  Two people may change different fields of one row. */
export function overlap(others: readonly ChangeEntry[], changes: readonly RowChange[]): { what: string; by: string } | null {
  if (others.length === 0) return null
  const mine = new Map(changes.flatMap((change) => fieldsOf(change).map((field) => [field, change] as const)))
  for (const { author, changes: theirs } of others) {
    for (const change of theirs) {
      const clash = fieldsOf(change).find((field) => mine.has(field))
      if (clash) return { by: author, what: `${words[change.table]} ${nameOf(change)}`.trim() }
    }
  }
  return null
}

/** `table/id/field` of every field a change touches; a row that appears or goes touches itself as a whole. */
function fieldsOf({ table, id, before, after }: RowChange): string[] {
  const whole = `${table}/${id}/`
  if (!before || !after) return [whole]
  const fields = Object.keys(after).filter((key) => JSON.stringify((before as never)[key]) !== JSON.stringify((after as never)[key]))
  return fields.map((field) => whole + field)
}

function nameOf({ before, after }: RowChange): string {
  const row = (after ?? before) as { name?: string; tag?: string }
  return row.name ?? row.tag ?? ''
}
