import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import {
  applyChanges,
  emptyPlan,
  rowsOfPlan,
  type PlanRows,
  type ProjectRow,
  type RowChange,
} from '@kataxis/core'
import { gsdml } from '../core/test/gsdml'
import { call, freshDatabase, startServer, type Running } from './test/client'

interface Entry {
  readonly revision: number
  readonly commandId: string
  readonly author: string
  readonly changes: readonly RowChange[]
}

const people = 12
const each = 6
let instances: Running[]
let sha256: string
let project: string
let blank: ProjectRow
let counter = 0

beforeAll(async () => {
  const databaseUrl = await freshDatabase()
  instances = [await startServer(databaseUrl), await startServer(databaseUrl)]
  const reply = await call(
    instances[0]!.url,
    'POST',
    '/api/files?name=GSDML-V2.35-TarnVey-TV-20260101.xml',
    new TextEncoder().encode(gsdml()),
  )
  sha256 = (reply.json['arrivals'] as { sha256: string }[])[0]!.sha256
})
afterAll(() => Promise.all(instances.map((running) => running.close())))

const look = async () =>
  (await call(instances[0]!.url, 'GET', `/api/projects/${project}`)).json as unknown as PlanRows & {
    revision: number
    project: ProjectRow
  }
const send = (
  author: string,
  baseRevision: number,
  command: object,
  { instance = 0, commandId = `c${++counter}` } = {},
) =>
  call(instances[instance]!.url, 'POST', `/api/projects/${project}/commands`, {
    commandId,
    author,
    baseRevision,
    command,
  })
const station = (id: string) => ({
  type: 'addStation',
  id,
  networkId: 'n1',
  file: sha256,
  device: 'DAP',
})
const named = (id: string, tag: string) => ({
  type: 'editSignals',
  edits: [{ id, tag, place: null }],
})

beforeEach(async () => {
  project = (await call(instances[0]!.url, 'POST', '/api/projects', { name: 'P', author: 'A' }))
    .json['id'] as string
  blank = (await look()).project
  await send('A', 0, { type: 'addController', id: 'k1', name: 'K1' })
  await send('A', 1, {
    type: 'addNetwork',
    id: 'n1',
    controllerId: 'k1',
    name: 'N1',
    settings: { controllerIp: '10.0.0.1' },
  })
  await send('A', 2, station('s1'))
})

/** The history has every revision once, and told from the beginning it makes the plan that there
 *  is. */
async function expectWholeHistory(): Promise<readonly Entry[]> {
  const plan = await look()
  const entries = (await call(instances[1]!.url, 'GET', `/api/projects/${project}/changes?since=0`))
    .json['entries'] as Entry[]
  expect(entries.map(({ revision }) => revision)).toEqual(
    Array.from({ length: plan.revision }, (_, i) => i + 1),
  )
  const replayed = rowsOfPlan(
    entries.reduce((before, { changes }) => applyChanges(before, changes), emptyPlan(blank)),
  )
  const byId = (rows: readonly { id: string }[]) => [...rows].sort((a, b) => (a.id < b.id ? -1 : 1))
  for (const table of ['stations', 'modules', 'signals'] as const)
    expect(byId(replayed[table])).toEqual(byId(plan[table]))
  return entries
}

/** What somebody asks for in turn: what can be done, what only the first of two can do, and what
 *  cannot be. */
const asks = [
  (person: number, round: number) => named(`x-${person}-${round}`, `T_${person}_${round}`),
  (person: number, round: number) => station(`st-${person >> 1}-${round}`),
  (person: number) => ({ type: 'removeStation', id: `nobody-${person}` }),
]

test.each([
  ['one instance', 1],
  ['two instances', 2],
])(
  'commands of many at once are each done or refused for themselves, over %s',
  async (_, count) => {
    const refusals: unknown[] = []
    await Promise.all(
      Array.from({ length: people }, async (_none, person) => {
        for (let seen = 3, round = 0; round < each; round++) {
          const reply = await send(`P${person}`, seen, asks[round % asks.length]!(person, round), {
            instance: person % count,
          })
          if (reply.status !== 200) {
            refusals.push(reply.json['code'])
            continue
          }
          const entries = reply.json['entries'] as Entry[]
          expect(entries.map(({ revision }) => revision)).toEqual(
            entries.map((_entry, i) => seen + 1 + i),
          )
          expect(entries.at(-1)).toMatchObject({ author: `P${person}` })
          seen = entries.at(-1)!.revision
        }
      }),
    )
    const entries = await expectWholeHistory()
    const turns = (people * each) / asks.length
    expect(entries).toHaveLength(3 + turns + turns / 2)
    expect(refusals.sort()).toEqual([
      ...Array<string>(turns / 2).fill('id.taken'),
      ...Array<string>(turns).fill('row.missing'),
    ])
  },
)

test('what was carried out before is told again, and holds up nobody beside it', async () => {
  await send('A', 3, named('x1', 'T1'), { commandId: 'twice' })
  const before = (await look()).revision
  // Seen by its sender since, so that only the database knows that it was carried out.
  const replies = await Promise.all([
    send('A', before, named('x2', 'T2')),
    send('A', before, named('x1', 'T1b'), { commandId: 'twice' }),
    ...Array.from({ length: 8 }, (_, i) => send('A', before, named(`y${i}`, `Y${i}`))),
  ])
  expect(replies.map(({ status }) => status)).toEqual(replies.map(() => 200))
  const entries = await expectWholeHistory()
  expect(entries.filter(({ commandId }) => commandId === 'twice')).toHaveLength(1)
  expect(entries).toHaveLength(before + 9)
})

test('undo waits for what was asked for before it, and takes back the last of that', async () => {
  const commands = Array.from({ length: 5 }, (_, i) => send('A', 3, named(`x${i}`, `T${i}`)))
  await Promise.all(commands)
  const [undone] = await Promise.all([
    call(instances[0]!.url, 'POST', `/api/projects/${project}/undo`, {
      commandId: `c${++counter}`,
      author: 'A',
      baseRevision: 8,
    }),
    send('B', 8, named('z', 'Z')),
  ])
  expect(undone.status).toBe(200)
  const entries = await expectWholeHistory()
  expect(entries).toHaveLength(10)
  expect((await look()).signals.map(({ tag }) => tag).sort()).toEqual(['T0', 'T1', 'T2', 'T3', 'Z'])
})

test('a large change and small ones at the same time', async () => {
  const large = {
    type: 'editSignals',
    edits: Array.from({ length: 1200 }, (_, i) => ({ id: `l${i}`, tag: `L${i}`, place: null })),
  }
  const replies = await Promise.all([
    send('A', 3, named('x1', 'T1')),
    send('B', 3, large),
    send('A', 3, named('x2', 'T2')),
    send('B', 3, named('x3', 'T3')),
  ])
  expect(replies.map(({ status }) => status)).toEqual([200, 200, 200, 200])
  await expectWholeHistory()
  expect((await look()).signals).toHaveLength(1203)
})

test('who waits for one project keeps nobody from another', async () => {
  const other = (await call(instances[0]!.url, 'POST', '/api/projects', { name: 'Q', author: 'A' }))
    .json['id'] as string
  const { pool } = instances[0]!.services
  const holder = await pool.connect()
  await holder.query('begin')
  await holder.query('select from "projects" where "id" = $1 for update', [project])
  let isDone = false
  const waiting = send('A', 3, named('x1', 'T1')).then((reply) => {
    isDone = true
    return reply
  })
  expect((await call(instances[0]!.url, 'GET', `/api/projects/${other}`)).status).toBe(200)
  expect(
    (
      await call(instances[0]!.url, 'POST', `/api/projects/${other}/commands`, {
        commandId: `c${++counter}`,
        baseRevision: 0,
        command: { type: 'addController', id: 'k1', name: 'K1' },
      })
    ).status,
  ).toBe(200)
  expect(isDone).toBe(false)
  await holder.query('rollback')
  holder.release()
  expect((await waiting).status).toBe(200)
})
