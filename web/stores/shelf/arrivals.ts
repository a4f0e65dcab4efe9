import { computed, ref } from 'vue'
import type { Problem } from '@kataxis/core'
import { api, RefusedByServer, type Arrived } from '../../api/client'
import type { useJobs } from '../jobs'

/** One file on its way to the Shelf, or what became of it. */
export interface Arrival {
  readonly id: number
  readonly name: string
  readonly state: 'waiting' | 'sending' | 'reading' | 'cancelled' | Arrived['state']
  /** Share of it that is sent, 0 to 1. */
  readonly sent: number
  /** Files of a package that have been read, of how many. */
  readonly done?: number
  readonly total?: number
  readonly sha256: string | null
  readonly sentence: string
  readonly problems: readonly Problem[]
  /** Still there for a refused file, so that its lines can be shown. */
  readonly file: File | null
}

const atOnce = 3
const underWay: ReadonlySet<Arrival['state']> = new Set(['waiting', 'sending', 'reading'])

/** Files on their way to the Shelf: a few at a time, each one's state seen in `list`. */
export class Arrivals {
  readonly list = ref<Arrival[]>([])
  readonly isArriving = computed(() => this.list.value.some(({ state }) => underWay.has(state)))
  private nextId = 0
  private cancelling = new AbortController()

  constructor(private readonly jobs: ReturnType<typeof useJobs>) {}

  async add(incoming: readonly File[]): Promise<void> {
    if (!this.isArriving.value) this.cancelling = new AbortController()
    const { signal } = this.cancelling
    const queue = incoming.map((file): Arrival => ({
      id: this.nextId++,
      name: file.name,
      state: 'waiting',
      sent: 0,
      sha256: null,
      sentence: '',
      problems: [],
      file,
    }))
    this.list.value = [...queue, ...this.list.value]
    const work = async () => {
      for (let next = queue.shift(); next; next = queue.shift()) await this.bringIn(next, signal)
    }
    await Promise.all(Array.from({ length: atOnce }, work))
  }

  private async bringIn(arrival: Arrival, signal: AbortSignal): Promise<void> {
    const { id, file, name } = arrival
    const cancelled: Arrival = {
      ...arrival,
      state: 'cancelled',
      sentence: `${name} was not brought in.`,
      file: null,
    }
    if (signal.aborted || !file) return this.replace(id, [cancelled])
    try {
      const arrived = await this.send(id, file, signal)
      this.replace(
        id,
        arrived.map((one) => ({ ...one, id: this.nextId++, sent: 1, file: null })),
      )
    } catch (error) {
      const refused: Arrival = {
        ...arrival,
        state: 'refused',
        sent: 1,
        sentence: (error as Error).message,
        problems: error instanceof RefusedByServer ? error.problems : [],
      }
      this.replace(id, [signal.aborted ? cancelled : refused])
    }
  }

  private async send(id: number, file: File, signal: AbortSignal): Promise<readonly Arrived[]> {
    this.change(id, { state: 'sending' })
    const onSent = (sent: number) =>
      this.change(id, { sent, state: sent < 1 ? 'sending' : 'reading' })
    return /\.zip$/i.test(file.name)
      ? this.readPackage(id, file, onSent, signal)
      : (await api.addFile(file, onSent, signal)).arrivals
  }

  /** What a package holds is read as a job, which tells how far it is. */
  private async readPackage(
    id: number,
    file: File,
    onSent: (share: number) => void,
    signal: AbortSignal,
  ): Promise<readonly Arrived[]> {
    const { jobs } = this
    const { job } = await api.beginReading(file, onSent, signal)
    const stop = () => void jobs.cancel(job.id).catch(() => undefined)
    signal.addEventListener('abort', stop)
    const over = jobs.untilOver(job.id, ({ done, total }) => this.change(id, { done, total }))
    jobs.put(job)
    const { state, sentence } = await over
    signal.removeEventListener('abort', stop)
    if (state === 'failed') throw new Error(sentence)
    const { arrivals } = await api.jobOutcome(job.id)
    if (state === 'done') void jobs.forget(job.id).catch(() => undefined)
    return arrivals
  }

  private change(id: number, set: Partial<Arrival>): void {
    this.list.value = this.list.value.map((arrival) =>
      arrival.id === id ? { ...arrival, ...set } : arrival,
    )
  }

  private replace(id: number, by: Arrival[]): void {
    this.list.value = this.list.value.flatMap((arrival) => (arrival.id === id ? by : [arrival]))
  }

  readonly cancel = (): void => this.cancelling.abort()

  readonly forget = (): void => {
    this.list.value = []
  }

  /** What became of a file is no longer told when the file is gone. */
  forgetFile(sha256: string): void {
    this.list.value = this.list.value.filter((arrival) => arrival.sha256 !== sha256)
  }
}
