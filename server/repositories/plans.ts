import { and, desc, eq, getTableColumns, inArray, isNull, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import {
  tableNames,
  type PlanRows,
  type ProjectRow,
  type RowChange,
  type RowOf,
  type TableName,
} from '@kataxis/core'
import type { Connection } from '../db/connect'
import { planTables, projects } from '../db/schema'

const rowsAtOnce = 2000

export interface ProjectHead {
  readonly project: ProjectRow
  readonly revision: number
  /** Of the database, see `instance`. */
  readonly epoch: string
}

/** The projects that were begun last, the latest last. */
export async function latestProjects(db: Connection, most: number): Promise<string[]> {
  const found = await db
    .select({ id: projects.id })
    .from(projects)
    .where(isNull(projects.deletedAt))
    .orderBy(desc(projects.createdAt))
    .limit(most)
  return found.map(({ id }) => id).reverse()
}

const epoch = sql<string>`(select "epoch" || ':' || (select "oid" from "pg_database" where "datname" = current_database()) from "instance")`

/** Where some projects stand. */
export async function revisionsOf(
  db: Connection,
  ids: readonly string[],
): Promise<{ id: string; revision: number; epoch: string }[]> {
  return ids.length === 0
    ? []
    : db
        .select({ id: projects.id, revision: projects.revision, epoch })
        .from(projects)
        .where(inArray(projects.id, [...ids]))
}

const {
  revision: _revision,
  createdAt: _createdAt,
  archivedAt: _archivedAt,
  deletedAt: _deletedAt,
  isOpen: _isOpen,
  isWired: _isWired,
  cameWithAt: _cameWithAt,
  ...ofPlan
} = getTableColumns(projects)

export async function findProject(db: Connection, id: string): Promise<ProjectHead | null> {
  const [row] = await db
    .select({ ...ofPlan, revision: projects.revision, epoch })
    .from(projects)
    .where(eq(projects.id, id))
  if (!row) return null
  const { revision, epoch: of, ...project } = row
  return { project, revision, epoch: of }
}

export async function insertProject(
  db: Connection,
  project: ProjectRow,
  revision: number,
  cameWithAt: Date | null = null,
): Promise<boolean> {
  const inserted = await db
    .insert(projects)
    .values({ ...project, revision, cameWithAt })
    .onConflictDoNothing()
    .returning({ id: projects.id })
  return inserted.length > 0
}

/** All rows of a project as they stand, valid or not. */
export async function loadRows(db: Connection, projectId: string): Promise<PlanRows> {
  const rows = {} as Record<TableName, unknown[]>
  for (const table of tableNames) {
    const found = await db
      .select()
      .from(planTables[table] as PgTable)
      .where(eq(planTables[table].projectId, projectId))
    rows[table] = found.map(
      ({ projectId: _projectId, standsAside: _standsAside, ...row }: Record<string, unknown>) =>
        row,
    )
  }
  return rows as unknown as PlanRows
}

/** Projects of a program that knew no links yet. */
export async function unwiredProjects(db: Connection): Promise<string[]> {
  const found = await db
    .select({ id: projects.id })
    .from(projects)
    .where(eq(projects.isWired, false))
  return found.map(({ id }) => id)
}

export async function setWired(db: Connection, id: string): Promise<void> {
  await db.update(projects).set({ isWired: true }).where(eq(projects.id, id))
}

/** Projects with rows whose owner is not there, or that contend for a slot or channel. */
export async function damagedProjects(db: Connection): Promise<string[]> {
  const { rows } = await db.execute<{ id: string }>(sql`
    select distinct "project_id" as "id" from (
      select "project_id" from "networks" n where not exists (select from "controllers" c where c."project_id" = n."project_id" and c."id" = n."controller_id")
      union all select "project_id" from "stations" s where not exists (select from "networks" n where n."project_id" = s."project_id" and n."id" = s."network_id")
      union all select "project_id" from "modules" m where "stands_aside" or not exists (select from "stations" s where s."project_id" = m."project_id" and s."id" = m."station_id")
      union all select "project_id" from "signals" g where "stands_aside" or ("place_module" is not null
        and not exists (select from "modules" m where m."project_id" = g."project_id" and m."id" = g."place_module")
        and not exists (select from "stations" s where s."project_id" = g."project_id" and s."id" = g."place_module"))
    ) as "damage"`)
  return rows.map(({ id }) => id)
}

/** Statements that write the rows of a change, of one table each: puts and removals. */
export function* rowStatements(db: Connection, projectId: string, changes: readonly RowChange[]) {
  for (const name of tableNames) {
    const table = planTables[name]
    const own = changes.filter((change) => change.table === name)
    yield* putStatements(
      db,
      projectId,
      name,
      own.flatMap(({ after }) => (after ? [after as RowOf[TableName]] : [])),
    )
    const removed = own.filter(({ after }) => !after).map(({ id }) => id)
    if (removed.length > 0)
      yield db
        .delete(table)
        .where(and(eq(table.projectId, projectId), inArray(table.id, removed)))
        .returning({ id: table.id })
  }
}

export async function putRows(
  db: Connection,
  projectId: string,
  name: TableName,
  rows: readonly RowOf[TableName][],
): Promise<void> {
  for (const statement of putStatements(db, projectId, name, rows)) await statement
}

function* putStatements(
  db: Connection,
  projectId: string,
  name: TableName,
  rows: readonly RowOf[TableName][],
) {
  const table = planTables[name]
  const columns = Object.entries(table).filter(
    ([key]) => key !== 'projectId' && key !== 'id' && rows[0] && key in rows[0],
  ) as [string, { name: string }][]
  for (let start = 0; start < rows.length; start += rowsAtOnce) {
    const values = rows.slice(start, start + rowsAtOnce).map((row) => ({ ...row, projectId }))
    yield db
      .insert(table)
      .values(values as never)
      .onConflictDoUpdate({
        target: [table.projectId, table.id],
        set: {
          ...Object.fromEntries(
            columns.map(([key, column]) => [key, sql.raw(`excluded."${column.name}"`)]),
          ),
          ...('standsAside' in table && { standsAside: false }),
        } as object,
      })
      .returning({ id: table.id })
  }
}
