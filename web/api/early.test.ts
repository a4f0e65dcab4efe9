import { afterEach, expect, test } from 'vitest'
import { takeEarly } from './early'

const place = globalThis as { kataxisEarly?: unknown }
const arrived = { text: '{"revision":3}', answer: { revision: 3 } }
const ahead = (url: string, what: unknown) =>
  (place.kataxisEarly = { url, arrived: Promise.resolve(what) })
afterEach(() => delete place.kataxisEarly)

test.each([
  ['what was asked for ahead is taken over', '/api/projects/a', arrived, arrived],
  ['another project’s plan is not', '/api/projects/b', arrived, null],
  ['nor one that did not arrive', '/api/projects/a', null, null],
])('%s', async (_, url, what, expected) => {
  ahead(url, what)
  expect(await takeEarly('/api/projects/a')).toEqual(expected)
})

test('once: later the plan is another one', async () => {
  ahead('/api/projects/a', arrived)
  await takeEarly('/api/projects/a')
  expect(await takeEarly('/api/projects/a')).toBeNull()
})
