import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, test, vi } from 'vitest'
import { applyChanges, applyCommand, invert, rowsOfPlan, type Command, type Plan, type RowChange } from '@kataxis/core'
import { insert, smallCatalog, smallFile, smallPlan } from '../../core/test/plans'
import { RefusedByServer, ServerAway, type ChangeEntry, type Order } from '../api/client'
import { loadPending } from './pending'

/** A server in memory: the same function with authority, a log of changes, and switches for trouble. */
class FakeServer {
  plan: Plan = smallPlan()
  log: ChangeEntry[] = []
  isAway = false
  delays = 0

  get revision() {
    return this.log.length
  }
  record(changes: RowChange[], order: { author: string; commandId: string }, kind: ChangeEntry['kind'] = 'do') {
    this.plan = applyChanges(this.plan, changes)
    this.log.push({ revision: this.revision + 1, commandId: order.commandId, author: order.author, at: '', kind, changes })
  }
  carryOut(command: Command, order: { author: string; commandId: string }) {
    const applied = applyCommand(this.plan, smallCatalog, command)
    if (!applied.ok) throw new RefusedByServer(409, applied.refusal.code, 'Somebody was quicker.', [])
    this.record(applied.changes, order)
  }
  answer = async <T>(give: () => T): Promise<T> => {
    await Promise.resolve()
    if (this.isAway) throw new ServerAway('away')
    return give()
  }
}

let server: FakeServer
vi.mock('./session', () => ({ useSession: () => ({ whyNot: () => null }) }))
vi.mock('../api/client', async (original) => ({
  ...(await original<typeof import('../api/client')>()),
  api: {
    plan: () => server.answer(() => ({ revision: server.revision, project: server.plan.project, ...rowsOfPlan(server.plan) })),
    catalog: () => server.answer(() => smallFile),
    command: (_: string, order: Order, command: Command) => server.answer(() => {
      if (!server.log.some(({ commandId }) => commandId === order.commandId)) server.carryOut(command, { ...order, author: 'me' })
      return { entries: server.log.slice(order.baseRevision) }
    }),
    undo: (_: string, order: Order) => server.answer(() => {
      server.record(invert(server.log.findLast(({ author }) => author === 'me')!.changes), { ...order, author: 'me' }, 'undo')
      return { entries: server.log.slice(order.baseRevision) }
    }),
    changesSince: (_: string, revision: number) => server.answer(() => ({ entries: server.log.slice(revision) })),
    events: () => FakeEvents.last = new FakeEvents(),
  },
}))

class FakeEvents {
  static last: FakeEvents
  static readonly CLOSED = 2
  readonly readyState = 1
  onmessage: ((event: { data: string }) => void) | null = null
  onopen: (() => void) | null = null
  onerror: (() => void) | null = null
  addEventListener = () => undefined
  close() {
    this.onmessage = null
  }
}

const kept = new Map<string, string>()
vi.stubGlobal('EventSource', FakeEvents)
vi.stubGlobal('localStorage', { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => kept.set(key, value), removeItem: (key: string) => kept.delete(key) })
const { useProject } = await import('./project')

async function open() {
  setActivePinia(createPinia())
  const project = useProject()
  await project.open('p')
  return project
}
const slots = (plan: Plan | null) => Object.values(plan?.stations['s1']?.modules ?? {}).map(({ id, slot }) => `${slot} ${id}`).sort()

beforeEach(() => {
  vi.useRealTimers()
  kept.clear()
  server = new FakeServer()
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
    FakeEvents.last.onmessage?.({ data: '1' })
    await vi.waitFor(() => expect(slots(project.plan)).toEqual(['1 theirs']))
  })

  test('keeps what was typed while the server is away, over a reload, and goes on by itself', async () => {
    const project = await open()
    server.isAway = true
    project.run(insert('a', 1, 'DI'))
    project.run(insert('b', 2, 'AO'))
    await vi.waitFor(() => expect(project.link).toBe('away'))
    expect([slots(project.plan), loadPending('p').length]).toEqual([['1 a', '2 b'], 2])
    project.close()

    server.isAway = false
    server.carryOut({ type: 'updateStation', id: 's1', set: { comment: 'by another' } }, { author: 'you', commandId: 'x' })
    const reloaded = await open()
    expect(slots(reloaded.plan)).toEqual(['1 a', '2 b'])
    await vi.waitFor(() => expect(loadPending('p')).toEqual([]))
    expect([slots(server.plan), server.revision, reloaded.plan?.stations['s1']?.station.comment]).toEqual([['1 a', '2 b'], 3, 'by another'])
  })

  test('an answer that was lost on the way is not carried out twice', async () => {
    const project = await open()
    server.isAway = true
    project.run(insert('a', 1, 'DI'))
    await vi.waitFor(() => expect(project.link).toBe('away'))
    // It had arrived all the same.
    server.carryOut(insert('a', 1, 'DI'), { author: 'me', commandId: project.pending[0]!.commandId })
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
    expect([project.failure, project.plan]).toEqual(['away', null])
  })
})
