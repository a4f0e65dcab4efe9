import { strToU8, zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import { eq, sql } from 'drizzle-orm'
import type { JobView } from '@kataxis/core'
import { jobs } from './db/schema'
import { demoProject } from './index'
import { call, demoDatabase, headersOf, startServer, visit, type Running } from './test/client'

let databaseUrl: string
let one: Running
let two: Running
const base = `/api/projects/${demoProject.id}`

beforeAll(async () => {
  databaseUrl = await demoDatabase()
  one = await startServer(databaseUrl)
  two = await startServer(databaseUrl)
})
afterAll(async () => {
  await one.close()
  await two.close()
})

const begin = async (format: string, on = one) =>
  (await call(on.url, 'POST', `${base}/export-jobs`, { format })).json['job'] as JobView
const look = async (id: string, on = one) =>
  (await call(on.url, 'GET', `/api/jobs/${id}`)).json as unknown as {
    job: JobView
    arrivals: { name: string; state: string }[]
  }
const end = async (id: string, on = one) =>
  vi.waitFor(
    async () => {
      const { job, arrivals } = await look(id, on)
      expect(['done', 'failed', 'cancelled']).toContain(job.state)
      return { job, arrivals }
    },
    { timeout: 20_000, interval: 100 },
  )
const fileOf = async (id: string, on: Running) =>
  fetch(`${on.url}/api/jobs/${id}/file`, { headers: headersOf(await visit(on, 'A')) })

describe('an export as a job', () => {
  test.each(['csv', 'xlsx', 'archive'])(
    '%s is the file that is asked for at once',
    async (format) => {
      const begun = await begin(format)
      expect(begun).toMatchObject({ kind: 'export', state: 'waiting', projectId: demoProject.id })
      const { job } = await end(begun.id)
      expect(job).toMatchObject({ state: 'done', sentence: '' })
      const [made, direct] = [
        await fileOf(begun.id, two),
        await fetch(`${one.url}${base}/export/${format}`, {
          headers: headersOf(await visit(one, 'A')),
        }),
      ]
      expect(made.headers.get('content-disposition')).toBe(
        direct.headers.get('content-disposition'),
      )
      const bytes = Buffer.from(await made.arrayBuffer())
      expect(bytes.equals(Buffer.from(await direct.arrayBuffer()))).toBe(true)
      expect(job.bytes).toBe(bytes.length)
    },
  )

  test('of a project that is not there is refused, and so is a format that is none', async () => {
    expect(
      await call(one.url, 'POST', '/api/projects/nowhere/export-jobs', { format: 'csv' }),
    ).toMatchObject({ status: 404 })
    expect(await call(one.url, 'POST', `${base}/export-jobs`, { format: 'gold' })).toMatchObject({
      status: 400,
    })
  })

  test('that goes wrong says so, and its person can throw it away', async () => {
    const { id } = await begin('csv')
    await end(id)
    // As only a fault of the program could leave it.
    await one.services.db
      .update(jobs)
      .set({ state: 'waiting', wish: { format: 'gold' }, beatAt: sql`now() - interval '1 minute'` })
      .where(eq(jobs.id, id))
    expect((await end(id)).job).toMatchObject({
      state: 'failed',
      sentence: 'Something went wrong in the program.',
    })
    expect(await call(one.url, 'DELETE', `/api/jobs/${id}`)).toMatchObject({ status: 200 })
  })
})

describe('jobs', () => {
  test('are their person’s: nobody else sees, stops or takes them', async () => {
    const { id } = await begin('csv')
    await end(id)
    const other = await visit(one, 'B')
    for (const [method, path] of [
      ['GET', `/api/jobs/${id}`],
      ['GET', `/api/jobs/${id}/file`],
      ['POST', `/api/jobs/${id}/cancel`],
      ['DELETE', `/api/jobs/${id}`],
    ] as const)
      expect(await call(one.url, method, path, undefined, other)).toMatchObject({ status: 404 })
    const { json } = await call(one.url, 'GET', '/api/jobs', undefined, other)
    expect(json).toEqual({ jobs: [] })
  })

  test('are told on the stream of their person, on every instance', async () => {
    const { cookie, csrf } = await visit(two, 'A')
    const events = await fetch(`${two.url}/api/events?project=${demoProject.id}`, {
      headers: { Cookie: cookie, 'X-Kataxis-Token': csrf },
    })
    const reader = events.body!.getReader()
    const { id } = await begin('csv')
    let told = ''
    while (!told.includes('"state":"done"'))
      told += new TextDecoder().decode((await reader.read()).value)
    await reader.cancel()
    expect(told).toContain(`event: job\ndata: {"id":"${id}"`)
  })

  test('can be thrown away when they are finished, with their file', async () => {
    const { id } = await begin('csv')
    await end(id)
    expect(await call(one.url, 'DELETE', `/api/jobs/${id}`)).toMatchObject({ status: 200 })
    expect(await call(one.url, 'GET', `/api/jobs/${id}`)).toMatchObject({ status: 404 })
    expect((await fileOf(id, one)).status).toBe(404)
  })

  test('that are cancelled end, whichever instance is at it, and leave no file', async () => {
    const { id } = await begin('xlsx')
    const { json } = await call(two.url, 'POST', `/api/jobs/${id}/cancel`)
    expect(json['job']).toMatchObject({ state: 'cancelled' })
    // Whoever was at it finds that out and says nothing more.
    await new Promise((go) => setTimeout(go, 1500))
    expect((await look(id)).job).toMatchObject({ state: 'cancelled', fileName: null })
    expect((await fileOf(id, one)).status).toBe(404)
  })

  test('whose instance died are done by another one', async () => {
    const begun = await begin('csv')
    await end(begun.id)
    // As a dead instance leaves it: running, and silent for a minute.
    await one.services.db
      .update(jobs)
      .set({ state: 'running', instance: 'dead', beatAt: sql`now() - interval '1 minute'` })
      .where(eq(jobs.id, begun.id))
    expect((await look(begun.id)).job.state).toBe('running')
    expect((await end(begun.id)).job.state).toBe('done')
  })

  test('that an instance gives back when it stops are done by the next one', async () => {
    const third = await startServer(databaseUrl)
    await third.services.jobs.open()
    const { id } = await begin('archive', third)
    await third.close()
    expect((await end(id)).job.state).toBe('done')
  })

  test('are only so many at a time for one person', async () => {
    const { id } = await begin('csv')
    const { job } = await end(id)
    const user = (await one.services.db.select().from(jobs).where(eq(jobs.id, job.id)))[0]!.userId
    await one.services.db.insert(jobs).values(
      Array.from({ length: 20 }, (_, i) => ({
        id: `many-${i}`,
        userId: user,
        kind: 'export' as const,
        wish: {},
        words: 'x',
        state: 'running' as const,
        instance: 'elsewhere',
        beatAt: new Date(Date.now() + 3_600_000),
      })),
    )
    expect(await call(one.url, 'POST', `${base}/export-jobs`, { format: 'csv' })).toMatchObject({
      status: 429,
      json: { code: 'jobs.many' },
    })
    await one.services.db.delete(jobs).where(eq(jobs.instance, 'elsewhere'))
  })
})

describe('reading many files as a job', () => {
  const sheet = (i: number) =>
    strToU8(
      JSON.stringify({
        kataxisSheet: 1,
        maker: 'Invented',
        name: `Thing ${i}`,
        network: 'modbus',
        head: { inputs: [{ name: 'A', type: 'bit' }] },
      }),
    )

  test('keeps each that can be read, and tells of each', async () => {
    const zip = zipSync({
      ...Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`t${i}.sheet.json`, sheet(i)])),
      'broken.gsd': strToU8('no description'),
    })
    const { json } = await call(one.url, 'POST', '/api/files/reading-jobs?name=many.zip', zip)
    const { job, arrivals } = await end((json['job'] as JobView).id)
    expect(job).toMatchObject({
      state: 'done',
      kind: 'read',
      sentence: '12 new, 0 known, 1 refused',
      fileName: null,
    })
    expect(arrivals).toHaveLength(13)
    expect(arrivals.filter(({ state }) => state === 'refused')).toMatchObject([
      { name: 'broken.gsd' },
    ])
    expect((await fileOf(job.id, one)).status).toBe(404)
  })
})
