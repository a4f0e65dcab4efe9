import type pg from 'pg'
import type { Logger } from 'pino'
import { connect, migrateDatabase, type Database } from '../db/connect'
import { Notifications } from '../live/notifications'
import { Catalogs } from './catalogs'
import { Handover } from './handover'
import { Plans } from './plans'
import { Rehearsal } from './rehearsal'
import { Shelf } from './shelf'

export interface Services {
  readonly db: Database
  readonly pool: pg.Pool
  readonly plans: Plans
  readonly shelf: Shelf
  readonly handover: Handover
  readonly rehearsal: Rehearsal
  readonly notifications: Notifications
}

/** Connects, migrates and puts the services together. */
export async function openServices(databaseUrl: string, log: Logger): Promise<Services> {
  const { db, pool } = connect(databaseUrl)
  await migrateDatabase(pool)
  const notifications = new Notifications(databaseUrl, log)
  await notifications.open()
  const plans = new Plans(db, new Catalogs())
  const shelf = new Shelf(db)
  return { db, pool, plans, shelf, handover: new Handover(plans, shelf), rehearsal: new Rehearsal(db, plans), notifications }
}

export async function closeServices({ pool, notifications }: Services): Promise<void> {
  await notifications.close()
  await pool.end()
}
