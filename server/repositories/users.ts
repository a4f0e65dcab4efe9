import { and, count, eq, gt, lt, ne, sql } from 'drizzle-orm'
import type { RoleName } from '@kataxis/core'
import type { Connection, Database } from '../db/connect'
import { sessions, users } from '../db/schema'

export interface UserRow {
  readonly id: string
  readonly name: string
  readonly fullName: string
  readonly role: RoleName
}
const shown = { id: users.id, name: users.name, fullName: users.fullName, role: users.role }

export async function listUsers(db: Connection): Promise<UserRow[]> {
  return db.select(shown).from(users).orderBy(users.createdAt)
}

export async function findUser(
  db: Connection,
  name: string,
): Promise<(UserRow & { password: string }) | null> {
  const [row] = await db
    .select({ ...shown, password: users.password })
    .from(users)
    .where(eq(users.name, name))
  return row ?? null
}

/** One change of accounts after the other, on whatever instance, with all accounts as they are
 *  then. */
export async function whileAlone(
  db: Database,
  change: (tx: Connection, all: UserRow[]) => Promise<void>,
): Promise<void> {
  return db.transaction(async (tx) => {
    await tx.execute(sql`lock table ${users} in exclusive mode`)
    await change(tx, await listUsers(tx))
  })
}

export async function insertUser(
  db: Connection,
  user: UserRow & { password: string },
): Promise<void> {
  await db.insert(users).values(user)
}

export async function countUsers(db: Connection): Promise<number> {
  const [row] = await db.select({ users: count() }).from(users)
  return row?.users ?? 0
}

export async function updateUser(
  db: Connection,
  id: string,
  set: { role?: RoleName; password?: string },
): Promise<boolean> {
  return (
    (await db.update(users).set(set).where(eq(users.id, id)).returning({ id: users.id })).length > 0
  )
}

export async function deleteUser(db: Connection, id: string): Promise<boolean> {
  return (await db.delete(users).where(eq(users.id, id)).returning({ id: users.id })).length > 0
}

export async function insertSession(
  db: Connection,
  session: typeof sessions.$inferInsert,
): Promise<void> {
  await db.delete(sessions).where(lt(sessions.expiresAt, new Date()))
  await db.insert(sessions).values(session)
}

export async function findSession(
  db: Connection,
  token: string,
): Promise<(UserRow & { csrf: string }) | null> {
  const [row] = await db
    .select({ ...shown, csrf: sessions.csrf })
    .from(sessions)
    .innerJoin(users, eq(users.id, sessions.userId))
    .where(and(eq(sessions.token, token), gt(sessions.expiresAt, new Date())))
  return row ?? null
}

export async function deleteSession(db: Connection, token: string): Promise<void> {
  await db.delete(sessions).where(eq(sessions.token, token))
}

/** Ends all sessions of somebody, but for the one kept; gives those that ended. */
export async function deleteSessionsOf(
  db: Connection,
  userId: string,
  kept = '',
): Promise<string[]> {
  const ended = await db
    .delete(sessions)
    .where(and(eq(sessions.userId, userId), ne(sessions.token, kept)))
    .returning({ token: sessions.token })
  return ended.map(({ token }) => token)
}
