import { createServer, get } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Response } from 'express'
import { expect, test, vi } from 'vitest'
import type { Notifications } from './notifications'
import { Streams } from './streams'

// The database may take longer to say the revisions than the time between two beats.
test('a stream that waits for its revisions is not begun by a beat', async () => {
  vi.useFakeTimers({ toFake: ['setInterval'] })
  let tell: (revisions: { id: string; revision: number; epoch: string }[]) => unknown = () =>
    undefined
  const streams = new Streams(
    { on: () => () => undefined } as unknown as Notifications,
    () => new Promise((done) => (tell = done)),
  )
  const failures: unknown[] = []
  const server = createServer((_request, response) => {
    streams
      .begin({
        response: response as Response,
        userId: 'u1',
        session: 's1',
        projects: new Set(['p1']),
      })
      .catch((error: unknown) => failures.push(error))
    vi.advanceTimersByTime(60_000)
    tell([{ id: 'p1', revision: 7, epoch: 'e' }])
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  const { port } = server.address() as AddressInfo
  const first = await new Promise<{ type: string | undefined; text: string }>((done, fail) => {
    get({ port, host: '127.0.0.1' }, (answer) =>
      answer.once('data', (bytes: Buffer) =>
        done({ type: answer.headers['content-type'], text: bytes.toString() }),
      ),
    ).once('error', fail)
  })
  streams.close()
  server.close()
  vi.useRealTimers()
  expect(failures).toEqual([])
  expect(first.type).toBe('text/event-stream')
  expect(first.text).toContain('"revision":7')
})
