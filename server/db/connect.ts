import { join } from 'node:path'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { readMigrationFiles } from 'drizzle-orm/migrator'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import { projectRoot } from '../paths'
import * as schema from './schema'

export type Database = NodePgDatabase<typeof schema>
/** A database or a transaction in it. */
export type Connection = Database | Parameters<Parameters<Database['transaction']>[0]>[0]

/** Any number that only we use: instances that start together migrate one after the other. */
const migrationLock = 460_046_004

export function connect(url: string, connections = 20): { db: Database; pool: pg.Pool } {
  const pool = new pg.Pool({
    connectionString: url,
    max: connections,
    connectionTimeoutMillis: 5000,
    keepAlive: true,
    // Nobody waits for ever for somebody who holds a lock, and who falls silent in the middle of a
    // transaction loses it.
    options: '-c lock_timeout=20s -c idle_in_transaction_session_timeout=60s',
  })
  // A connection that breaks, idle or in the middle of a transaction, ends its own query and
  // nothing else.
  pool.on('connect', (client) => client.on('error', () => undefined))
  pool.on('error', () => undefined)
  return { db: drizzle(pool, { schema }), pool }
}

/** Something that keeps the program from starting, as a sentence for whoever starts it. */
export class CannotStart extends Error {}

const migrationsFolder = join(projectRoot, 'server', 'db', 'migrations')

/** Brings the schema up to date: all pending migrations in one transaction, one instance at a time,
 *  and first on a copy, so that what fails leaves everything as it was. A database of a newer
 *  program is refused. */
export async function migrateDatabase(url: string): Promise<void> {
  if (await visiting(url, hasToBeTried)) await tryOnCopy(url)
  await visiting(url, async (client) => {
    await client.query('select pg_advisory_lock($1)', [migrationLock])
    await migrate(drizzle(client), { migrationsFolder })
  })
}

/** Whether there is a database of an older program to be brought up to date; one of a newer program
 *  is refused. */
async function hasToBeTried(client: pg.Client): Promise<boolean> {
  const applied = await appliedMigrations(client)
  const newest = readMigrationFiles({ migrationsFolder }).at(-1)!.folderMillis
  if (applied.some((when) => when > newest)) {
    throw new CannotStart(
      'The database was written by a newer version of Kataxis than this one. Start the newer version, or restore a backup that was made before the update.',
    )
  }
  return applied.length > 0 && !applied.includes(newest)
}

/** A connection for as long as something is done on it. */
async function visiting<T>(url: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 5000 })
  client.on('error', () => undefined)
  await client.connect()
  return work(client).finally(() => client.end().catch(() => undefined))
}

async function appliedMigrations(client: pg.Client): Promise<number[]> {
  const { rows } = await client.query<{ there: boolean }>(
    `select to_regclass('drizzle.__drizzle_migrations') is not null as there`,
  )
  if (!rows[0]!.there) return []
  const applied = await client.query<{ created_at: string }>(
    'select created_at from drizzle.__drizzle_migrations',
  )
  return applied.rows.map(({ created_at: when }) => Number(when))
}

/** Migrates a copy of the database, which is thrown away. Where none can be made (somebody else is
 *  connected, or the account may not) the transaction alone has to do. */
async function tryOnCopy(url: string): Promise<void> {
  const at = (database: string) => Object.assign(new URL(url), { pathname: `/${database}` }).href
  const name = decodeURIComponent(new URL(url).pathname.slice(1)).replaceAll('"', '""')
  const copy = `kataxis_trial_${Date.now()}`
  // Copying asks for a database without visitors, so that it is asked for from beside it.
  const isCopied = await visiting(at('template1'), (beside) =>
    beside.query(`create database ${copy} template "${name}"`),
  ).then(
    () => true,
    () => false,
  )
  if (!isCopied) return
  try {
    await visiting(at(copy), (client) => migrate(drizzle(client), { migrationsFolder }))
  } catch (error) {
    throw new CannotStart(
      `The update of the database failed on a copy of it; the database is as it was. ${(error as Error).message}`,
    )
  } finally {
    await visiting(at('template1'), (beside) =>
      beside.query(`drop database if exists ${copy}`),
    ).catch(() => undefined)
  }
}
