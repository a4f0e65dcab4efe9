import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { hash } from '@node-rs/argon2'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import {
  ipOf,
  networkRow,
  roleNameOf,
  safetyConfigurationOf,
  startUpOf,
  stationRow,
  type NetworkRow,
  type RowChange,
  type StationRow,
} from '@kataxis/core'
import { demoProject } from './index'
import { call, freshDatabase, startServer, type Running } from './test/client'

/** A database as the program left it before networks and stations had settings: the demo with
 *  changes by hand, a network that came, went and came back, and two changes that are undone. */
const dump = gunzipSync(
  readFileSync(fileURLToPath(new URL('test/data/before-settings.sql.gz', import.meta.url))),
).toString()

interface OldRows {
  readonly networks: readonly Record<string, unknown>[]
  readonly stations: readonly Record<string, unknown>[]
}
const base = `/api/projects/${demoProject.id}`
let running: Running
let databaseUrl: string
let old: OldRows
/** Whose changes they are. */
const author = 'Odd Brekke'

async function query<T extends pg.QueryResultRow>(statement: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  return client
    .query<T>(statement)
    .then(({ rows }) => rows)
    .finally(() => client.end())
}

beforeAll(async () => {
  databaseUrl = await freshDatabase()
  await query(dump)
  await query(
    `insert into public.users (id, name, full_name, role, password) values ('u-odd', 'odd', '${author}', 'owner', '${await hash('long enough')}')`,
  )
  old = {
    networks: await query('select * from public.networks'),
    stations: await query('select * from public.stations'),
  }
  running = await startServer(databaseUrl)
})
afterAll(() => running.close())

const look = async () =>
  (await call(running.url, 'GET', base)).json as unknown as {
    revision: number
    networks: NetworkRow[]
    stations: StationRow[]
  }

describe('a database from before settings', () => {
  test('keeps every value of its networks and stations', async () => {
    const { networks, stations } = await look()
    expect([networks.length, stations.length]).toEqual([old.networks.length, old.stations.length])
    for (const row of old.networks) {
      const { settings } = networks.find(({ id }) => id === row['id'])!
      const told = settings as unknown as Record<string, unknown>
      expect(settings.kind).toBe(row['kind'])
      for (const [name, column] of [
        ['controllerIp', 'controller_ip'],
        ['prefixLength', 'prefix_length'],
        ['rolePattern', 'role_pattern'],
        ['requestMs', 'request_ms'],
        ['line', 'line'],
        ['safetyNetworkNumber', 'safety_network_number'],
      ] as const)
        if (name in told)
          expect(told[name]).toEqual(
            // Nobody was asked for data bits then.
            name === 'line' ? { dataBits: 8, ...(row[column] as object) } : row[column],
          )
    }
    for (const row of old.stations) {
      const station = stations.find(({ id }) => id === row['id'])!
      expect([
        ipOf(station),
        roleNameOf(station),
        startUpOf(station),
        safetyConfigurationOf(station),
      ]).toEqual([row['ip'], row['role_name'], row['start_up'], row['safety_configuration']])
    }
  })

  test('has what was set by hand', async () => {
    const { networks, stations } = await look()
    const settingsOf = (rows: readonly { id: string; settings: object }[], id: string) =>
      rows.find((row) => row.id === id)!.settings
    expect(settingsOf(networks, 'n-meters')).toEqual({
      kind: 'modbus-rtu',
      line: { baud: 38_400, dataBits: 8, parity: 'odd', stopBits: 1 },
      requestMs: 750,
    })
    expect(settingsOf(networks, 'n-tanks')).toMatchObject({ kind: 'modbus-tcp', requestMs: 250 })
    expect(settingsOf(networks, 'n-ozone')).toMatchObject({
      safetyNetworkNumber: '0123456789ab',
    })
    expect(settingsOf(stations, 'ozone-pump')).toMatchObject({
      roleName: 'role-007',
      safetyConfiguration: { signature: 'ab-12' },
    })
    expect(settingsOf(stations, 'fill-head')).toEqual({
      kind: 'ethercat',
      operationMode: '',
      startUp: [{ transition: 'PS', index: 0x8010, subindex: 1, data: '10 27', comment: 'ramp' }],
    })
  })

  test('has rows and a history in the words of today, and nothing of the old ones', async () => {
    const { networks, stations } = await look()
    for (const row of networks) expect(networkRow.parse(row)).toEqual(row)
    for (const row of stations) expect(stationRow.parse(row)).toEqual(row)
    const entries = await query<{ changes: RowChange[] }>(
      'select changes from changes order by revision',
    )
    expect(entries.length).toBeGreaterThan(10)
    for (const change of entries.flatMap(({ changes }) => changes))
      for (const row of [change.before, change.after]) {
        if (row === null) continue
        // What rows have had since is filled in where they are read.
        if (change.table === 'networks') expect(networkRow.parse(row)).toMatchObject(row)
        if (change.table === 'stations') expect(stationRow.parse(row)).toMatchObject(row)
      }
  })

  test('ties what was done to the account of who did it', async () => {
    expect(
      await query('select distinct author, user_id from changes where user_id is not null'),
    ).toEqual([{ author, user_id: 'u-odd' }])
  })

  test('links the stations of each network as a line, one change a network', async () => {
    const { networks, stations } = await look()
    const wired = networks.filter(({ settings }) => settings.kind !== 'local')
    const occupied = wired.filter(({ id }) => stations.some(({ networkId }) => networkId === id))
    const made = await query<{ command: { type: string; networkId: string } }>(
      `select command from changes where author = 'Kataxis' and command ->> 'type' = 'lineUp'`,
    )
    expect(made.map(({ command }) => command.networkId).sort()).toEqual(
      occupied.map(({ id }) => id).sort(),
    )
    for (const { id } of occupied) {
      const own = stations.filter(({ networkId }) => networkId === id)
      expect(own.flatMap(({ links }) => Object.values(links))).toHaveLength(own.length)
    }
  })

  // The last two changes are undone: a network that came, and its going.
  test('goes on where its history stood: redo, and back to an old revision', async () => {
    const redo = async () =>
      call(running.url, 'POST', `${base}/redo`, {
        commandId: `redo-${Math.random()}`,
        baseRevision: (await look()).revision,
        author: 'odd',
      })
    const gone = async () => (await look()).networks.find(({ id }) => id === 'gone')
    expect(await gone()).toBeUndefined()
    expect((await redo()).status).toBe(200)
    expect(networkRow.parse(await gone()).settings).toEqual({
      kind: 'modbus-tcp',
      controllerIp: '10.9.9.1',
      prefixLength: 24,
      requestMs: 500,
    })
    expect((await redo()).status).toBe(200)
    expect(await gone()).toBeUndefined()

    const back = await call(running.url, 'POST', `${base}/back`, {
      commandId: 'back-to-2',
      baseRevision: (await look()).revision,
      revision: 2,
    })
    expect(back.status).toBe(200)
    const settings = (await look()).networks.map((row) => [row.id, row.settings] as const)
    expect(Object.fromEntries(settings)).toMatchObject({
      'n-meters': { line: { baud: 38_400 }, requestMs: 750 },
      'n-tanks': { requestMs: 1000 },
      'n-ozone': { safetyNetworkNumber: '' },
    })
  })
})
