import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { roleNames, safetyConfigurationOf, type RoleName } from '@kataxis/core'
import { demoProject } from './index'
import { call, demoDatabase, headersOf, startServer, visit, type Running } from './test/client'

let one: Running
let two: Running
const base = `/api/projects/${demoProject.id}`
let counter = 0
const order = (command: object) => ({ commandId: `a${++counter}`, baseRevision: 0, command })
const as = (role: RoleName) => visit(one, `the-${role}`, role)
const revision = async () => (await call(one.url, 'GET', base)).json['revision'] as number
const say = async (role: RoleName, command: object) =>
  call(
    one.url,
    'POST',
    `${base}/commands`,
    { ...order(command), baseRevision: await revision() },
    await as(role),
  )
const setF = (value: number) => ({
  type: 'setParameters',
  edits: [{ moduleId: 'dosing-2.2', record: '1.16', parameter: 'F_Dest_Add', value }],
})

beforeAll(async () => {
  const database = await demoDatabase()
  ;[one, two] = await Promise.all([startServer(database), startServer(database)])
})
afterAll(async () => {
  await Promise.all([one?.close(), two?.close()])
})

describe('a fresh instance', () => {
  test('asks for its owner, who is made once, whoever comes at the same time', async () => {
    expect((await call(one.url, 'GET', '/api/session', undefined, null)).json).toEqual({
      user: null,
      csrf: null,
      needsOwner: true,
      demo: null,
    })
    const tries = await Promise.all(
      [one, two].map(({ url }, i) =>
        call(
          url,
          'POST',
          '/api/owner',
          { name: `First${i}`, fullName: 'The First', password: 'long enough' },
          null,
        ),
      ),
    )
    expect(tries.map(({ status }) => status).sort()).toEqual([200, 409])
    expect((await call(one.url, 'GET', '/api/session', undefined, null)).json).toMatchObject({
      needsOwner: false,
    })
  })
})

describe('without a session', () => {
  test.each([
    ['GET', '/api/projects'],
    ['GET', base],
    ['GET', `${base}/events`],
    ['GET', `${base}/export/archive`],
    ['POST', `${base}/commands`],
    ['POST', '/api/files?name=a.gsd'],
    ['GET', '/api/users'],
    ['POST', `${base}/rehearsal/actions`],
  ])('%s %s is refused', async (method, path) => {
    expect(
      await call(one.url, method, path, method === 'POST' ? {} : undefined, null),
    ).toMatchObject({ status: 401, json: { code: 'session.missing' } })
  })
  test('a made-up cookie is none', async () => {
    expect(
      (await call(one.url, 'GET', base, undefined, { cookie: 'kataxis_session=abc', csrf: 'x' }))
        .status,
    ).toBe(401)
  })
  test('a changing request without the session’s word is refused, though its cookie is right', async () => {
    const { cookie } = await as('owner')
    expect(
      await call(one.url, 'POST', `${base}/commands`, order(setF(20)), { cookie, csrf: 'forged' }),
    ).toMatchObject({ status: 403, json: { code: 'session.word' } })
  })
  test('health and the description of the interface are open', async () => {
    expect((await call(one.url, 'GET', '/api/health', undefined, null)).status).toBe(200)
    expect((await call(one.url, 'GET', '/api/openapi.json', undefined, null)).status).toBe(200)
  })
})

test('the cookie is not for scripts nor for other sites', async () => {
  await as('viewer')
  const response = await fetch(`${one.url}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: 'the-viewer', password: 'long enough' }),
  })
  expect(response.headers.get('set-cookie')).toMatch(
    /HttpOnly.*SameSite=Strict|SameSite=Strict.*HttpOnly/,
  )
  expect(response.headers.get('content-security-policy')).toContain("default-src 'self'")
})

/** What each role may: rename a plain station, change a fail-safe module, step in the rehearsal,
 *  see the accounts. */
describe('roles', () => {
  const allowed: Record<
    RoleName,
    [plan: boolean, safety: boolean, commission: boolean, own: boolean]
  > = {
    viewer: [false, false, false, false],
    planner: [true, false, true, false],
    safety: [true, true, true, false],
    commissioner: [false, false, true, false],
    owner: [true, true, true, true],
  }
  test.each(roleNames)('%s', async (role) => {
    const who = await as(role)
    const plan = await say(role, {
      type: 'updateStation',
      id: 'intake-a',
      set: { comment: `by ${role}` },
    })
    const safety = await say(role, setF(30 + counter))
    const commission = await call(one.url, 'POST', `${base}/rehearsal`, { difficulty: 'none' }, who)
    const own = await call(one.url, 'GET', '/api/users', undefined, who)
    expect((await call(one.url, 'GET', base, undefined, who)).status).toBe(200)
    expect([plan, safety, commission, own].map(({ status }) => status)).toEqual(
      allowed[role].map((may) => (may ? 200 : 403)),
    )
  })

  test('a planner’s attempt on a fail-safe module leaves the plan as it was, by whatever way', async () => {
    await say('safety', setF(77))
    const before = (await call(one.url, 'GET', base)).json
    for (const command of [
      setF(78),
      {
        type: 'batch',
        label: 'x',
        commands: [{ type: 'updateStation', id: 'intake-a', set: { comment: 'sly' } }, setF(79)],
      },
      { type: 'removeModules', ids: ['dosing-2.2'] },
      { type: 'updateStation', id: 'dosing-2', set: { name: 'other' } },
      { type: 'moveModule', id: 'dosing-2.2', stationId: 'dosing-2', slot: 4 },
      { type: 'setAddress', moduleId: 'dosing-2.2', subslot: 1, direction: 'in', byte: 3000 },
      { type: 'readdress', moduleId: 'dosing-2.2' },
      { type: 'editSignals', edits: [{ id: 'd101', tag: 'SLY' }] },
      { type: 'editSignals', edits: [{ id: 'd101', place: null }] },
      { type: 'setIParameterSum', moduleId: 'dosing-2.1', subslot: 1, crc: 1, by: 'x', at: 'y' },
      { type: 'setSafetyConfiguration', id: 'ozone-io', signature: '1', by: 'x', at: 'y' },
      {
        type: 'updateNetwork',
        id: 'n-ozone',
        set: { settings: { safetyNetworkNumber: '4e550000000a' } },
      },
      { type: 'setProject', set: { safetyRelease: { signature: '0', by: 'x', at: 'y' } } },
    ])
      expect(await say('planner', command)).toMatchObject({
        status: 403,
        json: { code: 'role.safety' },
      })
    expect(
      await call(
        one.url,
        'POST',
        `${base}/back`,
        { commandId: 'sly-back', baseRevision: await revision(), revision: 1 },
        await as('planner'),
      ),
    ).toMatchObject({ status: 403 })
    expect((await call(one.url, 'GET', base)).json).toEqual(before)
  })

  test('what somebody enters or releases carries the sender’s name, whatever he writes', async () => {
    const forged = { by: 'Somebody Else', at: '2026-11-26' }
    await say('safety', {
      type: 'batch',
      label: 'x',
      commands: [
        { type: 'setSafetyConfiguration', id: 'ozone-io', signature: '1', ...forged },
        { type: 'setIParameterSum', moduleId: 'dosing-2.1', subslot: 1, crc: 1, ...forged },
      ],
    })
    await say('safety', {
      type: 'setProject',
      set: { safetyRelease: { signature: '0', ...forged } },
    })
    const { plan } = await one.services.plans.load(demoProject.id)
    const { station, modules } = {
      station: plan.stations['ozone-io']!.station,
      modules: plan.stations['dosing-2']!.modules,
    }
    expect(
      [
        safetyConfigurationOf(station),
        modules['dosing-2.1']!.iParameterSums[1],
        plan.project.safetyRelease,
      ].map((entered) => entered?.by),
    ).toEqual(['the-safety', 'the-safety', 'the-safety'])
    // From now on its address and parameters bear on safety, though its file offers nothing
    // fail-safe.
    expect(
      await say('planner', { type: 'updateStation', id: 'ozone-io', set: { ip: '192.168.44.99' } }),
    ).toMatchObject({ status: 403, json: { code: 'role.safety' } })
  })

  // What the safety program sees are addresses and the tags on them.
  test('a planner may comment on the channels of a fail-safe module', async () => {
    expect(
      (await say('planner', { type: 'editSignals', edits: [{ id: 'd101', comment: 'named' }] }))
        .status,
    ).toBe(200)
  })
})

describe('accounts', () => {
  const owner = () => as('owner')
  test('a changed role holds at once on the same instance, a new password ends all sessions', async () => {
    const someone = await visit(one, 'someone', 'viewer')
    const { users } = (await call(one.url, 'GET', '/api/users', undefined, await owner())).json as {
      users: { id: string; name: string }[]
    }
    const { id } = users.find(({ name }) => name === 'someone')!
    await call(one.url, 'POST', `/api/users/${id}`, { role: 'planner' }, await owner())
    expect((await call(one.url, 'POST', '/api/projects', { name: 'Mine' }, someone)).status).toBe(
      200,
    )
    expect((await one.services.users.list()).find((user) => user.id === id)).toMatchObject({
      role: 'planner',
      fullName: 'someone',
    })
    await call(one.url, 'POST', `/api/users/${id}`, { password: 'another one' }, await owner())
    expect((await call(one.url, 'GET', base, undefined, someone)).status).toBe(401)
  })
  test('somebody’s own new password ends the other sessions only, and needs the present one', async () => {
    const [here, there] = [
      await visit(one, 'changer', 'viewer'),
      await visit(two, 'changer', 'viewer'),
    ]
    const change = (current: string, password: string) =>
      call(one.url, 'POST', '/api/session/password', { current, password }, here)
    expect(await change('guessed', 'quite another')).toMatchObject({
      status: 422,
      json: { code: 'password.wrong' },
    })
    expect(await change('long enough', 'short')).toMatchObject({
      status: 422,
      json: { code: 'password.short' },
    })
    expect((await change('long enough', 'quite another')).status).toBe(200)
    expect(
      await Promise.all(
        [here, there].map(async (who) => (await call(one.url, 'GET', base, undefined, who)).status),
      ),
    ).toEqual([200, 401])
    expect(
      (
        await call(
          one.url,
          'POST',
          '/api/session',
          { name: 'changer', password: 'quite another' },
          null,
        )
      ).status,
    ).toBe(200)
  })
  test('of two owners who demote each other at once, one stays', async () => {
    for (const name of ['left', 'right']) await visit(one, `${name}-owner`, 'owner')
    const owners = (await one.services.users.list()).filter(({ role }) => role === 'owner')
    const results = await Promise.allSettled(
      owners.map(({ id }, i) => [one, two][i % 2]!.services.users.change(id, { role: 'viewer' })),
    )
    expect(results.filter(({ status }) => status === 'rejected')).toHaveLength(1)
    const [left] = (await one.services.users.list()).filter(({ role }) => role === 'owner')
    expect(left).toBeDefined()
    for (const { id } of owners) await one.services.users.change(id, { role: 'owner' })
  })
  test.each([
    [
      { name: 'same-name', fullName: 'the-owner', role: 'viewer', password: 'long enough' },
      409,
      'user.exists',
    ],
    [
      { name: 'the-owner', fullName: '', role: 'viewer', password: 'long enough' },
      409,
      'user.exists',
    ],
    [{ name: 'short', fullName: '', role: 'viewer', password: 'short' }, 422, 'password.short'],
    [
      { name: 'no such role', fullName: '', role: 'king', password: 'long enough' },
      400,
      'request.invalid',
    ],
  ])('%j is refused', async (body, status, code) =>
    expect(await call(one.url, 'POST', '/api/users', body, await owner())).toMatchObject({
      status,
      json: { code },
    }),
  )

  test('the last owner stays', async () => {
    const owners = async () =>
      (await one.services.users.list()).filter(({ role }) => role === 'owner')
    for (const { id } of (await owners()).slice(1))
      await one.services.users.change(id, { role: 'viewer' })
    const left = await owners()
    expect(left).toHaveLength(1)
    await expect(one.services.users.change(left[0]!.id, { role: 'viewer' })).rejects.toMatchObject({
      code: 'owner.last',
    })
    await expect(one.services.users.remove(left[0]!.id)).rejects.toMatchObject({
      code: 'owner.last',
    })
  })
})

test('signing in is slowed down after ten wrong tries, for that name alone', async () => {
  const attempt = (name: string, password: string) =>
    call(one.url, 'POST', '/api/session', { name, password }, null)
  for (let i = 0; i < 10; i++) expect((await attempt('the-planner', 'wrong')).status).toBe(401)
  expect(await attempt('the-planner', 'long enough')).toMatchObject({
    status: 429,
    json: { code: 'session.slow' },
  })
  expect((await attempt('the-viewer', 'long enough')).status).toBe(200)
})

test('a signed-out session is no session on any instance', async () => {
  const who = await visit(one, 'leaver', 'viewer')
  expect(
    (await fetch(`${one.url}/api/session`, { method: 'DELETE', headers: headersOf(who) })).status,
  ).toBe(200)
  for (const { url } of [one, two])
    expect((await call(url, 'GET', base, undefined, who)).status).toBe(401)
})
