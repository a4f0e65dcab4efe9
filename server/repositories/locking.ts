import { drizzle } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import type { Connection, Database } from '../db/connect'
import * as schema from '../db/schema'
import type { ChangeEntry } from './changes'

/** A project held for a change. */
export interface Held {
  readonly revision: number
  readonly epoch: string
  /** All that there are. */
  readonly accounts: readonly string[]
  /** Changes after the revision that was known. */
  readonly news: readonly ChangeEntry[]
}

/** Does something in a transaction that holds a project from its first statement on. Whoever
 *  changes a plan takes this lock before any other, so that instances wait for each other here and
 *  nowhere else. Beginning, lock and news are one round trip, each with its own view: news may come
 *  while somebody waits for the lock. `held` is null where there is no such project. */
export async function whileHolding<T>(
  db: Database & { $client?: unknown },
  projectId: string,
  known: number,
  work: (tx: Connection, held: Held | null) => Promise<T>,
): Promise<T> {
  const client = await (db.$client as pg.Pool).connect()
  let broken: Error | undefined
  try {
    const id = pg.escapeLiteral(projectId)
    const [, heads, news] = (await client.query(`begin;
      select "revision", array(select "id"::text from "users") as "accounts", (select "epoch" || ':' || (select "oid" from "pg_database" where "datname" = current_database()) from "instance") as "epoch"
        from "projects" where "id" = ${id} for no key update;
      select "project_id" as "projectId", "revision", "command_id" as "commandId", "user_id" as "userId", "author", "at", "kind", "target", "undone", "command", "changes"
        from "changes" where "project_id" = ${id} and "revision" > ${Math.trunc(known)} order by "revision"`)) as unknown as pg.QueryResult[]
    const head = heads!.rows[0] as Omit<Held, 'news'> | undefined
    const done = await work(
      connectionOf(client),
      head ? { ...head, news: news!.rows as ChangeEntry[] } : null,
    )
    await client.query('commit')
    return done
  } catch (error) {
    await client.query('rollback').catch((fault: unknown) => (broken = fault as Error))
    throw error
  } finally {
    client.release(broken)
  }
}

/** One for each client, since putting one together costs as much as a small change. */
const connections = new WeakMap<pg.PoolClient, Connection>()

function connectionOf(client: pg.PoolClient): Connection {
  const known = connections.get(client)
  if (known) return known
  const connection = drizzle(client, { schema }) as unknown as Connection
  connections.set(client, connection)
  return connection
}
