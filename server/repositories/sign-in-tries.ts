import { eq, inArray, lt, sql } from 'drizzle-orm'
import type { Connection } from '../db/connect'
import { signInTries } from '../db/schema'

/** When the next try under each key is heard. */
export async function readTries(
  db: Connection,
  keys: readonly string[],
): Promise<Map<string, Date>> {
  const rows = await db
    .select({ key: signInTries.key, nextAt: signInTries.nextAt })
    .from(signInTries)
    .where(inArray(signInTries.key, [...keys]))
  return new Map(rows.map(({ key, nextAt }) => [key, nextAt]))
}

interface CountedUnder {
  readonly key: string
  readonly free: number
  readonly longestS: number
  readonly how: 'refuse' | 'hold'
}

/** Counts one more try under each key, in their order by name, and gives how many it are now. */
export async function countTry(
  db: Connection,
  under: readonly CountedUnder[],
  forgottenAfterS: number,
): Promise<Map<string, number>> {
  await db.delete(signInTries).where(lt(signInTries.forgottenAt, sql`now()`))
  const counted = new Map<string, number>()
  for (const { key, free, longestS, how } of [...under].sort((a, b) => (a.key < b.key ? -1 : 1))) {
    const wait =
      how === 'hold'
        ? sql`now()`
        : sql`case when ${signInTries.tries} + 1 <= ${free} then now() else now() + least(${longestS}, power(2, least(${signInTries.tries} - ${free}, 10))) * interval '1 second' end`
    const [row] = await db
      .insert(signInTries)
      .values({
        key,
        tries: 1,
        nextAt: sql`now()`,
        forgottenAt: sql`now() + ${forgottenAfterS} * interval '1 second'`,
      })
      .onConflictDoUpdate({
        target: signInTries.key,
        set: {
          tries: sql`${signInTries.tries} + 1`,
          nextAt: wait,
          forgottenAt: sql`now() + ${forgottenAfterS} * interval '1 second'`,
        },
      })
      .returning({ tries: signInTries.tries })
    counted.set(key, row!.tries)
  }
  return counted
}

/** A right password: its own count begins anew, the shared ones go one down. */
export async function forgive(
  db: Connection,
  own: string,
  shared: readonly string[],
): Promise<void> {
  await db.delete(signInTries).where(eq(signInTries.key, own))
  for (const key of [...shared].sort()) {
    await db
      .update(signInTries)
      .set({ tries: sql`greatest(0, ${signInTries.tries} - 1)`, nextAt: sql`now()` })
      .where(eq(signInTries.key, key))
  }
}
