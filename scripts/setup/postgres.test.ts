import { fileURLToPath } from 'node:url'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { removePostgres, startPostgres } from './postgres.mjs'

const homes = ['a', 'b'].map((name) =>
  fileURLToPath(new URL(`../../.kataxis-test-postgres-${name}`, import.meta.url)),
)
const removeAll = () => homes.forEach((home) => removePostgres(home))
beforeAll(removeAll)
afterAll(removeAll)

test('databases that are started at the same moment have a port each', async () => {
  const started = await Promise.all(homes.map((home) => startPostgres(home)))
  expect(new Set(started.map(({ url }) => new URL(url).port)).size).toBe(2)
  for (const { url, stop } of started) {
    const client = new pg.Client({ connectionString: url })
    await client.connect()
    expect((await client.query('select 1 as one')).rows).toEqual([{ one: 1 }])
    await client.end()
    stop()
  }
}, 120_000)
