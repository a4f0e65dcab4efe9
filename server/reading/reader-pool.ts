import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { Refused } from '../http/refused'
import type { Reading, ReadingTask } from './reader'

/** Longest time for one upload; a 30 MB file takes one to three seconds. */
export const readingTimeoutMs = 60_000

/** Room for what is new: a catalog lives on, and copying it again and again costs a fifth of reading. Three halves of 32 MB, measured by `npm run bench`. */
const youngGenerationMb = 96

/** Reads description files in worker threads with bounded memory and time, so that the server goes on answering meanwhile. */
export class ReaderPool {
  private readonly pool = new Piscina({
    filename: fileURLToPath(new URL('./reader.ts', import.meta.url)),
    execArgv: ['--import', 'tsx'],
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: 30_000,
    maxQueue: 500,
    resourceLimits: { maxOldGenerationSizeMb: 1024, maxYoungGenerationSizeMb: youngGenerationMb },
  })

  async read(task: ReadingTask): Promise<Reading[]> {
    const stop = new AbortController()
    const timer = setTimeout(() => stop.abort(), readingTimeoutMs)
    try {
      return (await this.pool.run(task, { signal: stop.signal })) as Reading[]
    } catch (error) {
      if (stop.signal.aborted) throw new Refused(422, 'file.time', `${task.name}: reading took longer than ${readingTimeoutMs / 1000} s and was stopped.`)
      if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') throw new Refused(422, 'file.memory', `${task.name}: reading needs more than 1 GB of memory and was stopped.`)
      throw error
    } finally {
      clearTimeout(timer)
    }
  }

  async close(): Promise<void> {
    await this.pool.destroy()
  }
}
