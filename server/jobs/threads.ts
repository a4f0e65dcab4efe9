import { MessageChannel, type MessagePort } from 'node:worker_threads'
import { Piscina } from 'piscina'
import type { ExportName, ExportOptions } from '@kataxis/core'
import type { Problem } from '../http/problem'
import { builtFile } from '../paths'
import type { ReleaseWish } from '../services/handover'

/** What a thread is asked for; it writes the file of the job into the database itself. */
export type WritingTask = {
  readonly jobId: string
  readonly projectId: string
  readonly port: MessagePort
} & (
  | {
      readonly kind: 'export'
      readonly format: ExportName
      readonly options: Partial<ExportOptions>
    }
  | {
      readonly kind: 'release'
      readonly wish: ReleaseWish
      readonly signer: { readonly userId: string; readonly author: string }
    }
)
export type WritingReply =
  | { readonly fileName: string; readonly mediaType: string; readonly bytes: number }
  | { readonly refused: Omit<Problem, 'isFault'> }

type WithoutPort<T> = T extends unknown ? Omit<T, 'port'> : never

export type Report = (done: number, total: number) => void

/** Threads for work that takes long; a thread that is stopped ends at once, whatever it is at. */
export class JobThreads {
  private readonly pool: Piscina

  constructor(databaseUrl: string) {
    this.pool = new Piscina({
      filename: builtFile('job-thread'),
      minThreads: 0,
      maxThreads: 1,
      idleTimeout: 30_000,
      atomics: 'disabled',
      workerData: { databaseUrl },
      resourceLimits: { maxOldGenerationSizeMb: 3072, maxYoungGenerationSizeMb: 96 },
    })
    this.pool.on('error', () => undefined)
  }

  async write(
    task: WithoutPort<WritingTask>,
    report: Report,
    signal: AbortSignal,
  ): Promise<WritingReply> {
    const { port1, port2 } = new MessageChannel()
    port1.on('message', ([done, total]: [number, number]) => report(done, total))
    try {
      return (await this.pool.run(
        { ...task, port: port2 },
        { signal, transferList: [port2] },
      )) as WritingReply
    } finally {
      port1.close()
    }
  }

  async close(): Promise<void> {
    await this.pool.destroy()
  }
}
