import type { Response } from 'express'
import { refusal } from '../services/refusals'
import type { Notifications, ProjectNotice } from './notifications'

/** Streams that one account may have open at a time, and that this instance holds in all. One
 *  browser needs one. */
const mostOfAccount = 24
const mostInAll = 4000
const beatMs = 15_000

interface Stream {
  readonly response: Response
  readonly userId: string
  /** Hash of the session's token. */
  readonly session: string
  readonly projects: ReadonlySet<string>
}

/** Streams of server-sent events: new revisions and presence of some projects, as long as the
 *  session lasts. */
export class Streams {
  private readonly open = new Set<Stream>()
  private readonly stops: (() => void)[]
  private readonly beat = setInterval(() => {
    // A stream that is about to begin has no heading yet, and a beat would write one for it.
    for (const { response } of this.open)
      if (response.headersSent) response.write(': still here\n\n')
  }, beatMs).unref()

  /** `revisionsOf` is asked when a stream begins and after a gap. */
  constructor(
    notifications: Notifications,
    private readonly revisionsOf: (
      projects: readonly string[],
    ) => Promise<{ id: string; revision: number; epoch: string }[]>,
  ) {
    this.stops = [
      notifications.on('project', (notice) => this.pass(notice)),
      notifications.on('job', (job, user) => {
        for (const stream of this.open)
          if (stream.userId === user && stream.response.headersSent) this.write(stream, 'job', job)
      }),
      notifications.on('ended', ({ session, user }) =>
        this.end((stream) => stream.session === session || stream.userId === user),
      ),
      notifications.on('again', () => this.tellAll()),
    ]
  }

  get size(): number {
    return this.open.size
  }

  async begin(stream: Stream): Promise<void> {
    const own = [...this.open].filter(({ userId }) => userId === stream.userId).length
    if (own >= mostOfAccount) throw refusal('streams.many', own)
    if (this.open.size >= mostInAll) throw refusal('server.busyListening')
    const { response } = stream
    // Whoever has left already says so no more.
    if (response.closed) return
    // From here on what happens is heard; what happened until now is told first.
    this.open.add(stream)
    response.on('close', () => this.open.delete(stream))
    try {
      const revisions = await this.revisionsOf([...stream.projects])
      if (!this.open.has(stream)) return void response.end()
      response.writeHead(200, {
        'Content-Type': 'text/event-stream',
        'Cache-Control': 'no-cache, no-transform',
        'X-Accel-Buffering': 'no',
      })
      for (const { id, revision, epoch } of revisions)
        this.write(stream, 'revision', { project: id, revision, epoch })
    } catch (error) {
      this.open.delete(stream)
      throw error
    }
  }

  close(): void {
    clearInterval(this.beat)
    for (const stop of this.stops) stop()
    this.end(() => true)
  }

  private pass(notice: ProjectNotice): void {
    for (const stream of this.open) {
      if (!stream.projects.has(notice.project) || !stream.response.headersSent) continue
      if ('revision' in notice) this.write(stream, 'revision', notice)
      else this.write(stream, 'presence', notice)
    }
  }

  private tellAll(): void {
    const projects = [...new Set([...this.open].flatMap((stream) => [...stream.projects]))]
    void this.revisionsOf(projects).then(
      (found) =>
        found.forEach(({ id, revision, epoch }) => this.pass({ project: id, revision, epoch })),
      () => undefined,
    )
  }

  private end(which: (stream: Stream) => boolean): void {
    for (const stream of [...this.open]) {
      if (!which(stream)) continue
      this.open.delete(stream)
      stream.response.end()
    }
  }

  private write({ response }: Stream, event: string, data: object): void {
    response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`)
  }
}
