import { asc, eq, gt, and } from 'drizzle-orm'
import type { Connection } from '../db/connect'
import { rehearsalEvents, rehearsals } from '../db/schema'

export type RehearsalRow = typeof rehearsals.$inferSelect
export type RehearsalEvent = typeof rehearsalEvents.$inferSelect

/** The rehearsal of a project; with `lock` nobody else takes a step before this transaction ends. */
export async function findRehearsal(
  db: Connection,
  projectId: string,
  lock = false,
): Promise<RehearsalRow | null> {
  const query = db.select().from(rehearsals).where(eq(rehearsals.projectId, projectId))
  const [row] = await (lock ? query.for('update') : query)
  return row ?? null
}

/** Takes the place of an earlier one, with its events. */
export async function beginRehearsal(
  db: Connection,
  row: typeof rehearsals.$inferInsert,
): Promise<void> {
  await db.delete(rehearsals).where(eq(rehearsals.projectId, row.projectId))
  await db.insert(rehearsals).values(row)
}

export async function endRehearsal(db: Connection, projectId: string): Promise<void> {
  await db
    .update(rehearsals)
    .set({ endedAt: new Date() })
    .where(eq(rehearsals.projectId, projectId))
}

/** Events after a number, in order. */
export async function eventsAfter(
  db: Connection,
  projectId: string,
  number: number,
): Promise<RehearsalEvent[]> {
  return db
    .select()
    .from(rehearsalEvents)
    .where(and(eq(rehearsalEvents.projectId, projectId), gt(rehearsalEvents.number, number)))
    .orderBy(asc(rehearsalEvents.number))
}

export async function addEvent(
  db: Connection,
  event: typeof rehearsalEvents.$inferInsert,
): Promise<void> {
  await db.insert(rehearsalEvents).values(event)
}
