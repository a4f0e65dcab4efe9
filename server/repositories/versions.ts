import { and, asc, eq } from 'drizzle-orm'
import type { Connection } from '../db/connect'
import { versions } from '../db/schema'

export type Version = Omit<typeof versions.$inferSelect, 'projectId'>

export async function listVersions(db: Connection, projectId: string): Promise<Version[]> {
  return db
    .select({
      name: versions.name,
      revision: versions.revision,
      author: versions.author,
      at: versions.at,
    })
    .from(versions)
    .where(eq(versions.projectId, projectId))
    .orderBy(asc(versions.revision), asc(versions.name))
}

/** False where the name is taken. */
export async function insertVersion(
  db: Connection,
  version: typeof versions.$inferInsert,
): Promise<boolean> {
  const rows = await db
    .insert(versions)
    .values(version)
    .onConflictDoNothing()
    .returning({ name: versions.name })
  return rows.length > 0
}

export async function deleteVersion(
  db: Connection,
  projectId: string,
  name: string,
): Promise<boolean> {
  const rows = await db
    .delete(versions)
    .where(and(eq(versions.projectId, projectId), eq(versions.name, name)))
    .returning({ name: versions.name })
  return rows.length > 0
}
