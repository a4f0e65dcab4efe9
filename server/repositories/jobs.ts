import { and, desc, eq, getTableColumns, inArray, lt, sql, type SQL } from 'drizzle-orm'
import type { Connection } from '../db/connect'
import { jobFiles, jobs } from '../db/schema'
import { notifying } from '../live/notifications'
import type { JobView } from '@kataxis/core'

export type JobRow = typeof jobs.$inferSelect

const open = ['waiting', 'running'] as const
/** Finished jobs and their files go after a day; so many of one person are told. */
const keptFor = sql`interval '1 day'`
const mostTold = 50

export const viewOf = ({
  id,
  kind,
  projectId,
  words,
  state,
  done,
  total,
  sentence,
  fileName,
  bytes,
  createdAt,
}: JobRow): JobView => ({
  id,
  kind,
  projectId,
  words,
  state,
  done,
  total,
  sentence,
  fileName,
  bytes,
  at: createdAt.toISOString(),
})

export async function insertJob(
  db: Connection,
  job: Pick<JobRow, 'id' | 'userId' | 'projectId' | 'kind' | 'wish' | 'words'>,
): Promise<JobRow> {
  await db
    .delete(jobs)
    .where(and(lt(jobs.createdAt, sql`now() - ${keptFor}`), sql`${jobs.state} <> all(${openText})`))
  const [row] = await db.insert(jobs).values(job).returning()
  return row!
}
const openText = sql.raw(`array['${open.join(`','`)}']`)

export async function jobsOf(db: Connection, userId: string): Promise<JobRow[]> {
  return db
    .select()
    .from(jobs)
    .where(eq(jobs.userId, userId))
    .orderBy(desc(jobs.createdAt), desc(jobs.id))
    .limit(mostTold)
}

export async function openJobsOf(db: Connection, userId: string): Promise<number> {
  return db.$count(jobs, and(eq(jobs.userId, userId), inArray(jobs.state, [...open])))
}

export async function findJob(db: Connection, userId: string, id: string): Promise<JobRow | null> {
  const [row] = await db
    .select()
    .from(jobs)
    .where(and(eq(jobs.id, id), eq(jobs.userId, userId)))
  return row ?? null
}

/** One change of a job that its person hears of at once; null where the job is no longer as
 *  `where` wants it. */
async function change(
  db: Connection,
  id: string,
  where: SQL | undefined,
  set: Partial<JobRow> | Record<string, unknown>,
): Promise<JobRow | null> {
  return db.transaction(async (tx) => {
    const [row] = await tx
      .update(jobs)
      .set({ ...set, beatAt: sql`now()` })
      .where(and(eq(jobs.id, id), where))
      .returning()
    if (!row) return null
    await tx.execute(sql`select ${notifying({ job: viewOf(row), user: row.userId })}`)
    return row
  })
}

/** Whoever claims a waiting job does it. */
export const claim = (db: Connection, id: string, instance: string) =>
  change(db, id, eq(jobs.state, 'waiting'), { state: 'running', instance, done: 0 })

const mine = (instance: string) => and(eq(jobs.state, 'running'), eq(jobs.instance, instance))

export const tellProgress = (
  db: Connection,
  id: string,
  instance: string,
  progress: Pick<JobRow, 'done' | 'total'>,
) => change(db, id, mine(instance), progress)

export const finish = (
  db: Connection,
  id: string,
  instance: string,
  set: Partial<JobRow> & Pick<JobRow, 'state'>,
) => change(db, id, mine(instance), { ...set, instance: null })

export const cancel = (db: Connection, id: string) =>
  change(db, id, inArray(jobs.state, [...open]), { state: 'cancelled', instance: null })

/** The instance is alive. */
export async function beat(db: Connection, instance: string): Promise<void> {
  await db
    .update(jobs)
    .set({ beatAt: sql`now()` })
    .where(mine(instance))
}

const longAgo = sql`now() - interval '1 hour'`

/** Gives back what an instance is at, so that another one begins it anew at once. */
export async function giveBack(db: Connection, instance: string): Promise<void> {
  await db
    .update(jobs)
    .set({ state: 'waiting', instance: null, beatAt: longAgo })
    .where(mine(instance))
}

/** Leaves a waiting job to whoever looks next. */
export async function leave(db: Connection, id: string): Promise<void> {
  await db
    .update(jobs)
    .set({ beatAt: longAgo })
    .where(and(eq(jobs.id, id), eq(jobs.state, 'waiting')))
}

/** Jobs whose instance has fallen silent, and those that wait though nobody was told; each is given
 *  to one caller only. */
export async function takeOrphans(db: Connection, silentS: number): Promise<string[]> {
  const rows = await db
    .update(jobs)
    .set({ state: 'waiting', instance: null, beatAt: sql`now()` })
    .where(
      and(
        inArray(jobs.state, [...open]),
        lt(jobs.beatAt, sql`now() - ${silentS} * interval '1 second'`),
      ),
    )
    .returning({ id: jobs.id })
  return rows.map(({ id }) => id)
}

export async function forget(db: Connection, userId: string, id: string): Promise<boolean> {
  const gone = await db
    .delete(jobs)
    .where(and(eq(jobs.id, id), eq(jobs.userId, userId), sql`${jobs.state} <> all(${openText})`))
    .returning({ id: jobs.id })
  return gone.length > 0
}

export async function keepFile(db: Connection, jobId: string, content: Uint8Array): Promise<void> {
  await db
    .insert(jobFiles)
    .values({ jobId, content })
    .onConflictDoUpdate({ target: jobFiles.jobId, set: { content } })
}

export async function loadFile(db: Connection, jobId: string): Promise<Uint8Array | null> {
  const [row] = await db
    .select(getTableColumns(jobFiles))
    .from(jobFiles)
    .where(eq(jobFiles.jobId, jobId))
  return row?.content ?? null
}

export async function dropFile(db: Connection, jobId: string): Promise<void> {
  await db.delete(jobFiles).where(eq(jobFiles.jobId, jobId))
}
