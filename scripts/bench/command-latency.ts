import { spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
// Plain Node, without types: the same set-up that `npm start` uses.
import { startPostgres } from '../setup/postgres.mjs'
import { median, type Ratio } from './measure'

const root = fileURLToPath(new URL('../..', import.meta.url))
const home = fileURLToPath(new URL('../../.kataxis-bench', import.meta.url))
const editors = 20
const everyMs = 500
const windowMs = 4000
const windows = 5
const port = 4690

/** p95 of a command over HTTP on the 128,000-channel plan with 20 editors at two commands a second each, against p95 of a bare
 *  one-row INSERT on the same PostgreSQL under as many connections at the same pace; windows of both in turn. */
export async function measureCommandLatency(): Promise<Ratio> {
  rmSync(home, { recursive: true, force: true })
  const postgres = await startPostgres(home)
  const server = spawn(process.execPath, ['server/dist/main.js'], { cwd: root, stdio: 'ignore', env: { ...process.env, KATAXIS_LOG: '/dev/null', DATABASE_URL: postgres.url, PORT: String(port), KATAXIS_DEMO: 'large' } })
  const pool = new pg.Pool({ connectionString: postgres.url, max: editors })
  try {
    const base = `http://127.0.0.1:${port}/api`
    await until(async () => (await fetch(`${base}/health`)).ok)
    const entered = await fetch(`${base}/session`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ name: 'planner', password: 'skarvholm' }) })
    const headers = { Cookie: entered.headers.get('set-cookie')!.split(';')[0]!, 'X-Kataxis-Token': ((await entered.json()) as { csrf: string }).csrf }
    await pool.query('create table if not exists bench_rows (id serial primary key, text text not null)')
    const insert = () => pool.query('insert into bench_rows (text) values ($1)', ['S1_M1_C1'])
    const { revision } = (await (await fetch(`${base}/projects/large`, { headers })).json()) as { revision: number }
    const seen = Array.from({ length: editors }, () => revision)
    let number = 0
    const command = async (editor: number) => {
      const id = `s${editor * 20}.1-${number++ % 16}`
      const response = await fetch(`${base}/projects/large/commands`, {
        method: 'POST',
        headers: { ...headers, 'Content-Type': 'application/json' },
        body: JSON.stringify({ commandId: `bench-${number}`, baseRevision: seen[editor], command: { type: 'editSignals', edits: [{ id, tag: `E${editor}_${number}` }] } }),
      })
      const { entries } = (await response.json()) as { entries: { revision: number }[] }
      if (!response.ok) throw new Error(`a command was answered with ${response.status}`)
      seen[editor] = entries.at(-1)!.revision
    }
    await inWindow(command)
    await inWindow(insert)
    const ours: number[] = []
    const reference: number[] = []
    for (let i = 0; i < windows; i++) {
      ours.push(p95(await inWindow(command)))
      reference.push(p95(await inWindow(insert)))
    }
    const [oursMs, referenceMs] = [median(ours), median(reference)]
    return { ratio: oursMs / referenceMs, oursMs, referenceMs }
  } finally {
    server.kill('SIGTERM')
    await new Promise((done) => server.once('exit', done))
    await pool.end()
    postgres.stop()
    rmSync(home, { recursive: true, force: true })
  }
}

/** Every editor works at its own pace, begun at times spread over the first interval; gives each round trip in ms. */
async function inWindow(work: (editor: number) => Promise<unknown>): Promise<number[]> {
  const times: number[] = []
  await Promise.all(Array.from({ length: editors }, async (_, editor) => {
    const begin = performance.now() + (editor * everyMs) / editors
    for (let at = begin; at < begin + windowMs; at += everyMs) {
      await new Promise((done) => setTimeout(done, Math.max(0, at - performance.now())))
      const started = performance.now()
      await work(editor)
      times.push(performance.now() - started)
    }
  }))
  return times
}

function p95(times: number[]): number {
  return times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)]!
}

async function until(works: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 600; tries++) {
    if (await works().catch(() => false)) return
    await new Promise((done) => setTimeout(done, 200))
  }
  throw new Error('The server did not come up.')
}
