import { Piscina } from 'piscina'
import { ToldByThread, type Problem } from '../http/problem'
import { refusal } from '../services/refusals'
import type { Sent } from '../http/sent'
import { builtFile } from '../paths'

/** `plans`: everything that asks for or changes a plan, one thread, so that it is kept once.
 *  `work`: what may take long, such as imports, exports and whole description files; two threads
 *  that know plans only as long as they are at it. */
export type Desk = 'plans' | 'work'

export interface Call {
  readonly name: string
  readonly sent: Sent
  readonly acceptsBrotli: boolean
}

export interface Answer {
  readonly bytes: Uint8Array
  readonly mediaType: string
  readonly fileName?: string
  readonly isPacked?: boolean
}

/** What a thread sends back: an answer, or a refusal in parts, since errors lose their class on the
 *  way. */
export type Reply = { readonly answer: Answer } | { readonly refused: Omit<Problem, 'isFault'> }

interface Limits {
  readonly threads: number
  /** Whether a thread takes everything at once, as it comes, and puts it in order itself; otherwise
   *  one after the other. */
  readonly takesAll: boolean
  /** After which a thread is ended, and everything else that it is at answers 503 and is sent
   *  again. */
  readonly seconds: number
  readonly memoryMb: number
}

const limits: Readonly<Record<Desk, Limits>> = {
  plans: { threads: 1, takesAll: true, seconds: 240, memoryMb: 4096 },
  work: { threads: 2, takesAll: false, seconds: 180, memoryMb: 3072 },
}
/** Requests of one desk at a time; more are refused. */
const mostUnanswered = 1000
/** Room for what is new: whole plans and catalogs live on, and copying them again and again
 *  costs. */
const youngGenerationMb = 96

/** What a thread is asked for before anybody else asks. */
export const warmUp = 'warm up'

/** Threads that do what the HTTP thread must not wait for. */
export class Desks {
  private readonly pools: Readonly<Record<Desk, Piscina>>
  private readonly unanswered = { plans: 0, work: 0 }

  constructor(settings: { readonly databaseUrl: string; readonly isDemo: boolean }) {
    const pool = (desk: Desk) =>
      new Piscina({
        filename: builtFile('engine'),
        minThreads: desk === 'plans' ? 1 : 0,
        maxThreads: limits[desk].threads,
        // The pool's own way gives a thread one task at a time where tasks can be stopped.
        ...(limits[desk].takesAll && { loadBalancer: (_task, [first]) => first ?? null }),
        // First come, first served.
        stricterFIFO: true,
        idleTimeout: 60_000,
        // Otherwise an idle thread waits in a way that lets no connection be heard.
        atomics: 'disabled',
        workerData: { ...settings, desk },
        resourceLimits: {
          maxOldGenerationSizeMb: limits[desk].memoryMb,
          maxYoungGenerationSizeMb: youngGenerationMb,
        },
      })
    this.pools = { plans: pool('plans'), work: pool('work') }
    for (const one of Object.values(this.pools)) one.on('error', () => undefined)
  }

  async run(desk: Desk, call: Call): Promise<Answer> {
    if (this.unanswered[desk] >= mostUnanswered) throw refusal('server.busy')
    const { body } = call.sent
    // Large bodies change hands; small ones share a buffer with others and are copied.
    const transferList =
      body.byteLength > 0 && body.byteLength === body.buffer.byteLength
        ? [body.buffer as ArrayBuffer]
        : []
    const stop = new AbortController()
    this.unanswered[desk]++
    const timer = setTimeout(() => stop.abort(), limits[desk].seconds * 1000)
    try {
      const reply = (await this.pools[desk].run(call, {
        signal: stop.signal,
        transferList,
      })) as Reply
      if ('answer' in reply) return reply.answer
      throw new ToldByThread({ ...reply.refused, isFault: false })
    } catch (error) {
      if (stop.signal.aborted) throw refusal('request.tooLong', limits[desk].seconds)
      throw error
    } finally {
      clearTimeout(timer)
      this.unanswered[desk]--
    }
  }

  /** Reads and writes the plans that were begun last, so that the first one to open them does not
   *  wait for it. */
  async warm(): Promise<void> {
    await this.pools.plans.run(warmUp).catch(() => undefined)
  }

  async close(): Promise<void> {
    await Promise.all(Object.values(this.pools).map((pool) => pool.destroy()))
  }
}
