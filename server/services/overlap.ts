import { keyedFields, type RowChange } from '@kataxis/core'
import type { ChangeEntry } from '../repositories/changes'

const words: Record<RowChange['table'], string> = {
  project: 'the project',
  controllers: 'the controller',
  networks: 'the network',
  stations: 'the station',
  modules: 'the module',
  signals: 'the signal',
}

/** The first value that somebody else changed since and that this change touches too; null where
 *  they keep apart. Two people may change different fields of one row, and different parameters of
 *  one module. */
export function overlap(
  others: readonly ChangeEntry[],
  changes: readonly RowChange[],
): { what: string; by: string } | null {
  if (others.length === 0) return null
  const mine = new Map(
    changes.flatMap((change) => fieldsOf(change).map((field) => [field, change] as const)),
  )
  for (const { author, changes: theirs } of others) {
    for (const change of theirs) {
      const clash = fieldsOf(change).find((field) => mine.has(field))
      if (clash) return { by: author, what: `${words[change.table]} ${nameOf(change)}`.trim() }
    }
  }
  return null
}

/** `table/id/field` of every field a change touches; a row that appears or goes touches itself as a
 *  whole. */
function fieldsOf({ table, id, before, after }: RowChange): string[] {
  const whole = `${table}/${id}/`
  if (!before || !after) return [whole]
  return Object.keys(after).flatMap((key) =>
    touched(whole + key, (before as never)[key], (after as never)[key], keyedFields.has(key)),
  )
}

function touched(path: string, before: unknown, after: unknown, isKeyed: boolean): string[] {
  if (JSON.stringify(before) === JSON.stringify(after)) return []
  if (!isKeyed || !isParts(before ?? after) || !isParts(after ?? before)) return [path]
  const [old, next] = [before ?? {}, after ?? {}] as [
    Record<string, unknown>,
    Record<string, unknown>,
  ]
  return [...new Set([...Object.keys(old), ...Object.keys(next)])].flatMap((key) =>
    touched(`${path}/${key}`, old[key], next[key], true),
  )
}

function isParts(value: unknown): boolean {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

function nameOf({ before, after }: RowChange): string {
  const row = (after ?? before) as { name?: string; tag?: string }
  return row.name ?? row.tag ?? ''
}
