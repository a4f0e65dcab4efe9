import { strToU8 } from 'fflate'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { readProjectFile } from '@kataxis/core'
import { demoProject } from './index'
import { call, demoDatabase, headersOf, startServer, visit, type Running } from './test/client'

let one: Running
let two: Running
const base = `/api/projects/${demoProject.id}`

beforeAll(async () => {
  const database = await demoDatabase()
  ;[one, two] = await Promise.all([startServer(database), startServer(database)])
  await call(one.url, 'GET', base)
})
afterAll(async () => {
  await Promise.all([one?.close(), two?.close()])
})

let counter = 0
const command = (what: unknown, more: object = {}) =>
  call(one.url, 'POST', `${base}/commands`, {
    commandId: `x${++counter}`,
    baseRevision: 0,
    command: what,
    ...more,
  })
const rename = (name: string, id = 'intake-a') => ({ type: 'updateStation', id, set: { name } })
const raw = (path: string, body: string, method = 'POST') => call(one.url, method, path, body, null)

describe('input never makes the program fail', () => {
  test.each<[string, () => ReturnType<typeof call>]>([
    ['NUL in a name', () => command(rename('a\0b'))],
    [
      'half of a surrogate pair',
      () =>
        call(
          one.url,
          'POST',
          `${base}/commands`,
          '{"commandId":"q1","baseRevision":0,"command":{"type":"updateStation","id":"intake-a","set":{"name":"\\ud800"}}}',
        ),
    ],
    ['an id that every object answers to', () => command(rename('x', 'constructor'))],
    ['another one', () => command(rename('x', '__proto__'))],
    ['a project of that name', () => call(one.url, 'GET', '/api/projects/constructor')],
    ['a project named __proto__', () => call(one.url, 'GET', '/api/projects/__proto__')],
    [
      'a parameter of that name',
      () =>
        command({
          type: 'setParameters',
          edits: [{ moduleId: 'dosing-2.2', record: '1.16', parameter: 'constructor', value: 1 }],
        }),
    ],
    [
      'a record of that name',
      () =>
        command({
          type: 'setParameters',
          edits: [{ moduleId: 'dosing-2.2', record: 'toString', parameter: 'a', value: 1 }],
        }),
    ],
    [
      'a module format of that name',
      () => command({ type: 'setProject', set: { moduleFormats: { constructor: 'x' } } }),
    ],
    ['a revision beyond all', () => command(rename('x'), { baseRevision: 9e15 })],
    [
      'a slot beyond all',
      () =>
        command({
          type: 'insertModule',
          id: 'z',
          stationId: 'intake-a',
          slot: 2 ** 40,
          module: 'M_DI8',
        }),
    ],
    [
      'a number that is none',
      () =>
        call(
          one.url,
          'POST',
          `${base}/commands`,
          '{"commandId":"q2","baseRevision":0,"command":{"type":"moveStations","ids":["intake-a"],"networkId":"n-intake","position":1e999}}',
        ),
    ],
    [
      'changes since for ever',
      () => call(one.url, 'GET', `${base}/changes?since=99999999999999999999`),
    ],
    [
      'a difference beyond all',
      () => call(one.url, 'GET', `${base}/difference?from=0&to=999999999`),
    ],
    ['%00 in an address', () => call(one.url, 'GET', '/api/projects/%00')],
    [
      '%00 in a file name',
      () => call(one.url, 'POST', '/api/files?name=a%00.gsd', new Uint8Array([1])),
    ],
    ['%00 for a page', () => call(one.url, 'GET', '/api/%00')],
    ['an address that is no text', () => call(one.url, 'GET', '/api/projects/%ff')],
    ['a search with NUL', () => call(one.url, 'GET', '/api/files/search?q=%00')],
    ['a query as an object', () => call(one.url, 'GET', '/api/files/search?q[a]=b')],
    [
      'a session as an object',
      () => raw('/api/session', '{"name":{"toString":1},"password":{"length":1}}'),
    ],
    ['a session as a list', () => raw('/api/session', '[1]')],
    [
      'a body that is no UTF-8',
      () => call(one.url, 'POST', `${base}/commands`, new Uint8Array([0xff, 0xfe, 0x7b])),
    ],
    [
      'a pattern as wide as the memory',
      () =>
        command({
          type: 'batch',
          label: 'p',
          commands: [
            { type: 'updateNetwork', id: 'n-intake', set: { namePattern: 'x{n:0999999999}' } },
            {
              type: 'copyStation',
              sourceId: 'intake-a',
              networkId: 'n-intake',
              copies: [{ id: 'p1' }],
            },
          ],
        }),
    ],
    [
      'a sheet with NUL in a text',
      () =>
        call(
          one.url,
          'POST',
          '/api/files?name=nul.sheet.json',
          strToU8('{"kataxisSheet":1,"vendor":{"name":"a\\u0000"}}'),
        ),
    ],
    [
      'a project of another shape',
      () =>
        call(
          one.url,
          'POST',
          '/api/projects/import',
          strToU8('{"kataxis":1,"modules":{"length":5}}'),
        ),
    ],
  ])('%s is answered with a sentence', async (_, send) => {
    const reply = await send()
    expect(reply, JSON.stringify(reply.json)).toMatchObject({
      status: expect.toSatisfy((status: number) => status >= 400 && status < 500),
      json: { detail: expect.stringMatching(/\.$/) },
    })
  })

  test('the plan is as it was', async () => {
    const file = await fetch(`${one.url}${base}/export/kataxis`, {
      headers: headersOf(await visit(one, 'A')),
    })
    expect(readProjectFile(await file.text())).toHaveProperty('plan')
  })
})

describe('who may what', () => {
  /** A stream that has begun, and when it ends. */
  async function listen(who: Awaited<ReturnType<typeof visit>>, on: Running) {
    const response = await fetch(`${on.url}/api/events?project=${demoProject.id}`, {
      headers: headersOf(who),
    })
    expect(response.status).toBe(200)
    const reader = response.body!.getReader()
    await reader.read()
    const ended = (async () => {
      while (!(await reader.read()).done);
    })()
    return { ended, cancel: () => reader.cancel() }
  }
  const within = (ms: number, promises: Promise<unknown>[]) =>
    Promise.race([
      Promise.all(promises).then(() => 'ended'),
      new Promise((late) => setTimeout(() => late('still open'), ms)),
    ])
  const idOf = async (name: string) =>
    (await one.services.users.list()).find((user) => user.name === name)!.id

  test('streams of events end with their session, on every instance', async () => {
    const leaver = await visit(one, 'stream-leaver', 'viewer')
    const streams = [await listen(leaver, one), await listen(leaver, two)]
    await fetch(`${one.url}/api/session`, { method: 'DELETE', headers: headersOf(leaver) })
    expect(
      await within(
        1000,
        streams.map(({ ended }) => ended),
      ),
    ).toBe('ended')
  })

  test('a removed account hears and writes nothing more, on every instance', async () => {
    const gone = await visit(one, 'soon-gone', 'planner')
    const streams = [await listen(gone, one), await listen(gone, two)]
    const write = (on: Running) =>
      call(
        on.url,
        'POST',
        `${base}/commands`,
        {
          commandId: `g${++counter}`,
          baseRevision: 0,
          command: { type: 'updateStation', id: 'screen-1', set: { comment: `gone ${counter}` } },
        },
        gone,
      )
    expect((await write(one)).status).toBe(200)
    await call(two.url, 'DELETE', `/api/users/${await idOf('soon-gone')}`)
    expect(
      await within(
        1000,
        streams.map(({ ended }) => ended),
      ),
    ).toBe('ended')
    for (const on of [one, two]) expect(await write(on)).toMatchObject({ status: 401 })
  })

  test('an account may have only so many streams', async () => {
    const many = await visit(one, 'listener', 'viewer')
    const streams = []
    for (let i = 0; i < 24; i++) streams.push(await listen(many, one))
    expect(
      (await call(one.url, 'GET', `/api/events?project=${demoProject.id}`, undefined, many)).status,
    ).toBe(429)
    for (const stream of streams) await stream.cancel()
  })

  test('and says where it is only so often', async () => {
    const many = await visit(one, 'listener', 'viewer')
    const replies = await Promise.all(
      Array.from({ length: 90 }, () =>
        call(one.url, 'POST', `${base}/presence`, { client: 'c', at: null, asks: false }, many),
      ),
    )
    expect(new Set(replies.map(({ status }) => status))).toEqual(new Set([200, 429]))
  })

  test.each([
    [{ name: 'odd2', fullName: 'odd  brekke' }, 'user.exists'],
    [{ name: 'odd3', fullName: 'ODD BREKKE ' }, 'user.exists'],
    [{ name: 'odd4', fullName: 'Оdd Вrеkkе' }, 'user.exists'],
    [{ name: 'odd5', fullName: 'Odd\u200b Brekke' }, 'user.exists'],
    [{ name: 'weak1', fullName: 'Weak', password: 'password1' }, 'password.weak'],
    [{ name: 'weak2', fullName: 'Weak', password: 'aaaaaaaaaaaa' }, 'password.weak'],
    [{ name: 'gunnhild', fullName: 'Gunnhild Aas', password: 'gunnhild1' }, 'password.weak'],
  ])('%j is no account', async (account, code) => {
    const owner = await visit(one, 'accounts-owner', 'owner')
    await call(
      one.url,
      'POST',
      '/api/users',
      { name: 'odd', fullName: 'Odd Brekke', role: 'viewer', password: 'a heron on the pier' },
      owner,
    )
    expect(
      await call(
        one.url,
        'POST',
        '/api/users',
        { role: 'viewer', password: 'a heron on the pier', ...account },
        owner,
      ),
    ).toMatchObject({ json: { code } })
  })

  test('wrong passwords from everywhere only slow the right person down', async () => {
    const attempt = (password: string, from: string) =>
      one.services.users.signIn('heard', password, from)
    await visit(one, 'heard', 'viewer')
    for (let i = 0; i < 45; i++) await attempt('wrong wrong', `10.0.0.${i}`)
    const began = performance.now()
    expect(await attempt('long enough', '10.9.9.9')).not.toBeNull()
    expect(performance.now() - began).toBeLessThan(6000)
  }, 60_000)

  test('what is fail-safe comes in from a file unsigned, and of a planner not at all', async () => {
    const said = { by: 'Somebody Else', at: '2026-11-26' }
    const owner = await visit(one, 'A')
    const { revision } = (await call(one.url, 'GET', base)).json as { revision: number }
    const entering = {
      type: 'batch',
      label: 'x',
      commands: [
        { type: 'setIParameterSum', moduleId: 'dosing-2.1', subslot: 1, crc: 7, ...said },
        {
          type: 'setParameters',
          edits: [{ moduleId: 'dosing-2.2', record: '1.16', parameter: 'F_Dest_Add', value: 99 }],
        },
        { type: 'setProject', set: { safetyRelease: { signature: 'abc', ...said } } },
      ],
    }
    expect((await command(entering, { baseRevision: revision })).status).toBe(200)
    const file = new Uint8Array(
      await (
        await fetch(`${one.url}${base}/export/archive`, { headers: headersOf(owner) })
      ).arrayBuffer(),
    )
    const bring = async (who: Awaited<ReturnType<typeof visit>>) => {
      const { id } = (await call(one.url, 'POST', '/api/projects/import', file, who)).json as {
        id: string
      }
      const { plan } = await one.services.plans.load(id)
      const modules = plan.stations['dosing-2']!.modules
      return {
        release: plan.project.safetyRelease,
        sum: modules['dosing-2.1']!.iParameterSums[1] ?? null,
        address: modules['dosing-2.2']!.values['1.16']?.['F_Dest_Add'] ?? null,
      }
    }
    expect(await bring(await visit(one, 'importer-safety', 'safety'))).toEqual({
      release: {
        signature: '',
        by: 'imported by importer-safety, not signed here; was A',
        at: '2026-11-26',
      },
      sum: {
        crc: 7,
        over: '',
        by: 'imported by importer-safety, not signed here; was A',
        at: '2026-11-26',
      },
      address: 99,
    })
    expect(await bring(await visit(one, 'importer-planner', 'planner'))).toEqual({
      release: null,
      sum: null,
      address: null,
    })
  })
})
