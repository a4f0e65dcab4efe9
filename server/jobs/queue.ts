import PgBoss from 'pg-boss'
import type { Logger } from 'pino'

const queue = 'jobs'
/** An instance looks for work so often even where nobody tells it. */
const pollingIntervalSeconds = 2
/** Longest that one takes; after that another instance may be given it. */
const expireInSeconds = 900

/** Which instance does a job: a queue in PostgreSQL that all instances share. It hands each job to
 *  one of them; what the job is and how far it has come stands in our own tables. */
export class JobQueue {
  private readonly boss: PgBoss
  private worker = ''

  constructor(
    databaseUrl: string,
    private readonly work: (id: string) => Promise<void>,
    log: Logger,
  ) {
    this.boss = new PgBoss({ connectionString: databaseUrl, max: 2, schedule: false })
    this.boss.on('error', (error) => log.warn({ error }, 'the queue of jobs'))
  }

  async open(): Promise<void> {
    await this.boss.start()
    await this.boss.createQueue(queue, { name: queue, retryLimit: 2, expireInSeconds })
    this.worker = await this.boss.work<{ id: string }>(
      queue,
      { batchSize: 1, pollingIntervalSeconds },
      async ([job]) => {
        if (job) await this.work(job.data.id)
      },
    )
  }

  async send(id: string): Promise<void> {
    await this.boss.send(queue, { id })
    this.boss.notifyWorker(this.worker)
  }

  async close(): Promise<void> {
    await this.boss.stop({ graceful: false, wait: true })
  }
}
