import { and, asc, desc, eq, gt, inArray, lt, max, sql } from 'drizzle-orm'
import type { Connection } from '../db/connect'
import { changes, projects } from '../db/schema'
import { notifying } from '../live/notifications'
import { rowStatements } from './plans'

export type ChangeEntry = typeof changes.$inferSelect
type NewEntry = Pick<ChangeEntry, 'projectId' | 'revision' | 'commandId' | 'author' | 'kind' | 'target' | 'command' | 'changes'>

/** Statements, and rows in them, that go as one; larger changes are written one after the other. */
const mostAtOnce = 8
const mostRowsAtOnce = 500

/** Writes a change: its rows, its place in the history and the project's revision, as one statement where it is small. Every server
 *  instance on this database hears of it when the transaction commits. */
export async function recordChange(db: Connection, entry: NewEntry): Promise<ChangeEntry> {
  const statements = statementsOf(db, entry)
  if (isSmall(statements, entry)) return recordTogether(db, statements, entry)
  for (const statement of statements) await statement
  return recordTogether(db, [], entry)
}

/** The same without a transaction around it, as one statement, which is done whole or not at all: its place in the history is taken by the
 *  first who asks for it. Null where somebody else has it, the command was carried out already, or the change is too large for that. */
export async function recordAtOnce(db: Connection, entry: NewEntry): Promise<ChangeEntry | null> {
  const statements = statementsOf(db, entry)
  if (!isSmall(statements, entry)) return null
  try {
    return await recordTogether(db, statements, entry)
  } catch (error) {
    if (whenTwoMeet.has(codeOf(error))) return null
    throw error
  }
}

/** PostgreSQL's codes for a row that is there already, an owner that is gone, and two who wait for each other. */
const whenTwoMeet = new Set(['23505', '23503', '40P01', '40001'])

function codeOf(error: unknown): string {
  const { code, cause } = error as { code?: unknown; cause?: { code?: unknown } }
  return String(cause?.code ?? code ?? '')
}

type Statements = ReturnType<typeof statementsOf>
const isSmall = (statements: Statements, entry: NewEntry) => statements.length <= mostAtOnce && entry.changes.length <= mostRowsAtOnce

function statementsOf(db: Connection, entry: NewEntry) {
  const { projectId, revision } = entry
  const project = entry.changes.flatMap((change) => (change.table === 'project' ? [change.after] : []))[0]
  return [
    ...rowStatements(db, projectId, entry.changes),
    db.update(projects).set({ ...project, id: projectId, revision }).where(eq(projects.id, projectId)).returning({ told: notifying({ project: projectId, revision }).as('told') }),
  ]
}

async function recordTogether(db: Connection, statements: Statements, entry: NewEntry): Promise<ChangeEntry> {
  const together = statements.map((statement, i) => db.$with(`part_${i}`).as(statement as never))
  const row = { ...entry, at: new Date(), undone: false }
  await db.with(...together).insert(changes).values(row)
  return row
}

export async function changesSince(db: Connection, projectId: string, revision: number): Promise<ChangeEntry[]> {
  return db.select().from(changes).where(and(eq(changes.projectId, projectId), gt(changes.revision, revision))).orderBy(asc(changes.revision))
}

/** Whether a command was carried out already. */
export async function isCarriedOut(db: Connection, projectId: string, commandId: string): Promise<boolean> {
  const found = await db.select({ revision: changes.revision }).from(changes).where(and(eq(changes.projectId, projectId), eq(changes.commandId, commandId)))
  return found.length > 0
}

/** The newest thing this author did that still stands. */
export async function lastDone(db: Connection, projectId: string, author: string): Promise<ChangeEntry | null> {
  const [row] = await db.select().from(changes).where(and(own(projectId, author), eq(changes.undone, false))).orderBy(desc(changes.revision)).limit(1)
  return row ?? null
}

/** The first thing this author took back and did nothing new after. */
export async function firstUndone(db: Connection, projectId: string, author: string): Promise<ChangeEntry | null> {
  const [newest] = await db.select({ revision: max(changes.revision) }).from(changes).where(and(own(projectId, author), eq(changes.undone, false)))
  const [row] = await db.select().from(changes)
    .where(and(own(projectId, author), eq(changes.undone, true), gt(changes.revision, newest?.revision ?? 0)))
    .orderBy(asc(changes.revision)).limit(1)
  return row ?? null
}

export async function setUndone(db: Connection, projectId: string, revision: number, undone: boolean): Promise<void> {
  await db.update(changes).set({ undone }).where(and(eq(changes.projectId, projectId), eq(changes.revision, revision)))
}

/** Newest first, from before a revision on where one is given. */
export async function history(db: Connection, projectId: string, limit: number, before: number | null) {
  return db.select({ revision: changes.revision, author: changes.author, at: changes.at, kind: changes.kind, target: changes.target, undone: changes.undone, command: changes.command, rows: sql<number>`jsonb_array_length(${changes.changes})::int` })
    .from(changes).where(and(eq(changes.projectId, projectId), before === null ? undefined : lt(changes.revision, before))).orderBy(desc(changes.revision)).limit(limit)
}

function own(projectId: string, author: string) {
  return and(eq(changes.projectId, projectId), eq(changes.author, author), inArray(changes.kind, ['do', 'back']))
}
