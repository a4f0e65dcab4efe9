import { eq } from 'drizzle-orm'
import type { Connection } from '../db/connect'
import { rehearsals } from '../db/schema'

export async function loadRehearsal<State>(
  db: Connection,
  projectId: string,
): Promise<State | null> {
  const [row] = await db
    .select()
    .from(rehearsals)
    .where(eq(rehearsals.projectId, projectId))
    .for('update')
  return (row?.state as State | undefined) ?? null
}

export async function saveRehearsal(
  db: Connection,
  projectId: string,
  state: unknown,
): Promise<void> {
  await db
    .insert(rehearsals)
    .values({ projectId, state })
    .onConflictDoUpdate({ target: rehearsals.projectId, set: { state } })
}
