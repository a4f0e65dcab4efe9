import { execFile } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { demoProject } from '../server/index'
import { call, demoDatabase, freshDatabase, startServer, type Running } from '../server/test/client'

const root = fileURLToPath(new URL('..', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'kataxis-backup-'))
const file = join(folder, 'all.backup')
let databaseUrl: string
let running: Running

/** Runs a script while the server of this process goes on: one that stood still for seconds
 *  would cut connections that are about to be used. */
const run = (script: string, target: string, ...args: string[]) =>
  new Promise<{ status: number; said: string }>((resolve) => {
    const env = { ...process.env, DATABASE_URL: target }
    const child = execFile(
      process.execPath,
      [`scripts/${script}.mjs`, ...args],
      { cwd: root, env },
      (_error, _out, said) => resolve({ status: child.exitCode ?? -1, said }),
    )
  })
const base = `/api/projects/${demoProject.id}`
const rename = (name: string, baseRevision: number, epoch?: string) =>
  call(running.url, 'POST', `${base}/commands`, {
    commandId: `b${Math.random()}`,
    baseRevision,
    ...(epoch && { epoch }),
    command: { type: 'updateStation', id: 'intake-a', set: { name } },
  })
const look = async (on: Running) =>
  (await call(on.url, 'GET', base)).json as {
    epoch: string
    revision: number
    stations: { id: string; name: string }[]
  }
async function query<T extends pg.QueryResultRow>(url: string, statement: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  return client
    .query<T>(statement)
    .then(({ rows }) => rows)
    .finally(() => client.end())
}

beforeAll(async () => {
  databaseUrl = await demoDatabase()
  running = await startServer(databaseUrl)
})
afterAll(async () => {
  await running.close()
  rmSync(folder, { recursive: true, force: true })
})

describe('a backup', () => {
  test('is made while the program runs, and comes back whole on a new machine', async () => {
    await rename('before', 1)
    const made = await run('backup', databaseUrl, file)
    expect(made.said).toMatch(/1 projects and \d+ description files/)
    expect(await run('backup', databaseUrl, file)).toMatchObject({
      status: 1,
      said: expect.stringContaining('is there already'),
    })

    const other = await freshDatabase()
    expect(await run('restore', other, file)).toMatchObject({ status: 0 })
    const there = await startServer(other)
    try {
      const [here, came] = [await look(running), await look(there)]
      const sorted = (of: typeof here) => [...of.stations].sort((a, b) => (a.id < b.id ? -1 : 1))
      expect([came.revision, sorted(came)]).toEqual([here.revision, sorted(here)])
      expect(came.epoch).not.toBe(here.epoch)
      const files = async (on: Running) =>
        ((await call(on.url, 'GET', '/api/files')).json['files'] as { sha256: string }[])
          .map(({ sha256 }) => sha256)
          .sort()
      expect(await files(there)).toEqual(await files(running))
      // The new database is as strict as the old one.
      await expect(query(other, `delete from networks`)).rejects.toMatchObject({ code: '23503' })
    } finally {
      await there.close()
    }
  }, 60_000)

  test('restored under a running program is another database for whoever looks at it', async () => {
    const before = await look(running)
    await rename('after the backup', before.revision)
    await rename('and again', before.revision + 1)
    expect(await run('restore', databaseUrl, file)).toMatchObject({ status: 0 })
    const after = await look(running)
    expect([after.revision, after.stations.find(({ id }) => id === 'intake-a')?.name]).toEqual([
      before.revision,
      'before',
    ])
    expect(after.epoch).not.toBe(before.epoch)
    expect(
      await rename('meant for the other one', before.revision + 2, before.epoch),
    ).toMatchObject({ status: 409, json: { code: 'epoch.other' } })
    expect(await rename('goes on', after.revision, after.epoch)).toMatchObject({ status: 200 })
  }, 60_000)

  test.each([
    ['a file that is none', () => writeFileSync(join(folder, 'x'), 'hello'), 'is no backup'],
    ['no file', () => undefined, 'There is no file'],
    [
      'one with a changed octet',
      () =>
        writeFileSync(
          join(folder, 'x'),
          readFileSync(file).map((octet, i) => (i === 5000 ? octet ^ 1 : octet)),
        ),
      'is damaged',
    ],
    [
      'one that is cut off',
      () => writeFileSync(join(folder, 'x'), readFileSync(file).subarray(0, 20_000)),
      'is damaged',
    ],
    [
      'one of a newer program',
      () =>
        writeFileSync(
          join(folder, 'x'),
          Buffer.concat([
            Buffer.from(
              readFileSync(file)
                .subarray(0, 1024)
                .toString()
                .replace(/"migrations":\d+/, '"migrations":9999999999999')
                .slice(0, 1024),
            ),
            readFileSync(file).subarray(1024),
          ]),
        ),
      'newer version',
    ],
  ])('%s is refused in a sentence and changes nothing', async (_, make, sentence) => {
    if (existsSync(join(folder, 'x'))) rmSync(join(folder, 'x'))
    make()
    const before = await look(running)
    const refused = await run('restore', databaseUrl, join(folder, 'x'))
    expect(refused).toMatchObject({ status: 1, said: expect.stringContaining(sentence) })
    expect(refused.said).not.toMatch(/\n\s+at /)
    expect(await look(running)).toEqual(before)
  })
})

describe('an update', () => {
  /** A database as a program left it that did not keep plans valid yet. */
  async function older(): Promise<string> {
    const url = await freshDatabase()
    const { entries } = JSON.parse(
      readFileSync(join(root, 'server/db/migrations/meta/_journal.json'), 'utf8'),
    ) as { entries: { tag: string; when: number }[] }
    await query(
      url,
      'create schema drizzle; create table drizzle.__drizzle_migrations (id serial primary key, hash text not null, created_at bigint)',
    )
    for (const { tag, when } of entries.filter((one) => one.tag < '0011')) {
      for (const statement of readFileSync(
        join(root, `server/db/migrations/${tag}.sql`),
        'utf8',
      ).split('--> statement-breakpoint'))
        await query(url, statement)
      await query(
        url,
        `insert into drizzle.__drizzle_migrations (hash, created_at) values ('${tag}', ${when})`,
      )
    }
    return url
  }
  const damage = `
    insert into projects (id, name, tag_length) values ('p', 'P', 32);
    insert into controllers (project_id, id, name, position, input_bytes, output_bytes, aligned) values ('p', 'k', 'K', 1, 64, 64, true);
    insert into networks (project_id, id, controller_id, name, kind, position, controller_ip, prefix_length) values ('p', 'n', 'k', 'N', 'profinet', 1, '10.0.0.1', 24), ('p', 'lost', 'gone', 'L', 'profinet', 2, '10.0.1.1', 24);
    insert into stations (project_id, id, network_id, position, name, ip, device_number, file, device, comment, addresses) values ('p', 's', 'n', 1, 's', '10.0.0.2', 1, 'f', 'd', '', '{}');
    insert into modules (project_id, id, station_id, slot, module, addresses) values ('p', 'a', 's', 1, 'M', '{}'), ('p', 'b', 's', 1, 'M', '{}'), ('p', 'c', 'away', 1, 'M', '{}');
    insert into signals (project_id, id, place, tag, comment, terminal) values
      ('p', 'x', '{"moduleId":"a","subslot":1,"direction":"in","offsetBits":0}', 'X', '', ''), ('p', 'y', '{"moduleId":"a","subslot":1,"direction":"in","offsetBits":0}', 'Y', '', ''),
      ('p', 'z', '{"moduleId":"nowhere","subslot":1,"direction":"in","offsetBits":0}', 'Z', '', '')`

  test('takes a database that an older program damaged, which is told, can be read and is repaired', async () => {
    const url = await older()
    await query(url, damage)
    const server = await startServer(url)
    try {
      expect(await server.services.plans.damaged()).toEqual(['p'])
      const plan = async () =>
        (await call(server.url, 'GET', '/api/projects/p')).json as {
          damage: string[]
          modules: { id: string }[]
          networks: { id: string }[]
          signals: { id: string; place: object | null }[]
        }
      const damaged = await plan()
      expect(damaged.damage).toHaveLength(5)
      expect([damaged.modules.map(({ id }) => id), damaged.networks.map(({ id }) => id)]).toEqual([
        ['a'],
        ['n'],
      ])
      expect(
        await call(server.url, 'POST', '/api/projects/p/repair', {
          commandId: 'r',
          baseRevision: 0,
        }),
      ).toMatchObject({ status: 200 })
      const mended = await plan()
      expect([
        mended.damage,
        mended.signals.map(({ id, place }) => [id, place !== null]).sort(),
      ]).toEqual([
        [],
        [
          ['x', true],
          ['y', false],
          ['z', false],
        ],
      ])
      expect(
        await query(url, `select count(*)::int as rows from modules where project_id = 'p'`),
      ).toEqual([{ rows: 1 }])
      // The copy on which it was tried is gone.
      expect(
        await query(
          inject('databaseUrl'),
          `select datname from pg_database where datname like 'kataxis_trial%'`,
        ),
      ).toEqual([])
    } finally {
      await server.close()
    }
  }, 60_000)

  test('that fails leaves the database as it was, and says so', async () => {
    const url = await older()
    await query(url, 'create table instance (something text)')
    await expect(startServer(url)).rejects.toThrow(
      /failed on a copy of it; the database is as it was/,
    )
    expect(
      await query(url, 'select count(*)::int as rows from drizzle.__drizzle_migrations'),
    ).toEqual([{ rows: 11 }])
  }, 60_000)

  test('backwards is refused: an older program leaves a newer database alone', async () => {
    const url = await freshDatabase()
    await (await startServer(url)).close()
    await query(
      url,
      `insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 9999999999999)`,
    )
    await expect(startServer(url)).rejects.toThrow(/newer version of Kataxis/)
  }, 60_000)
})
