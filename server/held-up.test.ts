import { once } from 'node:events'
import { Worker } from 'node:worker_threads'
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { strToU8, zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoProject } from './index'
import { call, demoDatabase, headersOf, startServer, visit, type Running } from './test/client'

let one: Running
const base = `/api/projects/${demoProject.id}`

beforeAll(async () => {
  one = await startServer(await demoDatabase())
  await call(one.url, 'GET', base)
})
afterAll(() => one?.close())

let counter = 0
const command = (what: unknown) =>
  call(one.url, 'POST', `${base}/commands`, {
    commandId: `x${++counter}`,
    baseRevision: 0,
    command: what,
  })
const raw = (path: string, body: string) => call(one.url, 'POST', path, body, null)

/** A thread that does nothing: how long it is kept waiting is what the machine does to everybody. */
const idleThread = `
  const { monitorEventLoopDelay } = require('node:perf_hooks')
  const { parentPort } = require('node:worker_threads')
  const delay = monitorEventLoopDelay({ resolution: 5 })
  delay.enable()
  parentPort.once('message', () => parentPort.postMessage(delay.max))
  parentPort.postMessage('ready')`

/** The longest time that the thread which answers requests was held while something went on, beyond
 *  what an idle one was. */
async function longestBlock(work: () => Promise<unknown>): Promise<number> {
  const idle = new Worker(idleThread, { eval: true })
  await once(idle, 'message')
  const delay = monitorEventLoopDelay({ resolution: 5 })
  delay.enable()
  await work()
  await new Promise((done) => setTimeout(done, 20))
  delay.disable()
  idle.postMessage('end')
  const [idleMax] = (await once(idle, 'message')) as [number]
  await idle.terminate()
  return (delay.max - idleMax) / 1e6
}

describe('no request holds up the others', () => {
  const bomb = (bytes: number) =>
    zipSync({ 'plan.json': strToU8('{},'.repeat(bytes / 3)) }, { level: 9 })
  test.each<[string, () => Promise<unknown>]>([
    [
      '64 MB for a sign-in',
      async () =>
        expect(
          await raw('/api/session', `{"name":"${'x'.repeat(64_000_000)}"}`).catch(() => ({
            status: 413,
          })),
        ).toMatchObject({ status: 413 }),
    ],
    [
      'an archive that unpacks to a thousand times its size',
      async () =>
        expect(await call(one.url, 'POST', '/api/projects/import', bomb(60_000_000))).toMatchObject(
          { status: 422, json: { code: 'import.archive' } },
        ),
    ],
    [
      'a project file of millions of empty rows',
      async () =>
        expect(
          await call(
            one.url,
            'POST',
            '/api/projects/import',
            strToU8(`{"kataxis":1,"modules":[${'{},'.repeat(3_000_000)}{}]}`),
          ),
        ).toMatchObject({ status: 422 }),
    ],
    [
      'a short batch of millions of copies',
      async () => {
        const commands = Array.from({ length: 100 }, (_, k) => ({
          type: 'copyStation',
          sourceId: 'intake-a',
          networkId: 'n-intake',
          copies: Array.from({ length: 1000 }, (_, i) => ({ id: `c${k}-${i}` })),
        }))
        expect(await command({ type: 'batch', label: 'many', commands })).toMatchObject({
          status: 413,
          json: { code: 'change.tooLarge' },
        })
      },
    ],
    [
      'thousands of edits in one command',
      async () => {
        const edits = Array.from({ length: 20_000 }, (_, i) => ({
          id: `big${i}`,
          tag: `B${i}`,
          comment: 'x'.repeat(200),
        }))
        expect(await command({ type: 'editSignals', edits })).toMatchObject({ status: 200 })
        expect(await call(one.url, 'GET', base)).toMatchObject({ status: 200 })
        expect(
          await call(one.url, 'POST', `${base}/undo`, {
            commandId: `u${++counter}`,
            baseRevision: 2,
          }),
        ).toMatchObject({ status: 200 })
      },
    ],
    [
      'every export at once',
      async () => {
        const headers = headersOf(await visit(one, 'A'))
        await Promise.all(
          ['xlsx', 'csv', 'archive', 'kataxis'].map(async (format) =>
            expect((await fetch(`${one.url}${base}/export/${format}`, { headers })).status).toBe(
              200,
            ),
          ),
        )
      },
    ],
    [
      'thirty lines of comment before a format',
      async () => call(one.url, 'POST', '/api/files?name=a.txt', strToU8('; x\r\n'.repeat(5000))),
    ],
    [
      'sign-ins of everybody at once',
      async () => {
        const replies = await Promise.all(
          Array.from({ length: 60 }, (_, i) =>
            raw('/api/session', JSON.stringify({ name: `nobody${i}`, password: 'wrong wrong' })),
          ),
        )
        for (const { status } of replies) expect([401, 429, 503]).toContain(status)
      },
    ],
    // The thread is shared with this test, and the machine with others: what holds it up does so
    // every time.
  ])('%s', { timeout: 60_000, retry: 2 }, async (_, work) => {
    let answered = 0
    const asking = setInterval(
      () =>
        void fetch(`${one.url}/api/health`).then(
          ({ status }) => (answered += Number(status === 200)),
        ),
      50,
    )
    const block = await longestBlock(work)
    clearInterval(asking)
    expect(block).toBeLessThan(200)
    expect((await fetch(`${one.url}/api/health`)).status).toBe(200)
  })
})
