import { once } from 'node:events'
import { Worker } from 'node:worker_threads'
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { strToU8, zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoProject } from './index'
import { demoDatabase, headersOf, startServer, visit, type Running } from './test/client'

let one: Running
const base = `/api/projects/${demoProject.id}`

beforeAll(async () => {
  one = await startServer(await demoDatabase())
  await ask('GET', base, undefined, await signedIn())
})
afterAll(() => one?.close())

let counter = 0
const commandBody = (command: unknown) =>
  JSON.stringify({ commandId: `x${++counter}`, baseRevision: 0, command })

interface Answer {
  readonly status: number
  readonly code?: string
}
type Body = string | Uint8Array

/** Another program's side of a request: a thread of its own, so that the one which answers does
 *  nothing else. It reads an answer whole and says its status and the code of a refusal. */
const otherSide = `
  const { parentPort } = require('node:worker_threads')
  parentPort.on('message', async ({ id, url, init }) => {
    try {
      const response = await fetch(url, init)
      const text = await response.text()
      const refused = response.status >= 400 && text.startsWith('{')
      parentPort.postMessage({
        id, answer: { status: response.status, ...(refused && { code: JSON.parse(text).code }) },
      })
    } catch {
      parentPort.postMessage({ id, answer: { status: 0 } })
    }
  })`
const other = new Worker(otherSide, { eval: true })
const waiting = new Map<number, (answer: Answer) => void>()
other.on('message', ({ id, answer }: { id: number; answer: Answer }) => waiting.get(id)!(answer))
afterAll(() => other.terminate())

/** Asks from that side; without `by` nobody is signed in. */
function ask(method: string, path: string, body?: Body, by?: Record<string, string>) {
  const id = ++counter
  const headers = { ...by, ...(typeof body === 'string' && { 'Content-Type': 'application/json' }) }
  const answered = new Promise<Answer>((done) => waiting.set(id, done))
  other.postMessage({ id, url: one.url + path, init: { method, headers, body } })
  return answered
}
const signedIn = async () => headersOf(await visit(one, 'A'))

/** A thread that does nothing: how long it is kept waiting is what the machine does to everybody. */
const idleThread = `
  const { monitorEventLoopDelay } = require('node:perf_hooks')
  const { parentPort } = require('node:worker_threads')
  const delay = monitorEventLoopDelay({ resolution: 5 })
  delay.enable()
  parentPort.once('message', () => parentPort.postMessage(delay.max))
  parentPort.postMessage('ready')`

/** The longest time that the thread which answers requests was held while something went on, beyond
 *  what an idle one was, in ms. */
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

/** What blocks are compared with: how long this machine takes to read 5 MB of JSON, in ms. */
function barePass(): number {
  const text = JSON.stringify(
    Array.from({ length: 20_000 }, (_, i) => ({ id: `big${i}`, comment: 'x'.repeat(200) })),
  )
  const runs = Array.from({ length: 5 }, () => {
    const started = performance.now()
    JSON.parse(text)
    return performance.now() - started
  })
  return runs.sort((a, b) => a - b)[2]!
}

/** Bodies are made before the clock runs. */
type Prepared = () => Promise<unknown>

describe('no request holds up the others', () => {
  const bomb = (bytes: number) =>
    zipSync({ 'plan.json': strToU8('{},'.repeat(bytes / 3)) }, { level: 9 })
  test.each<[string, () => Promise<Prepared>]>([
    [
      '64 MB for a sign-in',
      async () => {
        const body = `{"name":"${'x'.repeat(64_000_000)}"}`
        // Who is refused while still sending may hear of it as a broken connection.
        return async () =>
          expect([413, 0]).toContain((await ask('POST', '/api/session', body)).status)
      },
    ],
    [
      'an archive that unpacks to a thousand times its size',
      async () => {
        const [by, body] = [await signedIn(), bomb(60_000_000)]
        return async () =>
          expect(await ask('POST', '/api/projects/import', body, by)).toEqual({
            status: 422,
            code: 'import.archive',
          })
      },
    ],
    [
      'a project file of millions of empty rows',
      async () => {
        const by = await signedIn()
        const body = strToU8(`{"kataxis":1,"modules":[${'{},'.repeat(3_000_000)}{}]}`)
        return async () =>
          expect(await ask('POST', '/api/projects/import', body, by)).toMatchObject({ status: 422 })
      },
    ],
    [
      'a short batch of millions of copies',
      async () => {
        const by = await signedIn()
        const commands = Array.from({ length: 100 }, (_, k) => ({
          type: 'copyStation',
          sourceId: 'intake-a',
          networkId: 'n-intake',
          copies: Array.from({ length: 1000 }, (_, i) => ({ id: `c${k}-${i}` })),
        }))
        const body = commandBody({ type: 'batch', label: 'many', commands })
        return async () =>
          expect(await ask('POST', `${base}/commands`, body, by)).toEqual({
            status: 413,
            code: 'change.tooLarge',
          })
      },
    ],
    [
      'thousands of edits in one command',
      async () => {
        const by = await signedIn()
        const edits = Array.from({ length: 20_000 }, (_, i) => ({
          id: `big${i}`,
          tag: `B${i}`,
          comment: 'x'.repeat(200),
        }))
        const [edit, undo] = [commandBody({ type: 'editSignals', edits }), `u${++counter}`]
        return async () => {
          expect(await ask('POST', `${base}/commands`, edit, by)).toEqual({ status: 200 })
          expect(await ask('GET', base, undefined, by)).toEqual({ status: 200 })
          const undone = JSON.stringify({ commandId: undo, baseRevision: 2 })
          expect(await ask('POST', `${base}/undo`, undone, by)).toEqual({ status: 200 })
        }
      },
    ],
    [
      'every export at once',
      async () => {
        const by = await signedIn()
        return async () => {
          const formats = ['xlsx', 'csv', 'archive', 'kataxis']
          const answers = await Promise.all(
            formats.map((format) => ask('GET', `${base}/export/${format}`, undefined, by)),
          )
          expect(answers).toEqual(formats.map(() => ({ status: 200 })))
        }
      },
    ],
    [
      'thousands of lines of comment and no format',
      async () => {
        const [by, body] = [await signedIn(), strToU8('; x\r\n'.repeat(5000))]
        return async () =>
          expect(await ask('POST', '/api/files?name=a.txt', body, by)).toEqual({
            status: 422,
            code: 'format.unknown',
          })
      },
    ],
    [
      'sign-ins of everybody at once',
      async () => async () => {
        const answers = await Promise.all(
          Array.from({ length: 60 }, (_, i) =>
            ask(
              'POST',
              '/api/session',
              JSON.stringify({ name: `nobody${i}`, password: 'wrong wrong' }),
            ),
          ),
        )
        for (const { status } of answers) expect([401, 429, 503]).toContain(status)
      },
    ],
    // The machine has other work too: what holds the thread up does so every time.
  ])('%s', { timeout: 60_000, retry: 2 }, async (_, prepare) => {
    const work = await prepare()
    const bare = barePass()
    const asking = setInterval(() => void ask('GET', '/api/health'), 50)
    const block = await longestBlock(work)
    clearInterval(asking)
    expect(block / bare).toBeLessThan(10)
    expect(await ask('GET', '/api/health')).toEqual({ status: 200 })
  })
})
