import { EventEmitter } from 'node:events'
import pg from 'pg'
import type { Logger } from 'pino'
import type { JobView } from '@kataxis/core'
import { sql, type SQL } from 'drizzle-orm'
import type { Connection } from '../db/connect'

const channel = 'kataxis_changes'
const firstRetryMs = 250
const longestRetryMs = 10_000

/** Where somebody is who looks at a project. */
export interface Presence {
  readonly client: string
  readonly author: string
  readonly at: string | null
  readonly asks: boolean
}

/** A new revision, where somebody is now, or whose sessions have ended: one (by the hash of its
 *  token), or all of an account. */
export type Notice =
  | { readonly project: string; readonly revision: number; readonly epoch?: string }
  | { readonly project: string; readonly presence: Presence }
  /** Of one person only: how far a job of theirs is. */
  | { readonly job: JobView; readonly user: string }
  | { readonly ended: { readonly session: string } | { readonly user: string } }

/** As part of a statement: sent when its transaction commits, to every server instance on this
 *  database. */
export function notifying(notice: Notice): SQL {
  return sql`pg_notify(${channel}, ${JSON.stringify(notice)})`
}

export async function notify(db: Connection, notice: Notice): Promise<void> {
  await db.execute(sql`select ${notifying(notice)}`)
}

export type ProjectNotice = Extract<Notice, { project: string }>

interface Heard {
  readonly project: [notice: ProjectNotice]
  readonly job: [job: JobView, user: string]
  readonly ended: [who: { session?: string; user?: string }]
  /** Listening again after a gap in which anything may have happened. */
  readonly again: []
}

/** Listens for what any instance tells. Where the connection is lost it is made again, one attempt
 *  at a time, at growing intervals. */
export class Notifications {
  private readonly events = new EventEmitter().setMaxListeners(0)
  private client: pg.Client | null = null
  private retry: NodeJS.Timeout | null = null
  private failures = 0
  private closed = false

  constructor(
    private readonly url: string,
    private readonly log: Logger,
  ) {}

  /** Whether everything that is told is heard at the moment. */
  get isListening(): boolean {
    return this.client !== null
  }

  /** Begins to listen; gives up for this time when the database does not answer, and tries again by
   *  itself. */
  async open(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.url,
      connectionTimeoutMillis: 5000,
      keepAlive: true,
    })
    let isLost = false
    const lost = () => {
      if (isLost) return
      isLost = true
      if (this.client === client) this.client = null
      void client.end().catch(() => undefined)
      this.reopen()
    }
    client.on('error', lost)
    client.on('end', lost)
    client.on('notification', ({ payload }) => this.hear(payload ?? '{}'))
    try {
      await client.connect()
      await client.query(`listen ${channel}`)
    } catch {
      return lost()
    }
    if (this.closed) return void client.end().catch(() => undefined)
    this.client = client
    if (this.failures > 0) this.log.info({ failures: this.failures }, 'live updates go on')
    const wasAway = this.failures > 0
    this.failures = 0
    if (wasAway) this.events.emit('again')
  }

  on<K extends keyof Heard>(kind: K, listener: (...heard: Heard[K]) => void): () => void {
    this.events.on(kind, listener)
    return () => this.events.off(kind, listener)
  }

  async close(): Promise<void> {
    this.closed = true
    if (this.retry) clearTimeout(this.retry)
    await this.client?.end()
  }

  private hear(payload: string): void {
    const notice = JSON.parse(payload) as Notice
    if ('ended' in notice) this.events.emit('ended', notice.ended)
    else if ('job' in notice) this.events.emit('job', notice.job, notice.user)
    else this.events.emit('project', notice)
  }

  private reopen(): void {
    if (this.closed || this.retry) return
    if (this.failures === 0) this.log.warn('lost the connection for live updates; trying again')
    this.failures++
    // Not all instances at the same moment.
    const ms =
      Math.min(longestRetryMs, firstRetryMs * 2 ** Math.min(this.failures - 1, 10)) *
      (0.5 + Math.random() / 2)
    this.retry = setTimeout(() => {
      this.retry = null
      void this.open()
    }, ms)
    this.retry.unref()
  }
}
