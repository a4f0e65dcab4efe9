import { join } from 'node:path'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
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
    // Nobody waits for ever for somebody who holds a lock, and who falls silent in the middle of a transaction loses it.
    options: '-c lock_timeout=20s -c idle_in_transaction_session_timeout=60s',
  })
  // A connection that breaks, idle or in the middle of a transaction, ends its own query and nothing else.
  pool.on('connect', (client) => client.on('error', () => undefined))
  pool.on('error', () => undefined)
  return { db: drizzle(pool, { schema }), pool }
}

/** Brings the schema up to date: all pending migrations in one transaction, one instance at a time. */
export async function migrateDatabase(pool: pg.Pool): Promise<void> {
  const client = await pool.connect()
  try {
    await client.query('select pg_advisory_lock($1)', [migrationLock])
    await migrate(drizzle(client), { migrationsFolder: join(projectRoot, 'server', 'db', 'migrations') })
  } finally {
    await client.query('select pg_advisory_unlock($1)', [migrationLock]).catch(() => undefined)
    client.release()
  }
}
