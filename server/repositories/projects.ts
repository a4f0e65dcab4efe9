import { and, desc, eq, lt, sql } from 'drizzle-orm'
import type { RoleName } from '@kataxis/core'
import type { Connection } from '../db/connect'
import { changes, members, projects } from '../db/schema'

/** A project from outside: what it is called, and how it is kept. */
export interface KeptProject {
  readonly id: string
  readonly name: string
  readonly revision: number
  readonly createdAt: Date
  readonly archivedAt: Date | null
  readonly deletedAt: Date | null
  readonly isOpen: boolean
  /** The role of whoever asks, where he is a member. */
  readonly memberRole: RoleName | null
}

const kept = {
  id: projects.id,
  name: projects.name,
  revision: projects.revision,
  createdAt: projects.createdAt,
  archivedAt: projects.archivedAt,
  deletedAt: projects.deletedAt,
  isOpen: projects.isOpen,
  memberRole: members.role,
}
const membership = (userId: string) =>
  and(eq(members.projectId, projects.id), eq(members.userId, userId))

/** All projects in the order in which they were begun, with their last change. */
export async function listProjects(
  db: Connection,
  userId: string,
): Promise<(KeptProject & { readonly at: Date | null; readonly by: string | null })[]> {
  const last = db
    .select({ at: changes.at, by: changes.author })
    .from(changes)
    .where(eq(changes.projectId, projects.id))
    .orderBy(desc(changes.revision))
    .limit(1)
    .as('last')
  return db
    .select({ ...kept, at: last.at, by: last.by })
    .from(projects)
    .leftJoin(members, membership(userId))
    .leftJoinLateral(last, sql`true`)
    .orderBy(projects.createdAt)
}

export async function findKept(
  db: Connection,
  id: string,
  userId: string,
): Promise<KeptProject | null> {
  const [row] = await db
    .select(kept)
    .from(projects)
    .leftJoin(members, membership(userId))
    .where(eq(projects.id, id))
  return row ?? null
}

export async function setKept(
  db: Connection,
  id: string,
  set: { archivedAt?: Date | null; deletedAt?: Date | null; isOpen?: boolean },
): Promise<void> {
  await db.update(projects).set(set).where(eq(projects.id, id))
}

export async function listMembers(
  db: Connection,
  projectId: string,
): Promise<{ userId: string; role: RoleName }[]> {
  return db
    .select({ userId: members.userId, role: members.role })
    .from(members)
    .where(eq(members.projectId, projectId))
}

export async function putMembers(
  db: Connection,
  projectId: string,
  rows: readonly { readonly userId: string; readonly role: RoleName }[],
): Promise<void> {
  await db.delete(members).where(eq(members.projectId, projectId))
  if (rows.length > 0) await db.insert(members).values(rows.map((row) => ({ ...row, projectId })))
}

/** Who may enter the one project may enter the other. */
export async function copyAccess(db: Connection, from: string, to: string): Promise<void> {
  const [like] = await db
    .select({ isOpen: projects.isOpen })
    .from(projects)
    .where(eq(projects.id, from))
  if (!like) return
  await setKept(db, to, like)
  await putMembers(db, to, await listMembers(db, from))
}

/** Projects that were deleted before a moment go for good, with their history. */
export async function purgeDeleted(db: Connection, before: Date): Promise<string[]> {
  const gone = await db
    .delete(projects)
    .where(lt(projects.deletedAt, before))
    .returning({ id: projects.id })
  return gone.map(({ id }) => id)
}
