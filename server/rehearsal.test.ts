import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { FoundDevice, RehearsalAction, Scored } from '@kataxis/core'
import { demoProject } from './index'
import { call, demoDatabase, headersOf, startServer, visit, type Running } from './test/client'

let one: Running
let two: Running
let databaseUrl: string
const base = `/api/projects/${demoProject.id}/rehearsal`
beforeAll(async () => {
  databaseUrl = await demoDatabase()
  one = await startServer(databaseUrl)
  two = await startServer(databaseUrl)
})
afterAll(async () => {
  await Promise.all([one?.close(), two?.close()])
})

interface View {
  readonly actions: number
  readonly found: Record<string, FoundDevice[]>
  readonly started: Record<string, { isRunning: boolean }>
  readonly refused: string | null
  readonly frameCount: number
  readonly ended: { score: Scored[] } | null
}
const begin = (body: object, on = one) => call(on.url, 'POST', base, body)
async function act(action: RehearsalAction, on = one): Promise<View> {
  const { status, json } = await call(on.url, 'POST', `${base}/actions`, action)
  expect([status, json['detail']]).toEqual([200, undefined])
  return json as unknown as View
}
const shown = async (on: Running) =>
  (await call(on.url, 'GET', base)).json['rehearsal'] as unknown as View | null

const differences = [
  { kind: 'factoryNew', station: 'membrane-1' },
  { kind: 'duplicateName', station: 'train-1', as: 'train-2' },
  { kind: 'stopped', station: 'well-2' },
]

test('there is none before one is begun', async () => {
  expect(await shown(one)).toBeNull()
  expect(await call(one.url, 'POST', `${base}/actions`, { do: 'scan' })).toMatchObject({
    status: 404,
  })
})

describe('what is otherwise than planned', () => {
  test('is hidden until the end, whoever asks', async () => {
    const { json } = await begin({ difficulty: 'few', differences })
    const scanned = await act({ do: 'scan' })
    for (const view of [json, scanned, await shown(two)])
      expect(JSON.stringify(view)).not.toContain('factoryNew')
    expect(scanned.ended).toBeNull()
  })
  test.each([
    ['a station that is not planned', { kind: 'missing', station: 'nobody' }, 422],
    ['a kind that there is not', { kind: 'haunted', station: 'intake-a' }, 400],
  ])('%s is refused with its place', async (_, difference, status) => {
    const reply = await begin({ difficulty: 'few', differences: [difference] })
    expect(reply.status).toBe(status)
    expect(String(reply.json['detail'])).toMatch(/nobody|kind/)
  })
  test('the same seed draws the same; another seed may draw others', async () => {
    const drawn = async (seed: number) => {
      await begin({ difficulty: 'badDay', seed })
      const ended = (await call(one.url, 'POST', `${base}/end`, {})).json as unknown as View
      return ended.ended!.score.map(({ difference }) => difference)
    }
    const first = await drawn(5)
    expect(first.length).toBeGreaterThan(5)
    expect(await drawn(5)).toEqual(first)
    expect(await drawn(6)).not.toEqual(first)
  })
})

describe('any instance goes on with it', () => {
  const networkOf = (view: View, name: string) =>
    Object.entries(view.found).find(([, devices]) =>
      devices.some((device) => device.name === name),
    )!
  test('actions here and there make one rehearsal', async () => {
    await begin({ difficulty: 'few', differences })
    const scanned = await act({ do: 'scan' }, two)
    const [intake, devices] = networkOf(scanned, 'intake-a')
    const nameless = devices.find(({ name }) => name === '')!
    expect((await act({ do: 'blink', networkId: intake, key: nameless.key })).refused).toBeNull()
    expect(
      (await act({ do: 'blink', networkId: intake, key: '02:00:00:00:00:77' }, two)).refused,
    ).toContain('no such station or device')
    expect(
      (await act({ do: 'assign', stationId: 'intake-b', key: nameless.key })).refused,
    ).toContain('has intake-b already')
    const named = await act({ do: 'assign', stationId: 'membrane-1', key: nameless.key }, two)
    expect(named.found[intake]!.find(({ key }) => key === nameless.key)!.name).toBe('membrane-1')
    const started = await act({ do: 'start' })
    expect(started.started['membrane-1']).toMatchObject({ isRunning: true })
    expect(started.started['well-2']).toMatchObject({ isRunning: false })
    const [here, there] = [await shown(one), await shown(two)]
    expect(there).toEqual(here)
    expect(here!.actions).toBe(6)
  })
  test('an instance that starts afterwards knows all of it', async () => {
    const three = await startServer(databaseUrl)
    try {
      expect(await shown(three)).toEqual(await shown(one))
    } finally {
      await three.close()
    }
  })
  test('two who act at once each get their turn', async () => {
    const before = (await shown(one))!.actions
    await Promise.all([0, 1, 2, 3].map((i) => act({ do: 'scan' }, i % 2 ? one : two)))
    expect((await shown(two))!.actions).toBe(before + 4)
  })
  test('the capture holds every frame that was counted', async () => {
    const reply = await fetch(`${one.url}${base}/capture`, {
      headers: headersOf(await visit(one, 'A')),
    })
    const capture = Buffer.from(await reply.arrayBuffer())
    expect(capture.readUInt32LE(0)).toBe(0xa1b2c3d4)
    let frames = 0
    for (let at = 24; at < capture.length; at += 16 + capture.readUInt32LE(at + 8)) frames++
    // TCP connections are opened as well.
    expect(frames).toBeGreaterThanOrEqual((await shown(one))!.frameCount)
  })
})

test('at the end the score says what was found and mended; nothing is done afterwards', async () => {
  await act({ do: 'onSite', stationId: 'well-2', what: 'switchToRun' })
  const ended = (await call(two.url, 'POST', `${base}/end`, {})).json as unknown as View
  expect(
    ended.ended!.score.map(({ difference, isFound, isMended }) => [
      difference.kind,
      isFound,
      isMended,
    ]),
  ).toEqual([
    ['factoryNew', true, true],
    ['duplicateName', true, false],
    ['stopped', true, true],
  ])
  expect(await call(one.url, 'POST', `${base}/actions`, { do: 'scan' })).toMatchObject({
    status: 409,
    json: { code: 'rehearsal.ended' },
  })
})

test('the plan may change meanwhile: what is found is held against it as it is now', async () => {
  await begin({ difficulty: 'none' })
  await act({ do: 'scan' })
  const project = `/api/projects/${demoProject.id}`
  const { revision, epoch } = (await call(one.url, 'GET', project)).json
  const renamed = await call(one.url, 'POST', `${project}/commands`, {
    commandId: 'rename-while-rehearsing',
    baseRevision: revision,
    epoch,
    command: { type: 'updateStation', id: 'intake-a', set: { name: 'intake-z' } },
  })
  expect(renamed.status).toBe(200)
  const view = await act({ do: 'assignAll' })
  const names = Object.values(view.found).flatMap((devices) => devices.map(({ name }) => name))
  expect(names).toContain('intake-z')
  expect(names).not.toContain('intake-a')
})
