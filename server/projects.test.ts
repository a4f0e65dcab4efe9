import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { ListedProject, RoleName } from '@kataxis/core'
import { demoProject } from './index'
import { call, demoDatabase, startServer, visit, type Running } from './test/client'

let one: Running
let counter = 0
const as = (name: string, role: RoleName = 'planner') => visit(one, name, role)
const ask = async (path: string, name: string, role?: RoleName) =>
  call(one.url, 'GET', path, undefined, await as(name, role))
const send = async (path: string, body: object, name: string, role?: RoleName) =>
  call(one.url, 'POST', path, body, await as(name, role))
const list = async (name: string, role?: RoleName) =>
  (await ask('/api/projects', name, role)).json['projects'] as ListedProject[]
const begin = async (name: string) =>
  (await send('/api/projects', { name }, 'planner')).json['id'] as string
const idOf = async (name: string) => (await visitOf(name)).id
const visitOf = async (name: string) => {
  await as(name)
  return (await one.services.users.list()).find((user) => user.name === name)!
}
const addController = () => ({
  commandId: `p${++counter}`,
  baseRevision: 0,
  command: { type: 'addController', id: `k${counter}`, name: `K${counter}` },
})

beforeAll(async () => {
  one = await startServer(await demoDatabase())
  await visit(one, 'owner', 'owner')
})
afterAll(() => one?.close())

describe('a project from outside', () => {
  test('is listed with its last change and by whom', async () => {
    const id = await begin('Listed')
    const before = (await list('planner')).find((one) => one.id === id)!
    expect(before).toMatchObject({ name: 'Listed', revision: 0, by: null, state: 'active' })
    await send(`/api/projects/${id}/commands`, addController(), 'planner')
    const after = (await list('planner')).find((one) => one.id === id)!
    expect(after).toMatchObject({ revision: 1, by: 'planner', role: 'planner', isOpen: true })
    expect(Date.parse(after.at as string)).toBeGreaterThanOrEqual(Date.parse(before.at as string))
  })

  test('archived it is looked at and copied, and changes only after it is in use again', async () => {
    const id = await begin('Old plant')
    const path = `/api/projects/${id}`
    await send(`${path}/state`, { state: 'archived' }, 'planner')
    expect((await ask(path, 'planner')).status).toBe(200)
    expect(await send(`${path}/commands`, addController(), 'planner')).toMatchObject({
      status: 409,
      json: { code: 'project.archived' },
    })
    expect((await ask(`${path}/access`, 'planner')).json).toEqual({
      role: 'planner',
      state: 'archived',
    })
    expect((await send(`${path}/copies`, { name: 'New plant' }, 'planner')).status).toBe(200)
    await send(`${path}/state`, { state: 'active' }, 'planner')
    expect((await send(`${path}/commands`, addController(), 'planner')).status).toBe(200)
  })

  test('deleted it can be restored for thirty days, with all that it held', async () => {
    const id = await begin('Deleted')
    const path = `/api/projects/${id}`
    await send(`${path}/commands`, addController(), 'planner')
    await send(`${path}/state`, { state: 'deleted' }, 'planner')
    expect(await ask(path, 'planner')).toMatchObject({
      status: 404,
      json: { code: 'project.deleted' },
    })
    const { goneAt } = (await list('planner')).find((one) => one.id === id)!
    const days = (Date.parse(goneAt as string) - Date.now()) / 86_400_000
    expect(days).toBeGreaterThan(29.9)
    expect(await one.services.projects.purge(new Date(Date.now() + 29 * 86_400_000))).toEqual([])
    await send(`${path}/state`, { state: 'active' }, 'planner')
    expect((await ask(path, 'planner')).json).toMatchObject({ revision: 1 })

    await send(`${path}/state`, { state: 'deleted' }, 'planner')
    expect(await one.services.projects.purge(new Date(Date.now() + 31 * 86_400_000))).toEqual([id])
    expect((await ask(path, 'planner')).status).toBe(404)
    expect((await list('planner')).map((one) => one.id)).not.toContain(id)
  })

  test('a copy has the same plan, another name and a history of its own', async () => {
    const path = `/api/projects/${demoProject.id}`
    const { id } = (await send(`${path}/copies`, { name: 'Twin' }, 'safety', 'safety')).json as {
      id: string
    }
    const [original, copy] = await Promise.all([
      ask(path, 'safety'),
      ask(`/api/projects/${id}`, 'safety'),
    ])
    expect(copy.json['project']).toMatchObject({ id, name: 'Twin' })
    expect(copy.json['revision']).toBe(0)
    const placed = ({ json }: typeof copy) =>
      (json['signals'] as { place: unknown; tag: string }[])
        .map(({ place, tag }) => `${tag} ${JSON.stringify(place)}`)
        .sort()
    expect(placed(copy)).toEqual(placed(original))
  })

  test.each(['setState', 'copyProject'] as const)('a viewer does no %s', async (what) => {
    const id = await begin('Looked at')
    const path = what === 'setState' ? 'state' : 'copies'
    const body = what === 'setState' ? { state: 'deleted' } : { name: 'Mine' }
    expect(await send(`/api/projects/${id}/${path}`, body, 'viewer', 'viewer')).toMatchObject({
      status: 403,
      json: { code: 'role.right' },
    })
  })
})

describe('members', () => {
  test('enter in the role that they have there, and nobody else but owners', async () => {
    const id = await begin('Closed')
    const path = `/api/projects/${id}`
    const members = [
      { userId: await idOf('planner'), role: 'viewer' },
      { userId: await idOf('guest'), role: 'planner' },
    ]
    await as('stranger')
    expect(
      (await send(`${path}/members`, { isOpen: false, members }, 'owner', 'owner')).status,
    ).toBe(200)

    expect((await list('stranger')).map((one) => one.id)).not.toContain(id)
    expect(await ask(path, 'stranger')).toMatchObject({
      status: 403,
      json: { code: 'project.members' },
    })
    expect((await ask(`${path}/access`, 'planner')).json['role']).toBe('viewer')
    expect((await send(`${path}/commands`, addController(), 'planner')).status).toBe(403)
    expect((await send(`${path}/commands`, addController(), 'guest')).status).toBe(200)
    expect((await ask(`${path}/access`, 'owner')).json['role']).toBe('owner')

    // Who enters a copy is who entered the original.
    const copy = await send(`${path}/copies`, { name: 'Closed too' }, 'guest')
    expect((await ask(`/api/projects/${String(copy.json['id'])}`, 'stranger')).status).toBe(403)

    await send(`${path}/members`, { isOpen: true, members }, 'owner')
    expect((await ask(path, 'stranger')).status).toBe(200)
    expect((await ask(`${path}/access`, 'planner')).json['role']).toBe('planner')
  })

  test('are kept by owners, of the program or of the project', async () => {
    const id = await begin('Kept')
    const path = `/api/projects/${id}/members`
    expect((await ask(path, 'planner')).status).toBe(403)
    const keeper = { userId: await idOf('planner'), role: 'owner' }
    await send(path, { isOpen: false, members: [keeper] }, 'owner')
    expect((await ask(path, 'planner')).json).toMatchObject({ isOpen: false, members: [keeper] })
    // An owner of one project keeps no accounts.
    expect((await ask('/api/users', 'planner')).status).toBe(403)
    expect(await send(path, { isOpen: false, members: [keeper, keeper] }, 'planner')).toMatchObject(
      { json: { code: 'members.twice' } },
    )
    expect(
      (await send(path, { isOpen: true, members: [{ ...keeper, userId: 'u-nobody' }] }, 'planner'))
        .status,
    ).toBe(404)
  })

  test('hear what goes on there; others do not', async () => {
    const id = await begin('Heard')
    await send(`/api/projects/${id}/members`, { isOpen: false, members: [] }, 'owner')
    const user = await visitOf('stranger')
    expect(await one.services.projects.entered(user, [id, demoProject.id])).toEqual(
      new Set([demoProject.id]),
    )
  })
})
