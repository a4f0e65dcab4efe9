import { readdirSync } from 'node:fs'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { call, freshDatabase, startServer, type Running } from './test/client'

let databaseUrl: string
let running: Running
let project: string
let counter = 0

beforeAll(async () => {
  databaseUrl = await freshDatabase()
  running = await startServer(databaseUrl)
  project = (await call(running.url, 'POST', '/api/projects', { name: 'P' })).json['id'] as string
})
afterAll(() => running.close())

const change = () =>
  call(running.url, 'POST', `/api/projects/${project}/commands`, {
    commandId: `o${++counter}`,
    baseRevision: 1e9,
    command: { type: 'setProject', set: { name: `P${counter}` } },
  })

/** Somebody beside the database who can keep everybody else out of it. */
async function beside<T>(work: (admin: pg.Client) => Promise<T>): Promise<T> {
  const admin = new pg.Client({ connectionString: databaseUrl.replace(/\/[^/]+$/, '/template1') })
  await admin.connect()
  return work(admin).finally(() => admin.end())
}
const name = () => new URL(databaseUrl).pathname.slice(1)
const shut = () =>
  beside(async (admin) => {
    await admin.query(`alter database ${name()} allow_connections false`)
    await admin.query(
      `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name()}'`,
    )
  })
const openAgain = () =>
  beside((admin) => admin.query(`alter database ${name()} allow_connections true`))
const descriptors = () => readdirSync('/proc/self/fd').length

describe('while the database is away', () => {
  test('requests are answered with a sentence, nothing piles up, and all goes on by itself', async () => {
    expect((await change()).status).toBe(200)
    const before = descriptors()
    await shut()
    for (let i = 0; i < 30; i++) {
      expect(await change()).toMatchObject({
        status: 503,
        json: { code: 'database.away', detail: expect.stringMatching(/\.$/) },
      })
      await new Promise((done) => setTimeout(done, 100))
    }
    expect(running.services.notifications.isListening).toBe(false)
    // One attempt at a time to listen again, however long it takes.
    expect(descriptors()).toBeLessThan(before + 12)
    await openAgain()
    await expect.poll(async () => (await change()).status, { timeout: 10_000 }).toBe(200)
    await expect
      .poll(() => running.services.notifications.isListening, { timeout: 15_000 })
      .toBe(true)
  }, 60_000)

  test('a connection that breaks in the middle of a transaction ends that request and nothing else', async () => {
    const locking = new pg.Client({ connectionString: databaseUrl })
    await locking.connect()
    await locking.query('begin')
    await locking.query(`select from projects where id = $1 for update`, [project])
    const waiting = change()
    await new Promise((done) => setTimeout(done, 300))
    await beside((admin) =>
      admin.query(
        `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name()}' and wait_event_type = 'Lock'`,
      ),
    )
    expect((await waiting).status).toBe(503)
    await locking.query('rollback')
    await locking.end()
    expect((await change()).status).toBe(200)
  })
})

test('two instances that change one project never wait for each other in a circle', async () => {
  const other = await startServer(databaseUrl)
  try {
    const deadlocks = async () =>
      Number(
        (
          await beside((admin) =>
            admin.query<{ n: string }>(
              `select deadlocks as n from pg_stat_database where datname = '${name()}'`,
            ),
          )
        ).rows[0]!.n,
      )
    const before = await deadlocks()
    const work = Array.from({ length: 20 }, async (_, editor) => {
      for (let i = 0; i < 8; i++) {
        const on = [running, other][(editor + i) % 2]!
        const reply = await call(on.url, 'POST', `/api/projects/${project}/commands`, {
          commandId: `two${editor}-${i}`,
          baseRevision: 1e9,
          author: 'A',
          command: {
            type: 'editSignals',
            edits: Array.from({ length: 5 }, (_, k) => ({
              id: `s${(editor * 7 + i * 3 + k) % 40}`,
              tag: `E${editor}_${i}_${k}`,
            })),
          },
        })
        expect(reply.status).toBe(200)
      }
    })
    await Promise.all(work)
    expect(await deadlocks()).toBe(before)
  } finally {
    await other.close()
  }
}, 60_000)

test('a server that is told to stop lets running requests end', async () => {
  const ending = await startServer(databaseUrl)
  const locking = new pg.Client({ connectionString: databaseUrl })
  await locking.connect()
  await locking.query('begin')
  await locking.query(`select from projects where id = $1 for update`, [project])
  const running = Array.from({ length: 10 }, (_, i) =>
    call(ending.url, 'POST', `/api/projects/${project}/commands`, {
      commandId: `end${i}`,
      baseRevision: 1e9,
      command: { type: 'setProject', set: { tagLength: 20 + i } },
    }),
  )
  // A busy machine takes its time: the first of them waits for the row, the others are right behind.
  const looking = new pg.Client({ connectionString: databaseUrl })
  await looking.connect()
  for (let tries = 0; tries < 100; tries++) {
    const { rows } = await looking.query(
      `select from pg_stat_activity where wait_event_type = 'Lock' and pid <> pg_backend_pid()`,
    )
    if (rows.length > 0) break
    await new Promise((done) => setTimeout(done, 100))
  }
  await looking.end()
  await new Promise((done) => setTimeout(done, 800))
  const closed = ending.close()
  await new Promise((done) => setTimeout(done, 200))
  await locking.query('rollback')
  await locking.end()
  expect((await Promise.all(running)).map(({ status }) => status)).toEqual(
    Array<number>(10).fill(200),
  )
  await closed
}, 30_000)
