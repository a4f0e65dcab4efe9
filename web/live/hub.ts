import { tabId } from '../local/work'
import type { JobView } from '@kataxis/core'
import type { Presence } from '../api/client'

/** What is heard of a project, in every window that looks at it. */
export interface Listener {
  readonly revision: (revision: number, epoch: string | null) => void
  readonly presence: (presence: Presence) => void
  /** A job of whoever is signed in, whatever project is open. */
  readonly job: (job: JobView) => void
  /** Whether the server can be heard at the moment. */
  readonly heard: (isUp: boolean) => void
}

type Message =
  | { readonly kind: 'follows'; readonly tab: string; readonly project: string | null }
  | { readonly kind: 'who follows' }
  | {
      readonly kind: 'revision'
      readonly project: string
      readonly revision: number
      readonly epoch: string | null
    }
  | { readonly kind: 'presence'; readonly project: string; readonly presence: Presence }
  | { readonly kind: 'job'; readonly job: JobView }
  | { readonly kind: 'up'; readonly isUp: boolean }

const leaderLock = 'kataxis.live'
const firstRetryMs = 1000
const longestRetryMs = 15_000
/** Windows that open together get one stream together. */
const gatherMs = 60

/** One stream of events a browser, however many windows it has: over HTTP/1.1 six streams would
 *  leave no connection for anything else. The window that holds the lock listens for all and passes
 *  on what it hears; when it goes the next one takes over. */
class Hub {
  private readonly channel = new BroadcastChannel('kataxis.live')
  private readonly followers = new Map<string, string>()
  private project: string | null = null
  private listener: Listener | null = null
  private isLeader = false
  private stream: EventSource | null = null
  private streamed = ''
  private retryMs = firstRetryMs
  private timer: ReturnType<typeof setTimeout> | null = null
  private hasBegun = false

  follow(project: string, listener: Listener): () => void {
    this.begin()
    this.project = project
    this.listener = listener
    this.sayWhatIsFollowed()
    return () => {
      if (this.listener !== listener) return
      this.project = this.listener = null
      this.sayWhatIsFollowed()
    }
  }

  private begin(): void {
    if (this.hasBegun) return
    this.hasBegun = true
    this.channel.onmessage = ({ data }) => this.hear(data as Message)
    addEventListener('pagehide', () => this.post({ kind: 'follows', tab: tabId, project: null }))
    if (!navigator.locks) return this.lead()
    void navigator.locks.request(leaderLock, () => {
      this.lead()
      return new Promise<never>(() => undefined)
    })
  }

  private lead(): void {
    this.isLeader = true
    this.post({ kind: 'who follows' })
    this.sayWhatIsFollowed()
  }

  private sayWhatIsFollowed(): void {
    const message: Message = { kind: 'follows', tab: tabId, project: this.project }
    this.post(message)
    this.hear(message)
  }

  private post(message: Message): void {
    this.channel.postMessage(message)
  }

  /** For everybody, this window included. */
  private tell(message: Message): void {
    this.post(message)
    this.hear(message)
  }

  private hear(message: Message): void {
    if (message.kind === 'who follows')
      return this.post({ kind: 'follows', tab: tabId, project: this.project })
    if (message.kind === 'follows') {
      if (message.project === null) this.followers.delete(message.tab)
      else this.followers.set(message.tab, message.project)
      if (this.isLeader) this.gather()
      return
    }
    if (message.kind === 'up') return this.listener?.heard(message.isUp)
    if (message.kind === 'job') return this.listener?.job(message.job)
    if (message.project !== this.project) return
    if (message.kind === 'revision') this.listener?.revision(message.revision, message.epoch)
    else this.listener?.presence(message.presence)
  }

  private gather(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = setTimeout(() => this.listen(), gatherMs)
  }

  private listen(): void {
    const projects = [...new Set(this.followers.values())].sort()
    const wanted = projects.map((project) => `project=${encodeURIComponent(project)}`).join('&')
    if (wanted === this.streamed && this.stream) return
    this.stream?.close()
    this.stream = null
    this.streamed = wanted
    if (wanted === '') return
    const stream = (this.stream = new EventSource(`/api/events?${wanted}`))
    stream.onopen = () => {
      this.retryMs = firstRetryMs
      this.tell({ kind: 'up', isUp: true })
    }
    stream.addEventListener('revision', ({ data }) => {
      const {
        project,
        revision,
        epoch = null,
      } = JSON.parse(data as string) as { project: string; revision: number; epoch?: string }
      this.tell({ kind: 'revision', project, revision, epoch })
    })
    stream.addEventListener('presence', ({ data }) => {
      const { project, presence } = JSON.parse(data as string) as {
        project: string
        presence: Presence
      }
      this.tell({ kind: 'presence', project, presence })
    })
    stream.addEventListener('job', ({ data }) =>
      this.tell({ kind: 'job', job: JSON.parse(data as string) as JobView }),
    )
    stream.onerror = () => {
      if (this.stream !== stream) return
      this.tell({ kind: 'up', isUp: false })
      // A browser gives up for good when the answer is no event stream, as while the server starts
      // or nobody is signed in.
      if (stream.readyState !== EventSource.CLOSED) return
      this.stream = null
      this.timer = setTimeout(() => this.listen(), this.retryMs * (0.7 + Math.random() * 0.6))
      this.retryMs = Math.min(longestRetryMs, this.retryMs * 2)
    }
  }
}

export const hub = new Hub()
