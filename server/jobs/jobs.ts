import { randomUUID } from 'node:crypto'
import type { Logger } from 'pino'
import {
  exportFormats,
  newId,
  type ExportName,
  type ExportOptions,
  type JobView,
} from '@kataxis/core'
import type { Database } from '../db/connect'
import type { Notifications } from '../live/notifications'
import * as jobsRepository from '../repositories/jobs'
import type { JobRow } from '../repositories/jobs'
import { findProject } from '../repositories/plans'
import { listVersions } from '../repositories/versions'
import type { ReleaseWish } from '../services/handover'
import { notFound, Refused } from '../services/refused'
import { refusal } from '../services/refusals'
import type { Arrival, Shelf } from '../services/shelf'
import { JobQueue } from './queue'
import { JobThreads, type Report } from './threads'

/** Of one person at a time. */
const mostOpen = 20
const betweenWordsMs = 250
const beatMs = 5000
const silentS = 20

/** What comes of a job that went well. */
type Outcome = Partial<Pick<JobRow, 'fileName' | 'mediaType' | 'bytes' | 'arrivals' | 'sentence'>>

/** Work that takes longer than somebody waits for an answer: begun, told while it goes on, stopped,
 *  and its result. Any instance may do it; it goes on when one of them ends. */
export class Jobs {
  private readonly instance = randomUUID()
  private readonly queue: JobQueue
  private readonly threads: JobThreads
  private readonly running = new Map<string, { stop: AbortController; ended: Promise<void> }>()
  private isClosing = false
  private opened: Promise<void> | null = null
  private timer: NodeJS.Timeout | null = null

  constructor(
    databaseUrl: string,
    private readonly db: Database,
    private readonly shelf: Shelf,
    notifications: Notifications,
    private readonly log: Logger,
  ) {
    this.queue = new JobQueue(databaseUrl, (id) => this.work(id), log)
    this.threads = new JobThreads(databaseUrl)
    notifications.on('job', ({ id, state }) => {
      if (state === 'cancelled') this.running.get(id)?.stop.abort()
    })
  }

  /** Takes part in the work from now on; tried again by itself while the database is away. */
  open(): Promise<void> {
    this.opened ??= this.queue
      .open()
      .then(() => this.look())
      .then(() => {
        this.timer = setInterval(() => void this.look().catch(() => undefined), beatMs).unref()
      })
      .catch((error: unknown) => {
        this.opened = null
        throw error
      })
    return this.opened
  }

  async beginExport(
    userId: string,
    projectId: string,
    format: ExportName,
    options: Partial<ExportOptions> = {},
  ): Promise<JobView> {
    const head = await findProject(this.db, projectId)
    if (!head) throw notFound('project')
    return this.begin(userId, {
      kind: 'export',
      projectId,
      wish: { format, options: JSON.stringify(options) },
      words: `${exportFormats[format].label} · ${head.project.name}`,
    })
  }

  /** A hand-over of the plan as it is when the job is done, signed by who asks for it. */
  async beginRelease(
    { userId, author }: { readonly userId: string; readonly author: string },
    projectId: string,
    wish: ReleaseWish,
  ): Promise<JobView> {
    const head = await findProject(this.db, projectId)
    if (!head) throw notFound('project')
    const names = await listVersions(this.db, projectId)
    if (names.some(({ name }) => name === wish.name)) throw refusal('version.exists', wish.name)
    return this.begin(userId, {
      kind: 'release',
      projectId,
      wish: { release: JSON.stringify(wish), author },
      words: `Release ${wish.name} · ${head.project.name}`,
    })
  }

  async beginReading(userId: string, name: string, content: Uint8Array): Promise<JobView> {
    return this.begin(
      userId,
      { kind: 'read', projectId: null, wish: { name }, words: `Reading ${name}` },
      content,
    )
  }

  async list(userId: string): Promise<JobView[]> {
    return (await jobsRepository.jobsOf(this.db, userId)).map(jobsRepository.viewOf)
  }

  async outcome(userId: string, id: string) {
    const row = await this.find(userId, id)
    return { job: jobsRepository.viewOf(row), arrivals: row.arrivals as Arrival[] }
  }

  async cancel(userId: string, id: string): Promise<JobView> {
    const row = await this.find(userId, id)
    const cancelled = await jobsRepository.cancel(this.db, id)
    this.running.get(id)?.stop.abort()
    return jobsRepository.viewOf(cancelled ?? row)
  }

  async forget(userId: string, id: string): Promise<void> {
    await this.find(userId, id)
    if (!(await jobsRepository.forget(this.db, userId, id))) throw refusal('job.open')
  }

  /** What this instance is at goes back to the others. */
  async close(): Promise<void> {
    this.isClosing = true
    if (this.timer) clearInterval(this.timer)
    const wasOpened = await this.opened?.then(
      () => true,
      () => false,
    )
    for (const { stop } of this.running.values()) stop.abort()
    await Promise.allSettled([...this.running.values()].map(({ ended }) => ended))
    if (wasOpened) await jobsRepository.giveBack(this.db, this.instance).catch(() => undefined)
    if (wasOpened) await this.queue.close().catch(() => undefined)
    await this.threads.close()
  }

  private async begin(
    userId: string,
    wanted: Pick<JobRow, 'kind' | 'projectId' | 'wish' | 'words'>,
    content?: Uint8Array,
  ): Promise<JobView> {
    if ((await jobsRepository.openJobsOf(this.db, userId)) >= mostOpen)
      throw refusal('jobs.many', mostOpen)
    await this.open()
    const row = await this.db.transaction(async (tx) => {
      const made = await jobsRepository.insertJob(tx, { id: newId('j-'), userId, ...wanted })
      if (content) await jobsRepository.keepFile(tx, made.id, content)
      return made
    })
    await this.queue.send(row.id)
    return jobsRepository.viewOf(row)
  }

  private async find(userId: string, id: string): Promise<JobRow> {
    const row = await jobsRepository.findJob(this.db, userId, id)
    if (!row) throw notFound('job')
    return row
  }

  /** Says that this instance is alive, and hands out what dead ones left. */
  private async look(): Promise<void> {
    await jobsRepository.beat(this.db, this.instance)
    for (const id of await jobsRepository.takeOrphans(this.db, silentS)) await this.queue.send(id)
  }

  private async work(id: string): Promise<void> {
    if (this.isClosing) return jobsRepository.leave(this.db, id)
    const stop = new AbortController()
    const ended = this.carryOut(id, stop.signal)
    this.running.set(id, { stop, ended })
    await ended.finally(() => this.running.delete(id))
  }

  private async carryOut(id: string, signal: AbortSignal): Promise<void> {
    const row = await jobsRepository.claim(this.db, id, this.instance)
    if (!row) return
    try {
      signal.throwIfAborted()
      const outcome = await this.kinds[row.kind](row, this.reporter(id), signal)
      await jobsRepository.finish(this.db, id, this.instance, { state: 'done', ...outcome })
    } catch (error) {
      // Cancelled, or given back to the others.
      if (signal.aborted) return
      if (!(error instanceof Refused)) this.log.error({ error, job: id }, 'a job failed')
      const sentence =
        error instanceof Refused ? error.message : 'Something went wrong in the program.'
      await jobsRepository.finish(this.db, id, this.instance, { state: 'failed', sentence })
    }
  }

  private readonly kinds: Readonly<
    Record<JobRow['kind'], (row: JobRow, report: Report, signal: AbortSignal) => Promise<Outcome>>
  > = {
    export: ({ id, projectId, wish }, report, signal) =>
      this.written(
        {
          ...{ kind: 'export', jobId: id, projectId: projectId! },
          format: wish['format'] as ExportName,
          options: JSON.parse(wish['options'] ?? '{}') as Partial<ExportOptions>,
        },
        report,
        signal,
      ),
    release: ({ id, projectId, userId, wish }, report, signal) =>
      this.written(
        {
          ...{ kind: 'release', jobId: id, projectId: projectId! },
          wish: JSON.parse(wish['release']!) as ReleaseWish,
          signer: { userId, author: wish['author']! },
        },
        report,
        signal,
      ),
    read: async ({ id, wish }, report, signal) => {
      const content = await jobsRepository.loadFile(this.db, id)
      if (!content) throw notFound('file of a job')
      const arrivals = await this.shelf.add(wish['name']!, content, report, signal)
      await jobsRepository.dropFile(this.db, id)
      const count = (state: Arrival['state']) =>
        arrivals.filter((arrival) => arrival.state === state).length
      return {
        arrivals,
        sentence: `${count('new')} new, ${count('known')} known, ${count('refused')} refused`,
      }
    },
  }

  /** What a thread has written. */
  private async written(
    task: Parameters<JobThreads['write']>[0],
    report: Report,
    signal: AbortSignal,
  ): Promise<Outcome> {
    const reply = await this.threads.write(task, report, signal)
    if ('refused' in reply)
      throw new Refused('impossible', reply.refused.code, reply.refused.detail)
    return reply
  }

  /** Tells how far a job is, now and then. */
  private reporter(id: string): Report {
    let last = 0
    return (done, total) => {
      const now = Date.now()
      if (now - last < betweenWordsMs) return
      last = now
      void jobsRepository
        .tellProgress(this.db, id, this.instance, { done, total })
        .catch(() => undefined)
    }
  }
}
