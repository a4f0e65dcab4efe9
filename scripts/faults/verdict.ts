import pg from 'pg'
import {
  applyChanges,
  emptyPlan,
  faultsOfRows,
  isSame,
  projectRow,
  rowsOfPlan,
  tableNames,
  tables,
  type Plan,
  type PlanRows,
  type RowChange,
} from '@kataxis/core'
import type { Sent } from './editors'

/** What the database holds in the end, against what the senders were told. */
export async function judge(
  databaseUrl: string,
  sent: readonly Sent[],
  projects: readonly string[],
): Promise<{ lost: number; doubled: number; invalidPlans: number }> {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  try {
    const counts = new Map<string, number>()
    const { rows } = await client.query<{ command_id: string }>(
      'select command_id from changes where project_id = any($1)',
      [projects],
    )
    for (const { command_id } of rows) counts.set(command_id, (counts.get(command_id) ?? 0) + 1)
    const lost = sent.filter(({ id, state }) => state === 'acknowledged' && !counts.has(id)).length
    const doubled = sent.filter(
      ({ id, state }) => (counts.get(id) ?? 0) > 1 || (state === 'refused' && counts.has(id)),
    ).length
    let invalidPlans = 0
    for (const project of projects) if (!(await isValid(client, project))) invalidPlans++
    return { lost, doubled, invalidPlans }
  } finally {
    await client.end()
  }
}

/** The rows make a valid plan, and the one that the history leads to. */
async function isValid(client: pg.Client, project: string): Promise<boolean> {
  const stored = {} as Record<string, unknown[]>
  for (const table of tableNames) {
    const { rows } = await client.query<Record<string, unknown>>(
      `select * from ${table} where project_id = $1`,
      [project],
    )
    stored[table] = rows.map((row) =>
      tables[table].parse(
        Object.fromEntries(
          Object.keys(tables[table].shape).map((key) => [
            key,
            row[key.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)],
          ]),
        ),
      ),
    )
  }
  if (faultsOfRows(stored as unknown as PlanRows).length > 0) return false
  const { rows: changes } = await client.query<{ revision: number; changes: RowChange[] }>(
    'select revision, changes from changes where project_id = $1 order by revision',
    [project],
  )
  if (changes.some(({ revision }, i) => revision !== i + 1)) return false
  const plan = changes.reduce<Plan>(
    (at, step) => applyChanges(at, step.changes),
    emptyPlan(projectRow.parse({ id: project, name: 'p', tagLength: 32 })),
  )
  const sorted = (rows: PlanRows) =>
    tableNames.map((table) =>
      [...(rows[table] as readonly { id: string }[])].sort((a, b) => (a.id < b.id ? -1 : 1)),
    )
  return isSame(sorted(rowsOfPlan(plan)), sorted(stored as unknown as PlanRows))
}
