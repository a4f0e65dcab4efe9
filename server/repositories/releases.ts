import { and, desc, eq, sql } from 'drizzle-orm'
import type { Connection } from '../db/connect'
import { releases } from '../db/schema'

export type ReleaseRow = Omit<typeof releases.$inferSelect, 'projectId' | 'content' | 'userId'>

/** Newest first, without their packages. */
export async function listReleases(
  db: Connection,
  projectId: string,
): Promise<(ReleaseRow & { bytes: number })[]> {
  return db
    .select({
      name: releases.name,
      revision: releases.revision,
      author: releases.author,
      at: releases.at,
      blockers: releases.blockers,
      safetySignature: releases.safetySignature,
      files: releases.files,
      bytes: sql<number>`length(${releases.content})::int`,
    })
    .from(releases)
    .where(eq(releases.projectId, projectId))
    .orderBy(desc(releases.at), desc(releases.revision))
}

/** False where the name is taken. */
export async function insertRelease(
  db: Connection,
  release: typeof releases.$inferInsert,
): Promise<boolean> {
  const rows = await db
    .insert(releases)
    .values(release)
    .onConflictDoNothing()
    .returning({ name: releases.name })
  return rows.length > 0
}

export async function findRelease(
  db: Connection,
  projectId: string,
  name: string,
): Promise<typeof releases.$inferSelect | null> {
  const [row] = await db
    .select()
    .from(releases)
    .where(and(eq(releases.projectId, projectId), eq(releases.name, name)))
  return row ?? null
}
