import 'fake-indexeddb/auto'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, test, vi } from 'vitest'
import {
  applyChanges,
  applyCommand,
  invert,
  packFile,
  packSignals,
  rowsOfPlan,
  type Command,
  type Plan,
  type RowChange,
} from '@kataxis/core'
import { insert, smallCatalog, smallFile, smallPlan } from '../../../core/test/plans'
import type { ChangeEntry, Order, TakingBack } from '../../api/client'
import type { Listener } from '../../live/hub'

/** A server in memory: the same function with authority, a log of changes, and switches for
 *  trouble. */
class FakeServer {
  plan: Plan = smallPlan()
  log: ChangeEntry[] = []
  isAway = false
  epoch = 'e1'
  /** Commands over which the server fails by its own fault. */
  fails: (command: Command | null) => boolean = () => false
  blocks = false
  /** What a command waits for on its way back. */
  gate: Promise<void> | null = null

  get revision() {
    return this.log.length
  }
  record(
    changes: RowChange[],
    order: { author: string; commandId: string },
    kind: ChangeEntry['kind'] = 'do',
  ) {
    this.plan = applyChanges(this.plan, changes)
    this.log.push({
      revision: this.revision + 1,
      commandId: order.commandId,
      author: order.author,
      at: '',
      kind,
      target: null,
      changes,
    })
  }
  carryOut(command: Command, order: { author: string; commandId: string }) {
    const applied = applyCommand(this.plan, smallCatalog, command)
    if (!applied.ok)
      throw new client.RefusedByServer(409, applied.refusal.code, 'Somebody was quicker.', [])
    this.record(applied.changes, order)
  }
  answer = async <T>(give: () => T): Promise<T> => {
    await Promise.resolve()
    if (this.isAway) throw new client.ServerAway('away')
    return give()
  }
}

// A new window needs its own program, but the computation has no state that windows could share.
const kept = vi.hoisted((): { core?: object } => ({}))
vi.mock('@kataxis/core', async (original) => (kept.core ??= await original<object>()))

// In a test about waiting, what waits a second or longer waits a twentieth of it; in the others an
// attempt of a window that is left alone must not come in between.
let isHurrying = false
const { setTimeout: afterMs, setInterval: everyMs } = globalThis
const sooner = (ms = 0) => (isHurrying && ms >= 1000 ? ms / 20 : ms)
vi.stubGlobal('setTimeout', (work: () => void, ms?: number) => afterMs(work, sooner(ms)))
vi.stubGlobal('setInterval', (work: () => void, ms?: number) => everyMs(work, sooner(ms)))

let server: FakeServer
/** Errors as the window knows them that is open last. */
let client: typeof import('../../api/client')
const told = (order: Order) => ({
  epoch: server.epoch,
  entries: server.log.slice(order.baseRevision),
})
const me = { user: { id: 'me', fullName: 'Me' } as { id: string; fullName: string } | null }
vi.mock('../session', () => ({
  useSession: () => ({
    whyNot: () => null,
    get user() {
      return me.user
    },
  }),
}))
const live = { listener: null as Listener | null }
vi.mock('../../live/hub', () => ({
  hub: {
    follow: (_: string, listener: Listener) => {
      live.listener = listener
      return () => (live.listener = null)
    },
  },
}))
vi.mock('../../api/client', async (original) => ({
  ...(await original<typeof import('../../api/client')>()),
  api: {
    access: () => Promise.resolve({ role: 'owner', state: 'active' }),
    plan: () =>
      server.answer(() => {
        const { signals, ...rows } = rowsOfPlan(server.plan)
        const text = JSON.stringify({
          epoch: server.epoch,
          revision: server.revision,
          damage: [],
          project: server.plan.project,
          ...rows,
          signals: packSignals(signals),
        })
        return { text, answer: JSON.parse(text) as object }
      }),
    catalogText: () => server.answer(() => JSON.stringify(packFile(smallFile))),
    command: (_: string, order: Order, command: Command) =>
      server.answer(() => {
        if (order.epoch !== server.epoch)
          throw new client.RefusedByServer(409, 'epoch.other', 'Another database.', [])
        if (server.fails(command))
          throw new client.FailedInServer('Something went wrong in the program.')
        if (!server.log.some(({ commandId }) => commandId === order.commandId))
          server.carryOut(command, { ...order, author: 'me' })
        return server.gate ? server.gate.then(() => told(order)) : told(order)
      }),
    undo: (_: string, order: Order & TakingBack) =>
      server.answer(() => {
        if (server.fails(null))
          throw new client.FailedInServer('Something went wrong in the program.')
        if (server.blocks && !order.withDependents)
          throw new client.RefusedByServer(
            409,
            'undo.blocked',
            'Others have built on that since. B put 8 DI there.',
            [],
            {
              code: 'undo.blocked',
              what: 'undo',
              target: 1,
              reasons: ['B put 8 DI there.'],
              more: 0,
            },
          )
        server.record(
          invert(server.log.findLast(({ author }) => author === 'me')!.changes),
          { ...order, author: 'me' },
          'undo',
        )
        return told(order)
      }),
    sayPresence: () => Promise.resolve({}),
    changesSince: (_: string, revision: number) =>
      server.answer(() => ({ epoch: server.epoch, entries: server.log.slice(revision) })),
  },
}))

/** The locks of one browser: a window that goes leaves its own. */
const held = new Set<string>()
vi.stubGlobal('navigator', {
  locks: {
    query: () => Promise.resolve({ held: [...held].map((name) => ({ name })) }),
    request: (name: string, work: () => Promise<unknown>) => {
      held.add(name)
      return Promise.resolve(work()).finally(() => held.delete(name))
    },
  },
})
let useProject: typeof import('./index').useProject

/** Another window of the same browser: its own program over the same database. */
async function newWindow(): Promise<void> {
  vi.resetModules()
  client = await import('../../api/client')
  useProject = (await import('./index')).useProject
}
/** The window goes, and with it the locks that it held. */
const closeWindow = () => held.clear()

async function open(project = newStore(), id = 'p') {
  void project.open(id)
  await vi.waitFor(() => expect(project.plan ?? (project.failure || null)).not.toBeNull())
  await vi.waitFor(() =>
    expect(live.listener ?? (project.isOffline || project.failure || null)).not.toBeNull(),
  )
  return project
}
function newStore() {
  setActivePinia(createPinia())
  return useProject()
}
async function waiting(): Promise<string[]> {
  const { openDB } = await import('idb')
  const database = await openDB('kataxis')
  const rows = (await database.getAll('pending')) as { user: string }[]
  database.close()
  return rows.map(({ user }) => user)
}
async function emptyDatabase(): Promise<void> {
  const { openDB } = await import('idb')
  const database = await openDB('kataxis')
  for (const store of database.objectStoreNames) await database.clear(store)
  database.close()
}
const slots = (plan: Plan | null) =>
  Object.values(plan?.stations['s1']?.modules ?? {})
    .map(({ id, slot }) => `${slot} ${id}`)
    .sort()

beforeEach(async () => {
  isHurrying = false
  held.clear()
  me.user = { id: 'me', fullName: 'Me' }
  server = new FakeServer()
  await newWindow()
  await open().then((project) => project.close())
  await emptyDatabase()
  live.listener = null
})

describe('the project in the browser', () => {
  test('shows an edit before the server answers, then is saved', async () => {
    const project = await open()
    expect(project.run(insert('a', 1, 'DI'))).toBe(true)
    expect([slots(project.plan), server.revision, project.pending.length]).toEqual([['1 a'], 0, 1])
    await vi.waitFor(() => expect(project.link).toBe('saved'))
    expect([slots(server.plan), project.revision, project.pending.length]).toEqual([['1 a'], 1, 0])
  })

  test('tells a refusal of its own and sends nothing', async () => {
    const project = await open()
    expect(project.run(insert('a', 4, 'DI'))).toBe(false)
    expect(project.refusal?.sentence).toContain('the description allows slots 1..3')
    expect(project.whyNot(insert('a', 9, 'DI'))).toContain('has no slot 9')
    expect(project.pending).toEqual([])
  })

  test('takes back what the server refuses, with the reason, and shows what is true', async () => {
    const project = await open()
    server.carryOut(insert('theirs', 1, 'DI'), { author: 'you', commandId: 'x' })
    project.run(insert('mine', 1, 'DI'))
    project.run(insert('next', 2, 'AO'))
    await vi.waitFor(() => expect(project.pending).toEqual([]))
    expect(project.refusal?.sentence).toBe('Somebody was quicker.')
    expect(slots(project.plan)).toEqual(['1 theirs', '2 next'])
  })

  test('hears what others do', async () => {
    const project = await open()
    server.carryOut(insert('theirs', 1, 'DI'), { author: 'you', commandId: 'x' })
    live.listener?.revision(1, 'e1')
    await vi.waitFor(() => expect(slots(project.plan)).toEqual(['1 theirs']))
  })

  test('keeps what was typed while the server is away, over a reload, and goes on by itself', async () => {
    const project = await open()
    server.isAway = true
    project.run(insert('a', 1, 'DI'))
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(() => expect(project.link).toBe('away'))
    expect(slots(project.plan)).toEqual(['1 a', '2 b'])
    await vi.waitFor(async () => expect(await waiting()).toEqual(['me', 'me']))
    project.close()
    closeWindow()
    await newWindow()

    server.isAway = false
    server.carryOut(
      { type: 'updateStation', id: 's1', set: { comment: 'by another' } },
      { author: 'you', commandId: 'x' },
    )
    const reloaded = await open()
    await vi.waitFor(() => expect(slots(reloaded.plan)).toEqual(['1 a', '2 b']))
    await vi.waitFor(async () => expect(await waiting()).toEqual([]))
    expect([
      slots(server.plan),
      server.revision,
      reloaded.plan?.stations['s1']?.station.comment,
    ]).toEqual([['1 a', '2 b'], 3, 'by another'])
  })

  test('an answer that was lost on the way is not carried out twice', async () => {
    isHurrying = true
    const project = await open()
    server.isAway = true
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(() => expect(project.link).toBe('away'))
    // It had arrived all the same.
    server.carryOut(insert('a', 1, 'DI'), {
      author: 'me',
      commandId: project.pending[0]!.commandId,
    })
    server.isAway = false
    await vi.waitFor(() => expect(project.pending).toEqual([]), { timeout: 5000 })
    expect([server.revision, slots(project.plan)]).toEqual([1, ['1 a']])
  })

  test('undo waits its turn behind the edits before it', async () => {
    const project = await open()
    project.run(insert('a', 1, 'DI'))
    project.undo()
    await vi.waitFor(() => expect(project.revision).toBe(2))
    expect(slots(project.plan)).toEqual([])
  })

  test('says why a project cannot be opened', async () => {
    server.isAway = true
    const project = await open()
    expect([project.failure, project.plan]).toEqual(['away It is tried again by itself.', null])
    server.isAway = false
    await vi.waitFor(() => expect(project.plan).not.toBeNull(), { timeout: 5000 })
    expect(project.failure).toBe('')
  })
})

describe('nothing is lost', () => {
  test('what the server fails over is set aside with its reason, and the rest goes on', async () => {
    const project = await open()
    server.fails = (command) => command?.type === 'insertModule' && command.id === 'a'
    project.run(insert('a', 1, 'DI'))
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(() => expect(project.pending).toEqual([]))
    expect([slots(server.plan), slots(project.plan), project.link]).toEqual([
      ['2 b'],
      ['2 b'],
      'saved',
    ])
    expect(project.aside).toMatchObject([
      { reason: 'Something went wrong in the program.', action: { command: { id: 'a' } } },
    ])

    // It is still there in another window, can be tried again, and goes when it is thrown away.
    project.close()
    closeWindow()
    await newWindow()
    const again = await open()
    await vi.waitFor(() => expect(again.aside).toHaveLength(1))
    server.fails = () => false
    again.retry(again.aside[0]!)
    await vi.waitFor(() => expect([slots(server.plan), again.aside]).toEqual([['1 a', '2 b'], []]))
  })

  test('an undo that fails does not hold up what is done next', async () => {
    const project = await open()
    server.fails = (command) => command === null
    project.undo()
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(() => expect(slots(server.plan)).toEqual(['2 b']))
    project.discard(project.aside[0]!)
    expect(project.aside).toEqual([])
  })

  test('sending does not wait for keeping, and the state line says when nothing is kept', async () => {
    const project = await open()
    const put = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError')
    })
    server.isAway = true
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(() =>
      expect(project.linkWords).toBe(
        'Server away · 1 waiting · not kept over a reload: the browser’s storage is full',
      ),
    )
    server.isAway = false
    live.listener?.heard(true)
    await vi.waitFor(() => expect([slots(server.plan), project.pending]).toEqual([['1 a'], []]), {
      timeout: 5000,
    })
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(() => expect(slots(server.plan)).toEqual(['1 a', '2 b']))
    put.mockRestore()
  })

  test('two windows keep their unsent work apart; what a window leaves behind another one sends', async () => {
    const first = await open()
    server.isAway = true
    first.run(insert('a', 1, 'DI'))
    await vi.waitFor(async () => expect(await waiting()).toHaveLength(1))
    // The second window begins beside the first one, which lives.
    await newWindow()
    server.isAway = false
    const second = await open()
    server.isAway = true
    expect(second.pending).toEqual([])
    second.run(insert('b', 2, 'AO'))
    await vi.waitFor(async () => expect(await waiting()).toHaveLength(2))
    first.close()
    second.close()
    closeWindow()
    server.isAway = false
    await newWindow()
    const third = await open()
    await vi.waitFor(
      async () =>
        expect([slots(server.plan), await waiting(), third.pending]).toEqual([
          ['1 a', '2 b'],
          [],
          [],
        ]),
      { timeout: 5000 },
    )
  })

  test('what is on its way when another project opens arrives once', async () => {
    const project = await open()
    let go: (() => void) | undefined
    server.gate = new Promise((open) => (go = open))
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(async () => expect(await waiting()).toEqual(['me']))
    await open(project, 'q')
    go?.()
    server.gate = null
    await open(project)
    await vi.waitFor(async () => expect(await waiting()).toEqual([]))
    expect([slots(server.plan), server.revision, slots(project.plan)]).toEqual([
      ['1 a'],
      1,
      ['1 a'],
    ])
  })

  test('what waits for the server goes on when its project is opened again', async () => {
    const project = await open()
    server.isAway = true
    project.run(insert('a', 1, 'DI'))
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(async () => expect(await waiting()).toEqual(['me', 'me']))
    server.isAway = false
    await open(project, 'q')
    expect(project.pending).toEqual([])
    await open(project)
    await vi.waitFor(async () => expect(await waiting()).toEqual([]))
    expect([slots(server.plan), server.revision]).toEqual([['1 a', '2 b'], 2])
  })

  test('what an older program left unsent arrives in the words of today', async () => {
    const { openDB } = await import('idb')
    const database = await openDB('kataxis')
    await database.put('pending', {
      commandId: 'old',
      baseRevision: 0,
      epoch: server.epoch,
      action: {
        kind: 'command',
        command: { type: 'updateStation', id: 's1', set: { ip: '10.0.0.9', comment: 'kept' } },
      },
      project: 'p',
      user: 'me',
      userName: 'Me',
      tab: 'gone',
      order: 1,
    })
    database.close()
    await open()
    await vi.waitFor(async () => expect(await waiting()).toEqual([]))
    expect(server.plan.stations['s1']!.station).toMatchObject({
      comment: 'kept',
      settings: { kind: 'profinet', ip: '10.0.0.9' },
    })
  })

  test('unsent work is its person’s: nobody else sends it, who signs in is told, and it waits', async () => {
    const mine = await open()
    server.isAway = true
    mine.run(insert('a', 1, 'DI'))
    await vi.waitFor(async () => expect(await waiting()).toEqual(['me']))
    mine.close()
    closeWindow()

    server.isAway = false
    me.user = { id: 'you', fullName: 'You' }
    await newWindow()
    const yours = await open()
    await vi.waitFor(() => expect(yours.others).toEqual([{ name: 'Me', count: 1 }]))
    yours.run(insert('b', 2, 'AO'))
    await vi.waitFor(async () =>
      expect([slots(server.plan), await waiting()]).toEqual([['2 b'], ['me']]),
    )
    yours.close()
    closeWindow()

    me.user = { id: 'me', fullName: 'Me' }
    await newWindow()
    await open()
    await vi.waitFor(
      async () => expect([slots(server.plan), await waiting()]).toEqual([['1 a', '2 b'], []]),
      { timeout: 5000 },
    )
  })

  test('under another name nothing is sent, though the window stayed open', async () => {
    isHurrying = true
    const project = await open()
    server.isAway = true
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(() => expect(project.link).toBe('away'))
    me.user = { id: 'you', fullName: 'You' }
    server.isAway = false
    live.listener?.heard(true)
    // Longer than it takes to look for unsent work again.
    await new Promise((done) => setTimeout(done, 500))
    expect(slots(server.plan)).toEqual([])
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(() => expect(slots(server.plan)).toEqual(['2 b']))
  })

  test('another database loads the plan anew and keeps the unsent apart', async () => {
    const project = await open()
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(() => expect(project.revision).toBe(1))
    server.isAway = true
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(() => expect(project.link).toBe('away'))
    const restored = new FakeServer()
    restored.epoch = 'e2'
    server = restored
    live.listener?.heard(true)
    await vi.waitFor(
      () => expect([project.revision, slots(project.plan), project.pending]).toEqual([0, [], []]),
      { timeout: 5000 },
    )
    expect(project.aside.map(({ action }) => action)).toMatchObject([{ command: { id: 'b' } }])
    expect(slots(server.plan)).toEqual([])
  })

  test('a page that begins while the server is away shows the last plan, and goes on by itself', async () => {
    isHurrying = true
    const project = await open()
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(() => expect([project.revision, project.pending.length]).toEqual([1, 0]))
    await new Promise((done) => setTimeout(done, 50))
    project.close()
    closeWindow()
    server.isAway = true
    live.listener = null
    await newWindow()
    const offline = await open()
    await vi.waitFor(() =>
      expect([offline.isOffline, slots(offline.plan), offline.revision]).toEqual([
        true,
        ['1 a'],
        1,
      ]),
    )
    offline.run(insert('b', 2, 'AO'))
    server.isAway = false
    await vi.waitFor(
      () => expect([offline.isOffline, slots(server.plan)]).toEqual([false, ['1 a', '2 b']]),
      { timeout: 8000 },
    )
  }, 15_000)

  test('what others have built on is told, and goes along when that is wanted', async () => {
    const project = await open()
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(() => expect(project.revision).toBe(1))
    server.blocks = true
    project.undo()
    await vi.waitFor(() =>
      expect(project.blocked).toMatchObject({
        sentence: expect.stringContaining('B put 8 DI there.'),
        again: { kind: 'undo', withDependents: true, target: 1 },
      }),
    )
    expect(slots(server.plan)).toEqual(['1 a'])
    project.takeBackWithDependents()
    await vi.waitFor(() => expect([slots(server.plan), project.blocked]).toEqual([[], null]))
  })
})
