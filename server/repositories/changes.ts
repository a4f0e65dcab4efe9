import { and, asc, desc, eq, gt, inArray, isNull, lte, max, sql, type SQL } from 'drizzle-orm'
import { netChanges, type RowChange, type RowOf, type TableName } from '@kataxis/core'
import type { Connection } from '../db/connect'
import { changes, projects } from '../db/schema'
import { notifying } from '../live/notifications'
import { rowStatements } from './plans'

export type ChangeEntry = typeof changes.$inferSelect

/** Statements, and rows in them, that go as one; larger changes are written one after the other. */
const mostAtOnce = 8
export const mostRowsAtOnce = 500

/** Writes changes that follow each other: their rows, their places in the history and the project's
 *  revision, as one statement where they are small. Whoever calls holds the project. Every server
 *  instance on this database hears of it when the transaction commits. */
export async function recordChanges(
  db: Connection,
  entries: readonly ChangeEntry[],
): Promise<void> {
  const statements = statementsOf(db, entries)
  if (isSmall(statements, entries)) return recordTogether(db, statements, entries)
  for (const statement of statements) await statement
  return recordTogether(db, [], entries)
}

/** The same without a transaction around it: one statement, which first claims the project at the
 *  revision before, and is done whole or not at all. False where somebody else was quicker, one of
 *  the commands was carried out already, or it is too much for that. */
export async function recordAtOnce(
  db: Connection,
  entries: readonly ChangeEntry[],
  epoch: string,
): Promise<boolean> {
  const statements = statementsOf(db, entries)
  if (!isSmall(statements, entries)) return false
  const at = entries[0]!.revision - 1
  try {
    await recordTogether(
      db,
      statements,
      entries.map((entry) => ({
        ...entry,
        projectId: sql`kataxis_claim(${entry.projectId}, ${at}, ${epoch}, ${entry.userId})`,
      })),
    )
    return true
  } catch (error) {
    if (whenTwoMeet.has(codeOf(error))) return false
    throw error
  }
}

/** Whether the rows of some changes still go as one statement. */
export function areFewRows(entries: readonly Pick<ChangeEntry, 'changes'>[]): boolean {
  return entries.reduce((rows, { changes: own }) => rows + own.length, 0) <= mostRowsAtOnce
}

/** A claim refused; and PostgreSQL's codes for a row that is there already, an owner that is gone,
 *  and two who wait for each other. */
const whenTwoMeet = new Set(['KX001', '23505', '23503', '40P01', '40001'])

function codeOf(error: unknown): string {
  const { code, cause } = error as { code?: unknown; cause?: { code?: unknown } }
  return String(cause?.code ?? code ?? '')
}

type Statements = ReturnType<typeof statementsOf>
/** As it is written: the project may be what a claim gives back. */
type Row = Omit<ChangeEntry, 'projectId'> & { readonly projectId: string | SQL }

function isSmall(statements: Statements, entries: readonly ChangeEntry[]): boolean {
  return statements.length <= mostAtOnce && areFewRows(entries)
}

function statementsOf(db: Connection, entries: readonly ChangeEntry[]) {
  const { projectId, revision } = entries.at(-1)!
  const rows =
    entries.length === 1 ? entries[0]!.changes : netChanges(entries.map((entry) => entry.changes))
  const project = rows.flatMap((change) => (change.table === 'project' ? [change.after] : []))[0]
  return [
    ...rowStatements(db, projectId, rows),
    db
      .update(projects)
      .set({ ...project, id: projectId, revision })
      .where(eq(projects.id, projectId))
      .returning({ told: notifying({ project: projectId, revision }).as('told') }),
  ]
}

/** The last part is run first: what it claims is held before any row is touched (PostgreSQL runs
 *  parts that nobody reads last). */
async function recordTogether(
  db: Connection,
  statements: Statements,
  rows: readonly Row[],
): Promise<void> {
  const together = statements.map((statement, i) => db.$with(`part_${i}`).as(statement as never))
  await db
    .with(...together)
    .insert(changes)
    .values([...rows])
}

/** Changes after a revision, the newest where there are more than wanted; in their order. */
export async function changesSince(
  db: Connection,
  projectId: string,
  revision: number,
  most: number,
): Promise<ChangeEntry[]> {
  const newest = await db
    .select()
    .from(changes)
    .where(and(eq(changes.projectId, projectId), gt(changes.revision, revision)))
    .orderBy(desc(changes.revision))
    .limit(most)
  return newest.reverse()
}

/** How much lies between two revisions: steps, and rows in them. */
export async function extentBetween(
  db: Connection,
  projectId: string,
  from: number,
  to: number,
): Promise<{ steps: number; rows: number }> {
  const [extent] = await db
    .select({
      steps: sql<number>`count(*)::int`,
      rows: sql<number>`coalesce(sum(jsonb_array_length(${changes.changes})), 0)::int`,
    })
    .from(changes)
    .where(between(projectId, from, to))
  return extent!
}

/** The rows of each step from one revision to another, in their order. */
export async function stepsBetween(
  db: Connection,
  projectId: string,
  from: number,
  to: number,
): Promise<RowChange[][]> {
  const steps = await db
    .select({ changes: changes.changes })
    .from(changes)
    .where(between(projectId, from, to))
    .orderBy(asc(changes.revision))
  return steps.map((step) => step.changes)
}

const between = (projectId: string, from: number, to: number) =>
  and(eq(changes.projectId, projectId), gt(changes.revision, from), lte(changes.revision, to))

/** Whether a command was carried out already. */
export async function isCarriedOut(
  db: Connection,
  projectId: string,
  commandId: string,
): Promise<boolean> {
  const found = await db
    .select({ revision: changes.revision })
    .from(changes)
    .where(and(eq(changes.projectId, projectId), eq(changes.commandId, commandId)))
  return found.length > 0
}

/** The newest thing somebody did that still stands. */
export async function lastDone(
  db: Connection,
  projectId: string,
  by: Doer,
): Promise<ChangeEntry | null> {
  const [row] = await db
    .select()
    .from(changes)
    .where(and(own(projectId, by), eq(changes.undone, false)))
    .orderBy(desc(changes.revision))
    .limit(1)
  return row ?? null
}

/** The first thing somebody took back and did nothing new after. */
export async function firstUndone(
  db: Connection,
  projectId: string,
  by: Doer,
): Promise<ChangeEntry | null> {
  const [newest] = await db
    .select({ revision: max(changes.revision) })
    .from(changes)
    .where(and(own(projectId, by), eq(changes.undone, false)))
  const [row] = await db
    .select()
    .from(changes)
    .where(
      and(
        own(projectId, by),
        eq(changes.undone, true),
        gt(changes.revision, newest?.revision ?? 0),
      ),
    )
    .orderBy(asc(changes.revision))
    .limit(1)
  return row ?? null
}

export async function setUndone(
  db: Connection,
  projectId: string,
  revision: number,
  undone: boolean,
): Promise<void> {
  await db
    .update(changes)
    .set({ undone })
    .where(and(eq(changes.projectId, projectId), eq(changes.revision, revision)))
}

/** Who does something: by account; the program itself by what it calls itself. */
export type Doer = Pick<ChangeEntry, 'userId' | 'author'>

export function isBy(entry: Doer, { userId, author }: Doer): boolean {
  return userId === null
    ? entry.userId === null && entry.author === author
    : entry.userId === userId
}

function own(projectId: string, { userId, author }: Doer) {
  return and(
    eq(changes.projectId, projectId),
    userId === null
      ? and(isNull(changes.userId), eq(changes.author, author))
      : eq(changes.userId, userId),
    inArray(changes.kind, ['do', 'back']),
  )
}

/** The change that took back another one last, which a redo takes back in turn. */
export async function undoOf(
  db: Connection,
  projectId: string,
  target: number,
): Promise<ChangeEntry | null> {
  const [row] = await db
    .select()
    .from(changes)
    .where(
      and(eq(changes.projectId, projectId), eq(changes.kind, 'undo'), eq(changes.target, target)),
    )
    .orderBy(desc(changes.revision))
    .limit(1)
  return row ?? null
}

/** Rows as the history knew them last, of those asked for as `table/id`. */
export async function rememberedRows(
  db: Connection,
  projectId: string,
  keys: readonly string[],
): Promise<Map<string, RowOf[TableName]>> {
  if (keys.length === 0) return new Map()
  const { rows } = await db.execute<{ key: string; row: RowOf[TableName] }>(sql`
    select distinct on (key) (change->>'table') || '/' || (change->>'id') as key, case when change->'after' <> 'null' then change->'after' else change->'before' end as row
    from ${changes}, jsonb_array_elements(${changes.changes}) as change
    where ${changes.projectId} = ${projectId} and (change->>'table') || '/' || (change->>'id') in (${sql.join(
      keys.map((key) => sql`${key}`),
      sql`, `,
    )})
    order by key, ${changes.revision} desc`)
  return new Map(rows.map(({ key, row }) => [key, row]))
}

/** Who changed each of some rows last after a revision, as `table/id`. */
export async function lastToTouch(
  db: Connection,
  projectId: string,
  after: number,
  keys: readonly string[],
): Promise<Map<string, string>> {
  if (keys.length === 0) return new Map()
  const { rows } = await db.execute<{ key: string; author: string }>(sql`
    select distinct on (key) (change->>'table') || '/' || (change->>'id') as key, ${changes.author} as author
    from ${changes}, jsonb_array_elements(${changes.changes}) as change
    where ${changes.projectId} = ${projectId} and ${changes.revision} > ${after} and (change->>'table') || '/' || (change->>'id') in (${sql.join(
      keys.map((key) => sql`${key}`),
      sql`, `,
    )})
    order by key, ${changes.revision} desc`)
  return new Map(rows.map(({ key, author }) => [key, author]))
}
