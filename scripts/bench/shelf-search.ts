import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { pino } from 'pino'
import { closeServices, openServices, type Services } from '@kataxis/server'
// Plain Node, without types: the same set-up that `npm start` uses.
import { startPostgres } from '../setup/postgres.mjs'
import { compareAsync, type Ratio } from './measure'

const home = fileURLToPath(new URL('../../.kataxis-bench', import.meta.url))
const files = 1000
const itemsAFile = 60
/** What somebody types, key by key, and words in any order. */
const typed = [
  'q',
  'qm',
  'qm-',
  'qm-7',
  'qm-70',
  'qm-704',
  'analog',
  'analog inp',
  'inputs ship',
  'brack outputs 4',
  'nothing of this',
]

/** Search as somebody types over 60,000 order numbers, against `count(*)` over the same table, on a
 *  PostgreSQL of its own. */
export async function measureShelfSearch(): Promise<Ratio & { searchMs: number }> {
  rmSync(home, { recursive: true, force: true })
  const postgres = await startPostgres(home)
  const services = await openServices(postgres.url, pino({ level: 'silent' }))
  try {
    await fill(services)
    const search = async () => {
      for (const text of typed) await services.shelf.search(text)
    }
    const count = async () => {
      for (const _ of typed) await services.pool.query('select count(*) from shelf_items')
    }
    const ratio = await compareAsync(search, count)
    return { ...ratio, searchMs: ratio.oursMs / typed.length }
  } finally {
    await closeServices(services)
    postgres.stop()
    rmSync(home, { recursive: true, force: true })
  }
}

async function fill({ pool }: Services): Promise<void> {
  const summary = JSON.stringify({
    vendor: 'Brackwater Instruments',
    family: 'Bench',
    protocol: 'profinet',
  })
  await pool.query(
    `insert into description_files (sha256, name, bytes, content, catalog, summary, reader)
    select lpad(to_hex(f), 64, '0'), 'file-' || f || '.xml', 1, '', '{}', $1::jsonb, 1 from generate_series(1, $2) f`,
    [summary, files],
  )
  await pool.query(
    `insert into shelf_items (sha256, kind, key, name, order_number, info, words)
    select lpad(to_hex(f), 64, '0'), 'module', 'm' || i, name, order_number, '', lower(order_number || ' ' || name || ' Brackwater Instruments Bench')
    from generate_series(1, $1::int) f, generate_series(1, $2::int) i,
      lateral (select 'QM-' || (f * 60 + i) as order_number, (i % 4 * 4) || ' ' || (array['analog inputs', 'analog outputs', 'inputs', 'outputs'])[i % 4 + 1] || ', ' || (array['ship', 'rail', 'standard'])[f % 3 + 1] as name) made`,
    [files, itemsAFile],
  )
  await pool.query('analyze shelf_items')
}
