import type { AddressInfo } from 'node:net'
import express from 'express'
import { afterAll, expect, test } from 'vitest'
import { mountManual } from './manual'

const app = express()
mountManual(app)
const server = app.listen(0, '127.0.0.1')
const ask = (path: string) =>
  fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`)
afterAll(() => void server.close())

test('pages are served as HTML, and what they link to is there', async () => {
  const waiting = ['/docs/using.md']
  const seen = new Set<string>()
  for (let path = waiting.pop(); path !== undefined; path = waiting.pop()) {
    if (seen.has(path)) continue
    seen.add(path)
    const answer = await ask(path)
    expect([path, answer.status]).toEqual([path, 200])
    if (!path.endsWith('.md')) continue
    expect(answer.headers.get('content-type')).toContain('text/html')
    for (const [, link] of (await answer.text()).matchAll(/(?:href|src)="([^"#:]+)/g)) {
      const target = new URL(link!, `http://here${path}`).pathname
      if (target.startsWith('/docs/') && /\.(md|png)$/.test(target)) waiting.push(target)
    }
  }
  expect(seen.size).toBeGreaterThan(20)
})

test.each([
  '/docs/none.md',
  '/docs/..%2fpackage.json',
  '/docs/%2e%2e/README.md',
  '/docs/words.txt',
])('%s is nowhere', async (path) => expect((await ask(path)).status).toBe(404))
