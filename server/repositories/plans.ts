import { and, eq, inArray, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import { planFromRows, tableNames, type Plan, type PlanRows, type ProjectRow, type RowChange, type RowOf, type TableName } from '@kataxis/core'
import type { Connection } from '../db/connect'
import { planTables, projects } from '../db/schema'

const rowsAtOnce = 2000

export interface ProjectHead {
  readonly project: ProjectRow
  readonly revision: number
}

export async function listProjects(db: Connection) {
  return db.select({ id: projects.id, name: projects.name, revision: projects.revision }).from(projects).orderBy(projects.createdAt)
}

export async function findProject(db: Connection, id: string, lock = false): Promise<ProjectHead | null> {
  const query = db.select().from(projects).where(eq(projects.id, id))
  const [row] = await (lock ? query.for('update') : query)
  if (!row) return null
  const { revision, createdAt: _createdAt, ...project } = row
  return { project, revision }
}

export async function insertProject(db: Connection, project: ProjectRow, revision: number): Promise<boolean> {
  const inserted = await db.insert(projects).values({ ...project, revision }).onConflictDoNothing().returning({ id: projects.id })
  return inserted.length > 0
}

export async function loadPlan(db: Connection, project: ProjectRow): Promise<Plan> {
  const rows = {} as Record<TableName, unknown[]>
  for (const table of tableNames) {
    const found = await db.select().from(planTables[table] as PgTable).where(eq(planTables[table].projectId, project.id))
    rows[table] = found.map(({ projectId: _projectId, ...row }: Record<string, unknown>) => row)
  }
  return planFromRows(project, rows as unknown as PlanRows)
}

/** Statements that write the rows of a change, of one table each: puts and removals. */
export function* rowStatements(db: Connection, projectId: string, changes: readonly RowChange[]) {
  for (const name of tableNames) {
    const table = planTables[name]
    const own = changes.filter((change) => change.table === name)
    yield* putStatements(db, projectId, name, own.flatMap(({ after }) => (after ? [after as RowOf[TableName]] : [])))
    const removed = own.filter(({ after }) => !after).map(({ id }) => id)
    if (removed.length > 0) yield db.delete(table).where(and(eq(table.projectId, projectId), inArray(table.id, removed))).returning({ id: table.id })
  }
}

export async function putRows(db: Connection, projectId: string, name: TableName, rows: readonly RowOf[TableName][]): Promise<void> {
  for (const statement of putStatements(db, projectId, name, rows)) await statement
}

function* putStatements(db: Connection, projectId: string, name: TableName, rows: readonly RowOf[TableName][]) {
  const table = planTables[name]
  const columns = Object.entries(table).filter(([key]) => key !== 'projectId' && key !== 'id' && rows[0] && key in rows[0]) as [string, { name: string }][]
  for (let start = 0; start < rows.length; start += rowsAtOnce) {
    const values = rows.slice(start, start + rowsAtOnce).map((row) => ({ ...row, projectId }))
    yield db.insert(table).values(values as never).onConflictDoUpdate({
      target: [table.projectId, table.id],
      set: Object.fromEntries(columns.map(([key, column]) => [key, sql.raw(`excluded."${column.name}"`)])),
    }).returning({ id: table.id })
  }
}
