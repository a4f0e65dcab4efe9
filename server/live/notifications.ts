import { EventEmitter } from 'node:events'
import pg from 'pg'
import type { Logger } from 'pino'
import { sql, type SQL } from 'drizzle-orm'
import type { Connection } from '../db/connect'

const channel = 'kataxis_changes'
const retryMs = 1000

/** Where somebody is who looks at a project. */
export interface Presence {
  readonly client: string
  readonly author: string
  readonly at: string | null
  readonly asks: boolean
}

/** A new revision, or where somebody is now. */
export type Notice = { readonly project: string; readonly revision: number } | { readonly project: string; readonly presence: Presence }

/** As part of a statement: sent when its transaction commits, to every server instance on this database. */
export function notifying(notice: Notice): SQL {
  return sql`pg_notify(${channel}, ${JSON.stringify(notice)})`
}

export async function notify(db: Connection, notice: Notice): Promise<void> {
  await db.execute(sql`select ${notifying(notice)}`)
}

/** Listens for changes of any instance; connects again by itself when the database was away. */
export class Notifications {
  private readonly events = new EventEmitter().setMaxListeners(0)
  private client: pg.Client | null = null
  private closed = false

  constructor(
    private readonly url: string,
    private readonly log: Logger,
  ) {}

  async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url })
    client.on('notification', ({ payload }) => {
      const notice = JSON.parse(payload ?? '{}') as Notice
      this.events.emit(notice.project, notice)
    })
    client.on('error', () => undefined)
    client.on('end', () => this.reopen())
    await client.connect()
    await client.query(`listen ${channel}`)
    this.client = client
  }

  subscribe(project: string, listener: (notice: Notice) => void): () => void {
    this.events.on(project, listener)
    return () => this.events.off(project, listener)
  }

  async close(): Promise<void> {
    this.closed = true
    await this.client?.end()
  }

  private reopen(): void {
    if (this.closed) return
    this.log.warn('lost the connection for live updates; trying again')
    setTimeout(() => void this.open().catch(() => this.reopen()), retryMs).unref()
  }
}
