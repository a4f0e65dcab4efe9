import { monitorEventLoopDelay, type IntervalHistogram } from 'node:perf_hooks'
import type pg from 'pg'
import type { Logger } from 'pino'
import { connect, migrateDatabase, type Database } from '../db/connect'
import { Desks } from '../engine/desks'
import { isAway } from '../http/problem'
import { Jobs } from '../jobs/jobs'
import { Notifications } from '../live/notifications'
import { Streams } from '../live/streams'
import { ReaderPool } from '../reading/reader-pool'
import { readHere, type Reader } from '../reading/read'
import { revisionsOf } from '../repositories/plans'
import { Catalogs } from './catalogs'
import { Changing } from './changing'
import { Handover } from './handover'
import { History } from './history'
import { linkOldProjects } from './old-links'
import { PlanCache } from './plan-cache'
import { Plans } from './plans'
import { Projects } from './projects'
import { Rehearsal } from './rehearsal'
import { Shelf } from './shelf'
import { Space } from './space'
import { Users } from './users'
import { Versions } from './versions'

/** What is about plans and description files: the HTTP thread and each desk has its own. */
export interface PlanServices {
  readonly db: Database
  readonly plans: Plans
  readonly changing: Changing
  readonly history: History
  readonly versions: Versions
  readonly shelf: Shelf
  readonly handover: Handover
  readonly rehearsal: Rehearsal
  readonly projects: Projects
  /** Whether accounts with a known password stand on the sign-in page. */
  readonly isDemo: boolean
}

/** With what only the HTTP thread has. */
export interface Services extends PlanServices {
  readonly pool: pg.Pool
  readonly readers: ReaderPool
  /** Looks again and again for deleted projects whose time is over. */
  readonly purging: NodeJS.Timeout
  readonly desks: Desks
  readonly notifications: Notifications
  readonly streams: Streams
  readonly jobs: Jobs
  readonly users: Users
  readonly log: Logger
  readonly space: Space
  /** How long the HTTP thread was held at a time, since it is ready; in nanoseconds. */
  readonly loop: IntervalHistogram
}

/** Services on one database connection pool; files are read at once unless somebody else reads
 *  them. */
export function putTogether(
  db: Database,
  isDemo: boolean,
  reader: Reader = readHere,
): PlanServices {
  const catalogs = new Catalogs()
  const cache = new PlanCache(db)
  const changing = new Changing(db, cache, catalogs)
  const plans = new Plans(db, cache, catalogs)
  const shelf = new Shelf(db, reader, catalogs)
  return {
    db,
    plans,
    changing,
    history: new History(db, cache, changing),
    versions: new Versions(db, plans),
    shelf,
    handover: new Handover(db, plans, shelf),
    rehearsal: new Rehearsal(db, plans),
    projects: new Projects(db),
    isDemo,
  }
}

export interface Settings {
  readonly isDemo?: boolean
  /** Folders whose free space is watched. */
  readonly folders?: readonly string[]
}

/** Connects, migrates and puts everything together. */
export async function openServices(
  databaseUrl: string,
  log: Logger,
  { isDemo = false, folders = [] }: Settings = {},
): Promise<Services> {
  const { db, pool } = connect(databaseUrl)
  await whenItAnswers(log, () => migrateDatabase(databaseUrl))
  const notifications = new Notifications(databaseUrl, log)
  await notifications.open()
  const readers = new ReaderPool()
  const services = putTogether(db, isDemo, readers)
  const outdated = await services.shelf.refreshOutdated()
  if (outdated > 0) log.info({ files: outdated }, 'description files read again')
  const linked = await linkOldProjects(db, services.plans, services.changing)
  if (linked > 0) log.info({ networks: linked }, 'stations of older projects were linked')
  const damaged = await services.plans.damaged()
  if (damaged.length > 0)
    log.warn(
      { projects: damaged },
      'these projects are damaged; they can be read, and repaired from their page',
    )
  const purge = () =>
    services.projects.purge().then(
      (gone) =>
        gone.length > 0 && log.info({ projects: gone }, 'deleted projects are gone for good'),
      (error: unknown) => log.warn({ error }, 'deleted projects could not be looked for'),
    )
  await purge()
  const purging = setInterval(() => void purge(), purgeEveryMs).unref()
  const users = new Users(db)
  notifications.on('ended', (who) => {
    users.doubt(who)
    services.projects.doubt()
  })
  const streams = new Streams(notifications, (projects) => revisionsOf(db, projects))
  const loop = monitorEventLoopDelay({ resolution: 10 })
  loop.enable()
  return {
    ...services,
    loop,
    log,
    pool,
    readers,
    purging,
    notifications,
    users,
    streams,
    jobs: new Jobs(databaseUrl, db, services.shelf, notifications, log),
    desks: new Desks({ databaseUrl, isDemo }),
    space: new Space(folders, log),
  }
}

const purgeEveryMs = 6 * 3_600_000
const longestWaitMs = 10_000

/** Waits for a database that is still starting, or away; whatever else is wrong with it ends the
 *  start. */
async function whenItAnswers(log: Logger, work: () => Promise<void>): Promise<void> {
  for (let waitMs = 300; ; waitMs = Math.min(longestWaitMs, waitMs * 2)) {
    try {
      return await work()
    } catch (error) {
      if (!isAway(error)) throw error
      log.warn({ waitMs }, 'the database does not answer yet; trying again')
      await new Promise((go) => setTimeout(go, waitMs))
    }
  }
}

export async function closeServices({
  pool,
  notifications,
  readers,
  desks,
  streams,
  space,
  loop,
  jobs,
  purging,
}: Services): Promise<void> {
  clearInterval(purging)
  loop.disable()
  streams.close()
  space.close()
  await jobs.close()
  await notifications.close()
  await Promise.all([readers.close(), desks.close()])
  await pool.end()
}
