import type pg from 'pg'
import type { Logger } from 'pino'
import { connect, migrateDatabase, type Database } from '../db/connect'
import { Notifications } from '../live/notifications'
import { ReaderPool } from '../reading/reader-pool'
import { Catalogs } from './catalogs'
import { Handover } from './handover'
import { Plans } from './plans'
import { Rehearsal } from './rehearsal'
import { Shelf } from './shelf'
import { Users } from './users'

export interface Services {
  readonly db: Database
  readonly pool: pg.Pool
  readonly plans: Plans
  readonly shelf: Shelf
  readonly readers: ReaderPool
  readonly handover: Handover
  readonly rehearsal: Rehearsal
  readonly notifications: Notifications
  readonly users: Users
  /** Whether accounts with a known password stand on the sign-in page. */
  readonly isDemo: boolean
}

/** Connects, migrates and puts the services together. */
export async function openServices(databaseUrl: string, log: Logger, isDemo = false): Promise<Services> {
  const { db, pool } = connect(databaseUrl)
  await migrateDatabase(pool)
  const notifications = new Notifications(databaseUrl, log)
  await notifications.open()
  const catalogs = new Catalogs()
  const plans = new Plans(db, catalogs)
  const readers = new ReaderPool()
  const shelf = new Shelf(db, readers, catalogs)
  const outdated = await shelf.refreshOutdated()
  if (outdated > 0) log.info({ files: outdated }, 'description files read anew')
  return { db, pool, plans, shelf, readers, handover: new Handover(plans, shelf), rehearsal: new Rehearsal(db, plans), notifications, users: new Users(db), isDemo }
}

export async function closeServices({ pool, notifications, readers }: Services): Promise<void> {
  await notifications.close()
  await readers.close()
  await pool.end()
}
