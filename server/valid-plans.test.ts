import pg from 'pg'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { faultsOfRows, readProjectFile, rowsOfPlan, type PlanRows } from '@kataxis/core'
import { gsdml } from '../core/test/gsdml'
import { putTogether } from './services'
import { call, freshDatabase, headersOf, startServer, visit, type Running } from './test/client'

let databaseUrl: string
let running: Running
let sha256: string
let project: string
let counter = 0

beforeAll(async () => {
  databaseUrl = await freshDatabase()
  running = await startServer(databaseUrl)
  const reply = await call(
    running.url,
    'POST',
    '/api/files?name=GSDML-V2.35-TarnVey-TV-20260101.xml',
    new TextEncoder().encode(gsdml()),
  )
  sha256 = (reply.json['arrivals'] as { sha256: string }[])[0]!.sha256
})
afterAll(() => running.close())

const post = (what: string, body: object, on = running) =>
  call(on.url, 'POST', `/api/projects/${project}/${what}`, {
    commandId: `c${++counter}`,
    baseRevision: 0,
    ...body,
  })
const look = async (on = running) =>
  (await call(on.url, 'GET', `/api/projects/${project}`)).json as unknown as PlanRows & {
    revision: number
    damage: string[]
  }
/** A command against the newest plan, which has to be carried out. */
async function done(author: string, command: object): Promise<number> {
  const { revision } = await look()
  const reply = await post('commands', { author, command, baseRevision: revision })
  expect(reply, JSON.stringify(reply.json)).toMatchObject({ status: 200 })
  return revision + 1
}
const undo = async (author: string, more: object = {}) =>
  post('undo', { author, baseRevision: (await look()).revision, ...more })
const redo = async (author: string, more: object = {}) =>
  post('redo', { author, baseRevision: (await look()).revision, ...more })

const addStation = (id = 's1', networkId = 'n1') => ({
  type: 'addStation',
  id,
  networkId,
  file: sha256,
  device: 'DAP',
})
const insert = (id: string, slot: number, stationId = 's1') => ({
  type: 'insertModule',
  id,
  stationId,
  slot,
  module: 'DI',
})
const name = (id: string, moduleId: string, offsetBits: number) => ({
  type: 'editSignals',
  edits: [{ id, tag: id, place: { moduleId, subslot: 1, direction: 'in', offsetBits } }],
})

beforeEach(async () => {
  project = (await call(running.url, 'POST', '/api/projects', { name: 'P', author: 'A' })).json[
    'id'
  ] as string
  await done('A', { type: 'addController', id: 'k1', name: 'K1' })
  await done('A', {
    type: 'addNetwork',
    id: 'n1',
    controllerId: 'k1',
    name: 'N1',
    settings: { controllerIp: '10.0.0.1' },
  })
})

/** The plan is valid as it is told, as somebody reads it anew from the database, and as a project
 *  file. */
async function expectValid(): Promise<PlanRows & { revision: number; damage: string[] }> {
  const plan = await look()
  expect(faultsOfRows(plan)).toEqual([])
  const { plan: there } = await putTogether(running.services.db, false).plans.load(project)
  const sorted = (of: PlanRows) =>
    [of.stations, of.modules, of.signals].map((rows) =>
      [...(rows as readonly { id: string }[])].sort((a, b) => (a.id < b.id ? -1 : 1)),
    )
  expect(sorted(rowsOfPlan(there))).toEqual(sorted(plan))
  const file = await fetch(`${running.url}/api/projects/${project}/export/kataxis`, {
    headers: headersOf(await visit(running, 'A')),
  })
  expect(readProjectFile(await file.text())).toHaveProperty('plan')
  return plan
}

/** What A does, what B builds on it, and who and what the refusal of A's undo names; then what is
 *  left when it goes along. */
interface Case {
  readonly before?: [string, object][]
  readonly first: object
  readonly then: object[]
  readonly says: string[]
  readonly left: (plan: PlanRows) => unknown
  readonly expected: unknown
}

const cases: Record<string, () => Case> = {
  'a station under the module that somebody put into it': () => ({
    first: addStation(),
    then: [insert('m1', 1), name('x', 'm1', 0)],
    says: ['B put module DI (slot 1) on station'],
    left: ({ stations, modules, signals }) => [
      stations.length,
      modules.length,
      signals.map(({ tag, place }) => [tag, place]),
    ],
    expected: [0, 0, [['x', null]]],
  }),
  'a network under the station that somebody hung on it': () => ({
    first: {
      type: 'addNetwork',
      id: 'n2',
      controllerId: 'k1',
      name: 'N2',
      settings: { controllerIp: '10.0.1.1' },
    },
    then: [addStation('s2', 'n2')],
    says: ['B put station', 'on network N2.'],
    left: ({ networks, stations }) => [networks.map(({ id }) => id), stations.length],
    expected: [['n1'], 0],
  }),
  'a controller under the network that somebody made below it': () => ({
    first: { type: 'addController', id: 'k2', name: 'K2' },
    then: [
      {
        type: 'addNetwork',
        id: 'n2',
        controllerId: 'k2',
        name: 'N2',
        settings: { controllerIp: '10.0.1.1' },
      },
    ],
    says: ['B put network N2 on controller K2.'],
    left: ({ controllers, networks }) => [controllers.length, networks.length],
    expected: [1, 1],
  }),
  'the removal of a module whose slot somebody filled': () => ({
    before: [
      ['A', addStation()],
      ['A', insert('m1', 1)],
    ],
    first: { type: 'removeModules', ids: ['m1'] },
    then: [insert('m2', 1), name('y', 'm2', 0)],
    says: ['B put module DI (slot 1) into the same slot.'],
    left: ({ modules, signals }) => [
      modules.map(({ id }) => id),
      signals.map(({ place }) => place),
    ],
    expected: [['m1'], [null]],
  }),
  'the removal of a signal whose channel somebody named': () => ({
    before: [
      ['A', addStation()],
      ['A', insert('m1', 1)],
      ['A', name('x', 'm1', 0)],
    ],
    first: { type: 'removeSignals', ids: ['x'] },
    then: [name('y', 'm1', 0)],
    says: ['B put signal y into the same channel.'],
    left: ({ signals }) => signals.map(({ tag, place }) => [tag, place?.offsetBits ?? null]).sort(),
    expected: [
      ['x', 0],
      ['y', null],
    ],
  }),
  'the removal of a module from a station that somebody removed since': () => ({
    before: [
      ['A', addStation()],
      ['A', insert('m1', 1)],
    ],
    first: { type: 'removeModules', ids: ['m1'] },
    then: [{ type: 'removeStation', id: 's1' }],
    says: ['B removed what module DI (slot 1) belongs to.'],
    left: ({ stations, modules }) => [stations.map(({ id }) => id), modules.map(({ id }) => id)],
    expected: [['s1'], ['m1']],
  }),
  'a name that somebody changed since': () => ({
    before: [['A', addStation()]],
    first: { type: 'updateStation', id: 's1', set: { name: 'one', comment: 'A' } },
    then: [{ type: 'updateStation', id: 's1', set: { name: 'two' } }],
    says: ['B changed station two.'],
    left: ({ stations }) => stations.map((station) => [station.name, station.comment]),
    expected: [['two', '']],
  }),
}

describe('what others have built on a change', () => {
  test.each(Object.entries(cases))(
    'stops its undo with who and what, or goes along: %s',
    async (_, make) => {
      const { before = [], first, then, says, left, expected } = make()
      for (const [author, command] of before) await done(author, command)
      const target = await done('A', first)
      for (const command of then) await done('B', command)
      const stood = await expectValid()
      const refused = await undo('A')
      expect(refused).toMatchObject({
        status: 409,
        json: { code: 'undo.blocked', refusal: { what: 'undo', target } },
      })
      for (const part of says) expect(refused.json['detail']).toContain(part)
      expect((await look()).revision).toBe(stood.revision)

      expect(await undo('A', { withDependents: true, target })).toMatchObject({ status: 200 })
      expect(left(await expectValid())).toEqual(expected)
      // A redo brings back all that went, not only A's own.
      expect(await redo('A')).toMatchObject({ status: 200 })
      const again = await expectValid()
      const rows = (plan: PlanRows) =>
        [plan.controllers, plan.networks, plan.stations, plan.modules, plan.signals].map((table) =>
          [...(table as readonly { id: string }[])].sort((a, b) => (a.id < b.id ? -1 : 1)),
        )
      expect(rows(again)).toEqual(rows(stood))
    },
  )

  test('what went with an undo stands in nobody’s way any more', async () => {
    const target = await done('A', addStation())
    await done('B', insert('m1', 1))
    await undo('A', { withDependents: true, target })
    expect(await undo('B')).toMatchObject({ status: 200 })
    await expectValid()
  })

  test('who leaves it goes on to what he did before', async () => {
    const [older, newer] = [
      await done('A', addStation()),
      await done('A', { type: 'updateNetwork', id: 'n1', set: { name: 'by A' } }),
    ]
    await done('B', { type: 'updateNetwork', id: 'n1', set: { name: 'by B' } })
    expect(await undo('A')).toMatchObject({
      status: 409,
      json: { code: 'undo.blocked', refusal: { target: newer } },
    })
    expect(await undo('A', { skip: true, target: newer })).toMatchObject({ status: 200 })
    expect((await expectValid()).networks).toContainEqual(expect.objectContaining({ name: 'by B' }))
    expect(await undo('A', { target: older })).toMatchObject({ status: 200 })
    expect((await expectValid()).stations.map(({ id }: { id: string }) => id)).not.toContain('s1')
  })

  test('an offer that came too late is refused', async () => {
    const target = await done('A', addStation())
    await done('B', insert('m1', 1))
    await done('A', { type: 'updateNetwork', id: 'n1', set: { name: 'N' } })
    expect(await undo('A', { withDependents: true, target })).toMatchObject({
      status: 409,
      json: { code: 'undo.moved' },
    })
  })

  test('back to an earlier state takes everything along that came since, whoever did it', async () => {
    const { revision } = await look()
    await done('A', addStation())
    await done('B', insert('m1', 1))
    await done('B', name('x', 'm1', 0))
    expect(
      await post('back', { author: 'A', baseRevision: (await look()).revision, revision }),
    ).toMatchObject({ status: 200 })
    expect(await expectValid()).toMatchObject({ stations: [], modules: [], signals: [] })
  })
})

describe('the database has the last word', () => {
  const damaging: [string, string, string[]][] = [
    ['a station without its network', `delete from networks where id = 'n1'`, ['stations_network']],
    ['modules without their station', `delete from stations where id = 's1'`, ['modules_station']],
    ['signals without their module', `delete from modules where id = 'm1'`, ['signals_place']],
    ['two modules in one slot', `update modules set slot = 1 where id = 'm2'`, ['modules_slot']],
    [
      'two signals on one channel',
      `update signals set place = jsonb_set(place, '{offsetBits}', '0') where id = 'y'`,
      ['signals_channel'],
    ],
    [
      'a signal on a module that never was',
      `update signals set place = jsonb_set(place, '{moduleId}', '"nowhere"') where id = 'y'`,
      ['signals_place'],
    ],
  ]

  beforeEach(async () => {
    await done('A', addStation())
    for (const [id, slot] of [
      ['m1', 1],
      ['m2', 2],
    ] as const)
      await done('A', insert(id, slot))
    await done('A', name('x', 'm1', 0))
    await done('A', name('y', 'm1', 1))
  })

  async function alone<T>(work: (database: pg.Client) => Promise<T>): Promise<T> {
    const database = new pg.Client({ connectionString: databaseUrl })
    await database.connect()
    return work(database).finally(() => database.end())
  }
  const inProject = (statement: string) => `${statement} and project_id = '${project}'`

  test.each(damaging)('it refuses %s', async (_, statement, constraints) => {
    const error = await alone((database) =>
      database.query(inProject(statement)).then(
        () => null,
        (problem: pg.DatabaseError) => problem,
      ),
    )
    expect(constraints).toContain(error?.constraint)
  })

  test.each(damaging)(
    'a project with %s is told, can be read, refuses changes, and is repaired as a change',
    async (_, statement) => {
      // Constraints that look at every row are in the way of damage; as rows from before them it
      // stands aside.
      await alone(async (database) => {
        await database.query(`set session_replication_role = replica`)
        if (statement.includes('slot'))
          await database.query(inProject(`update modules set stands_aside = true where id = 'm2'`))
        if (statement.includes('offsetBits'))
          await database.query(inProject(`update signals set stands_aside = true where id = 'y'`))
        await database.query(inProject(statement))
      })
      const other = await startServer(databaseUrl)
      try {
        expect(await other.services.plans.damaged()).toContain(project)
        const damaged = await look(other)
        expect(damaged.damage[0]).toMatch(/^[A-Z].*\.$/)
        expect(faultsOfRows(damaged)).toEqual([])
        const { revision } = damaged
        expect(
          await post(
            'commands',
            {
              author: 'A',
              command: { type: 'updateController', id: 'k1', set: { name: 'K' } },
              baseRevision: revision,
            },
            other,
          ),
        ).toMatchObject({ status: 409, json: { code: 'plan.damaged' } })
        expect(
          (await call(other.url, 'GET', `/api/projects/${project}/export/kataxis`)).status,
        ).toBe(200)

        expect(await post('repair', { author: 'B', baseRevision: revision }, other)).toMatchObject({
          status: 200,
          json: { entries: [{ kind: 'repair', author: 'B', revision: revision + 1 }] },
        })
        const mended = await look(other)
        expect([mended.damage, faultsOfRows(mended), await other.services.plans.damaged()]).toEqual(
          [[], [], []],
        )
        // Stations whose network is remembered have it back; no signal is lost.
        expect([
          mended.networks.map(({ id }) => id),
          mended.stations.map(({ id }) => id),
          mended.signals.map(({ id }) => id).sort(),
        ]).toEqual([['n1'], ['s1'], ['x', 'y']])
        expect(
          await post(
            'commands',
            {
              author: 'A',
              command: { type: 'updateController', id: 'k1', set: { name: 'K' } },
              baseRevision: revision + 1,
            },
            other,
          ),
        ).toMatchObject({ status: 200 })
        expect(
          await post('repair', { author: 'B', baseRevision: revision + 1 }, other),
        ).toMatchObject({ status: 409, json: { code: 'plan.sound' } })
      } finally {
        await other.close()
      }
    },
  )

  test('a file that goes while a station on it comes: one of the two is refused, however they meet', async () => {
    const bytes = new TextEncoder().encode(
      gsdml().replace('</ISO15745Profile>', '<!-- another --></ISO15745Profile>'),
    )
    let both = 0
    for (let i = 0; i < 12; i++) {
      const added = (
        await call(
          running.url,
          'POST',
          '/api/files?name=GSDML-V2.35-TarnVey-TV-20260102.xml',
          bytes,
        )
      ).json['arrivals'] as { sha256: string }[]
      const other = added[0]!.sha256
      const { revision } = await look()
      const [station, removal] = await Promise.all([
        post('commands', {
          author: 'A',
          baseRevision: revision,
          command: { ...addStation(`f${i}`), file: other },
        }),
        new Promise((go) => setTimeout(go, i * 3)).then(() =>
          call(running.url, 'DELETE', `/api/files/${other}`),
        ),
      ])
      const isThere = (
        (await call(running.url, 'GET', '/api/files')).json['files'] as { sha256: string }[]
      ).some((file) => file.sha256 === other)
      expect([station.status === 200, removal.status === 200].filter(Boolean)).toHaveLength(1)
      expect(isThere).toBe(station.status === 200)
      if (station.status !== 200) continue
      both++
      await done('A', { type: 'removeStation', id: `f${i}` })
      expect((await call(running.url, 'DELETE', `/api/files/${other}`)).status).toBe(200)
    }
    expect(both).toBeGreaterThan(0)
  })
})
