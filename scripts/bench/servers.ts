import { spawn, type ChildProcess } from 'node:child_process'
import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
// Plain Node, without types: the same set-up that `npm start` uses.
import { nextFree } from '../setup/ports.mjs'
import { startPostgres } from '../setup/postgres.mjs'

const root = fileURLToPath(new URL('../..', import.meta.url))
const home = fileURLToPath(new URL('../../.kataxis-bench', import.meta.url))
const firstPort = 4860

interface Servers {
  readonly databaseUrl: string
  /** Where each instance answers, without `/api`. */
  readonly urls: readonly string[]
}

/** So many instances with the demo and the 128,000-channel plan, on a PostgreSQL of their own. */
export async function withServers<T>(
  instances: number,
  work: (servers: Servers) => Promise<T>,
): Promise<T> {
  rmSync(home, { recursive: true, force: true })
  const postgres = await startPostgres(home)
  const children: ChildProcess[] = []
  const urls: string[] = []
  try {
    for (let port = firstPort; urls.length < instances; port++) {
      port = (await nextFree(port))!
      const url = `http://127.0.0.1:${port}`
      urls.push(url)
      children.push(
        spawn(process.execPath, ['server/dist/main.js'], {
          cwd: root,
          stdio: 'ignore',
          env: {
            ...process.env,
            KATAXIS_LOG: '/dev/null',
            DATABASE_URL: postgres.url,
            PORT: String(port),
            KATAXIS_DEMO: 'large',
          },
        }),
      )
      await until(async () => (await fetch(`${url}/api/health`)).ok)
    }
    return await work({ databaseUrl: postgres.url, urls })
  } finally {
    for (const child of children) child.kill('SIGTERM')
    await Promise.all(
      children.map((child) => child.exitCode ?? new Promise((done) => child.once('exit', done))),
    )
    postgres.stop()
    rmSync(home, { recursive: true, force: true })
  }
}

async function until(works: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 600; tries++) {
    if (await works().catch(() => false)) return
    await new Promise((done) => setTimeout(done, 200))
  }
  throw new Error('The server did not come up.')
}
