import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { readdirSync, readFileSync, rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
// Plain Node, without types: the same set-up that `npm start` uses.
import { nextFree } from '../setup/ports.mjs'
import { removePostgres, startPostgres } from '../setup/postgres.mjs'

const root = fileURLToPath(new URL('../..', import.meta.url))
const home = fileURLToPath(new URL('../../.kataxis-faults', import.meta.url))

export const pause = (ms: number) => new Promise<void>((done) => setTimeout(done, ms))

/** One server instance that is started again when it ends. */
export class Instance {
  private child: ChildProcess | null = null
  private isOver = false
  readonly url: string

  constructor(
    readonly port: number,
    private readonly databaseUrl: string,
  ) {
    this.url = `http://127.0.0.1:${port}/api`
  }

  get pid(): number | undefined {
    return this.child?.pid
  }

  async start(): Promise<void> {
    this.child = spawn(process.execPath, ['server/dist/main.js'], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      env: {
        ...process.env,
        DATABASE_URL: this.databaseUrl,
        PORT: String(this.port),
        KATAXIS_DEMO: 'works',
        KATAXIS_LOG: `${home}/server-${this.port}.log`,
      },
    })
    this.child.on(
      'exit',
      () => void pause(500).then(() => (this.isOver ? undefined : this.start())),
    )
    await until(async () => (await fetch(`${this.url}/health`)).ok, 60_000)
  }

  kill(): void {
    this.child?.kill('SIGKILL')
  }

  async stop(): Promise<void> {
    this.isOver = true
    const ended = new Promise((done) => this.child?.once('exit', done))
    this.child?.kill('SIGTERM')
    await Promise.race([ended, pause(25_000)])
    this.child?.kill('SIGKILL')
  }
}

/** Two instances on one database, all of their own. */
export class Plant {
  private constructor(
    private readonly postgres: Awaited<ReturnType<typeof startPostgres>>,
    readonly instances: readonly [Instance, Instance],
  ) {}

  static async build(): Promise<Plant> {
    removePostgres(home)
    const postgres = await startPostgres(home)
    const first = (await nextFree(4820))!
    const instances = [
      new Instance(first, postgres.url),
      new Instance((await nextFree(first + 1))!, postgres.url),
    ] as const
    for (const instance of instances) await instance.start()
    return new Plant(postgres, instances)
  }

  get databaseUrl(): string {
    return this.postgres.url
  }

  killDatabase(): void {
    process.kill(this.postmaster, 'SIGKILL')
  }

  async startDatabase(): Promise<void> {
    await until(async () => {
      await this.postgres.startAgain()
      return true
    }, 60_000)
  }

  /** The database is gone for a while; gives the time from its return until each instance says that
   *  it has it. */
  async outage(seconds: number): Promise<number> {
    this.postgres.stop()
    await pause(seconds * 1000)
    await this.startDatabase()
    const began = performance.now()
    for (const { url } of this.instances)
      await until(async () => (await fetch(`${url}/health`)).ok, 60_000)
    return Math.round(performance.now() - began)
  }

  async end(): Promise<void> {
    await Promise.all(this.instances.map((instance) => instance.stop()))
    this.postgres.stop()
    removePostgres(home)
    rmSync(home, { recursive: true, force: true })
  }

  private get postmaster(): number {
    return Number(
      readFileSync(`${this.postgres.folder}/data/postmaster.pid`, 'utf8').split('\n')[0],
    )
  }
}

export async function until(works: () => Promise<boolean>, withinMs: number): Promise<void> {
  for (const end = Date.now() + withinMs; Date.now() < end; await pause(50))
    if (await works().catch(() => false)) return
  throw new Error(`It did not come back within ${withinMs / 1000} s.`)
}

export const descriptorsOf = (pid: number) => readdirSync(`/proc/${pid}/fd`).length
export const memoryMbOf = (pid: number) =>
  Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024)

/** Whether a small file system in memory can be mounted here. */
export function mountSmall(folder: string, megabytes: number): boolean {
  return (
    spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m,mode=755`, 'tmpfs', folder], {
      stdio: 'ignore',
    }).status === 0
  )
}
export const unmount = (folder: string) =>
  void spawnSync('umount', ['-l', folder], { stdio: 'ignore' })
