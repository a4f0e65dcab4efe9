import pg from 'pg'
import { median, type Ratio } from './measure'
import { withServers } from './servers'

const editors = 20
const everyMs = 500
const windowMs = 4000
const windows = 5
/** A program that has just started is slower for a while. */
const warmUpMs = 20_000

type Command = (editor: number, instance?: number) => Promise<void>

/** Has one command of an editor, about a signal of its own on the 128,000-channel plan, over one of
 *  the instances. */
async function commandsOver(urls: readonly string[]): Promise<Command> {
  const bases = urls.map((url) => `${url}/api`)
  const entered = await fetch(`${bases[0]}/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: 'planner', password: 'skarvholm' }),
  })
  const headers = {
    Cookie: entered.headers.get('set-cookie')!.split(';')[0]!,
    'X-Kataxis-Token': ((await entered.json()) as { csrf: string }).csrf,
  }
  let revision = 0
  for (const base of bases)
    ({ revision } = (await (await fetch(`${base}/projects/large`, { headers })).json()) as {
      revision: number
    })
  const seen = Array.from({ length: editors }, () => revision)
  let number = 0
  return async (editor, instance = 0) => {
    const id = `s${editor * 20}.1-${number++ % 16}`
    const response = await fetch(`${bases[instance]}/projects/large/commands`, {
      method: 'POST',
      headers: { ...headers, 'Content-Type': 'application/json' },
      body: JSON.stringify({
        commandId: `bench-${number}`,
        baseRevision: seen[editor],
        command: { type: 'editSignals', edits: [{ id, tag: `E${editor}_${number}` }] },
      }),
    })
    const { entries } = (await response.json()) as { entries: { revision: number }[] }
    if (!response.ok) throw new Error(`a command was answered with ${response.status}`)
    seen[editor] = entries.at(-1)!.revision
  }
}

/** p95 of a command over HTTP on the 128,000-channel plan with 20 editors at two commands a second
 *  each, against p95 of a bare one-row INSERT on the same PostgreSQL under as many connections at
 *  the same pace; windows of both in turn. */
export function measureCommandLatency(): Promise<Ratio> {
  return withServers(1, async ({ databaseUrl, urls }) => {
    const command = await commandsOver(urls)
    const pool = new pg.Pool({ connectionString: databaseUrl, max: editors })
    try {
      await pool.query(
        'create table if not exists bench_rows (id serial primary key, text text not null)',
      )
      const insert = () => pool.query('insert into bench_rows (text) values ($1)', ['S1_M1_C1'])
      await withoutRest(command, 1, warmUpMs)
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
      await pool.end()
    }
  })
}

/** Commands a second of 20 editors who never rest, over two instances on one database against over
 *  one of them, in turn; and how much later the slowest twentieth is answered. */
export function measureTwoInstances(): Promise<{
  ratio: number
  one: number
  two: number
  p95: number
}> {
  return withServers(2, async ({ urls }) => {
    const command = await commandsOver(urls)
    await withoutRest(command, 2, warmUpMs)
    const one: Awaited<ReturnType<typeof withoutRest>>[] = []
    const two: typeof one = []
    for (let i = 0; i < windows; i++) {
      one.push(await withoutRest(command, 1, windowMs))
      two.push(await withoutRest(command, 2, windowMs))
    }
    const rates = [
      median(one.map(({ rate }) => rate)),
      median(two.map(({ rate }) => rate)),
    ] as const
    return {
      ratio: rates[1] / rates[0],
      one: rates[0],
      two: rates[1],
      p95: median(two.map((run) => run.p95)) / median(one.map((run) => run.p95)),
    }
  })
}

/** Every editor sends the next command as soon as the last one is answered, over so many instances;
 *  commands a second and p95 in ms. */
async function withoutRest(command: Command, instances: number, ms: number) {
  const times: number[] = []
  const end = performance.now() + ms
  await Promise.all(
    Array.from({ length: editors }, async (_, editor) => {
      for (let began = performance.now(); began < end; began = performance.now()) {
        await command(editor, editor % instances)
        times.push(performance.now() - began)
      }
    }),
  )
  return { rate: times.length / (ms / 1000), p95: p95(times) }
}

/** Every editor works at its own pace, begun at times spread over the first interval; gives each
 *  round trip in ms. */
async function inWindow(work: (editor: number) => Promise<unknown>): Promise<number[]> {
  const times: number[] = []
  await Promise.all(
    Array.from({ length: editors }, async (_, editor) => {
      const begin = performance.now() + (editor * everyMs) / editors
      for (let at = begin; at < begin + windowMs; at += everyMs) {
        await new Promise((done) => setTimeout(done, Math.max(0, at - performance.now())))
        const started = performance.now()
        await work(editor)
        times.push(performance.now() - started)
      }
    }),
  )
  return times
}

function p95(times: number[]): number {
  return times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)]!
}
