import pLimit from 'p-limit'
import { Piscina } from 'piscina'
import { refusal } from '../services/refusals'
import { builtFile } from '../paths'
import { refused, type Reader, type Reading, type ReadingTask } from './read'

/** Longest time for one file while it is read, waiting not counted; one of 30 MB takes one to three
 *  seconds. */
const readingTimeoutMs = 60_000
const atOnce = 2
const mostWaiting = 500

/** Room for what is new: a catalog lives on, and copying it again and again costs a fifth of
 *  reading. Three halves of 32 MB, measured by `npm run bench`. */
const youngGenerationMb = 96

/** Reads description files in worker threads with bounded memory and time, so that the server goes
 *  on answering meanwhile. */
export class ReaderPool implements Reader {
  private readonly pool = new Piscina({
    filename: builtFile('reader'),
    minThreads: 0,
    maxThreads: atOnce,
    idleTimeout: 30_000,
    atomics: 'disabled',
    resourceLimits: { maxOldGenerationSizeMb: 1024, maxYoungGenerationSizeMb: youngGenerationMb },
  })
  private readonly queue = pLimit(atOnce)

  /** What a package holds, or the file itself. */
  async unpack(task: ReadingTask): Promise<(ReadingTask | Reading)[]> {
    if (this.queue.pendingCount >= mostWaiting) throw refusal('server.busyReading')
    return this.queue(() => this.run<(ReadingTask | Reading)[]>(task, 'unpack')).catch(
      (error: unknown) => [this.refusedBy(error, task.name)],
    )
  }

  /** One file. Each has the limits for itself, so that a bad one does not refuse its neighbours. */
  async read(task: ReadingTask): Promise<Reading> {
    return this.queue(() => this.run<Reading>(task, 'read')).catch((error: unknown) =>
      this.refusedBy(error, task.name),
    )
  }

  async close(): Promise<void> {
    await this.pool.destroy()
  }

  private async run<T>(task: ReadingTask, what: 'unpack' | 'read'): Promise<T> {
    const stop = new AbortController()
    const timer = setTimeout(() => stop.abort(new TooLong()), readingTimeoutMs)
    try {
      // Bytes are copied on their way: whoever sent them may need them again.
      return (await this.pool.run({ ...task, what }, { signal: stop.signal })) as T
    } catch (error) {
      throw stop.signal.aborted ? new TooLong() : error
    } finally {
      clearTimeout(timer)
    }
  }

  private refusedBy(error: unknown, name: string): Reading {
    if (error instanceof TooLong)
      return refused(
        name,
        'file.time',
        `reading took longer than ${readingTimeoutMs / 1000} s and was stopped.`,
      )
    if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
      return refused(name, 'file.memory', 'reading needs more than 1 GB of memory and was stopped.')
    throw error
  }
}

class TooLong extends Error {}
