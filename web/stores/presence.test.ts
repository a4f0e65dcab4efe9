import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import type { Presence } from '../api/client'
import type { Listener } from '../live/hub'

const said: Presence[] = []
const live: { listener: Partial<Listener> } = { listener: {} }
vi.mock('./live', () => ({
  useLive: () => ({ listen: (one: Partial<Listener>) => (live.listener = one) }),
}))
vi.mock('./project', () => ({ useProject: () => ({ id: 'p' }) }))
vi.mock('../api/client', () => ({
  api: {
    sayPresence: (_: string, presence: Presence) => Promise.resolve(void said.push(presence)),
  },
}))

const { initialsOf, usePresence } = await import('./presence')
const other = (client: string, at: string | null, asks = false): Presence => ({
  client,
  author: 'Cy Dale',
  at,
  asks,
})

beforeEach(() => {
  vi.useFakeTimers()
  said.length = 0
  setActivePinia(createPinia())
})

test('others stand at what they said last, and are gone when they fall silent', () => {
  const presence = usePresence()
  presence.hear(other('a', 's1'))
  presence.hear(other('b', null))
  presence.hear(other('a', 's2'))
  expect([...presence.others]).toEqual([['s2', 'CD']])
  expect(presence.people).toHaveLength(2)
  vi.advanceTimersByTime(30_000)
  presence.hear(other('b', 's3'))
  vi.advanceTimersByTime(16_000)
  expect([...presence.others]).toEqual([['s3', 'CD']])
})

test('who asks is answered; the own voice is not heard', async () => {
  const presence = usePresence()
  presence.at('s7')
  live.listener.heard?.(true)
  await vi.advanceTimersByTimeAsync(1000)
  expect(said.map(({ at, asks }) => [at, asks])).toEqual([
    ['s7', false],
    ['s7', true],
  ])
  live.listener.presence?.({ ...said[0]!, asks: true })
  presence.hear(other('a', null, true))
  await vi.advanceTimersByTimeAsync(1000)
  expect(said).toHaveLength(3)
  expect(presence.people.map(({ client }) => client)).toEqual(['a'])
})

test.each([
  ['Ada Brook', 'AB'],
  ['planner', 'P'],
  ['Jan van der Laan', 'JV'],
  ['', ''],
])('initials of "%s"', (name, initials) => expect(initialsOf(name)).toBe(initials))
