import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { describe, expect, test } from 'vitest'
import { readProjectFile, writeProjectFile } from '../exchange'
import { controllerIpOf, ipOf, roleNameOf, startUpOf } from '../protocols'
import { command } from './commands'

// A project file as it was written before networks and stations had settings, of the demo with some
// changes by hand.
const text = gunzipSync(
  readFileSync(
    fileURLToPath(
      new URL('../../server/test/data/before-settings.kataxis.json.gz', import.meta.url),
    ),
  ),
).toString()
interface OldRow {
  readonly id: string
  readonly [field: string]: unknown
}
const old = JSON.parse(text) as { networks: OldRow[]; stations: OldRow[] }

describe('a project file from before settings', () => {
  const read = readProjectFile(text)
  if ('fault' in read) throw new Error(read.fault)
  const { plan, revision, files } = read

  test('comes in with every value', () => {
    expect(old.networks.length).toBeGreaterThan(10)
    for (const row of old.networks) {
      const network = plan.networks[row.id]!
      const { settings } = network
      expect(settings.kind).toBe(row['kind'])
      expect(controllerIpOf(network)).toBe(row['controllerIp'])
      for (const name of ['prefixLength', 'rolePattern', 'line', 'requestMs'])
        if (name in settings)
          expect((settings as unknown as Record<string, unknown>)[name]).toEqual(
            // Nobody was asked for data bits then.
            name === 'line' ? { dataBits: 8, ...(row[name] as object) } : row[name],
          )
    }
    for (const row of old.stations) {
      const { station } = plan.stations[row.id]!
      expect(station.settings.kind).toBe(plan.networks[station.networkId]!.settings.kind)
      expect([ipOf(station), roleNameOf(station), startUpOf(station)]).toEqual([
        row['ip'],
        row['roleName'],
        row['startUp'],
      ])
    }
  })

  test('and is written in the words of today, which read the same', () => {
    const written = writeProjectFile(plan, revision, files)
    expect(written).not.toContain('"controllerIp": ""')
    expect(readProjectFile(written)).toEqual(read)
  })

  test('with a wrong value says where it stands', () => {
    const wrong = text.replaceAll('"prefixLength": 24', '"prefixLength": 77')
    expect(readProjectFile(wrong)).toEqual({
      fault: expect.stringMatching(/networks\[\d+\]\.settings\.prefixLength/),
    })
  })
})

describe('a command from before settings', () => {
  test.each([
    [
      { type: 'addNetwork', id: 'n', controllerId: 'k', name: 'N', controllerIp: '10.0.0.1' },
      { kind: 'profinet', settings: { controllerIp: '10.0.0.1', prefixLength: 24 } },
    ],
    [
      {
        type: 'addNetwork',
        id: 'n',
        controllerId: 'k',
        name: 'N',
        kind: 'profibus',
        controllerIp: '',
        prefixLength: 24,
      },
      { kind: 'profibus', settings: {} },
    ],
    [
      { type: 'updateNetwork', id: 'n', set: { requestMs: 250, name: 'x' } },
      { set: { name: 'x', settings: { requestMs: 250 } } },
    ],
    [
      { type: 'addStation', id: 's', networkId: 'n', file: 'f', device: 'd', ip: '10.0.0.2' },
      { settings: { ip: '10.0.0.2' } },
    ],
    [
      { type: 'updateStation', id: 's', set: { ip: '', roleName: 'r' } },
      { set: { settings: { ip: '', roleName: 'r' } } },
    ],
    [
      {
        type: 'batch',
        label: 'b',
        commands: [
          {
            type: 'copyStation',
            sourceId: 's',
            networkId: 'n',
            copies: [{ id: 'c', ip: '10.0.0.3' }],
          },
        ],
      },
      { commands: [{ copies: [{ id: 'c', settings: { ip: '10.0.0.3' } }] }] },
    ],
  ])('%j', (said, meant) => expect(command.parse(said)).toMatchObject(meant))

  test.each([
    [null],
    [7],
    [{ type: 'batch', commands: 7 }],
    [{ type: 'updateStation', set: null }],
  ])('what is none stays wrong: %j', (said) => expect(command.safeParse(said).success).toBe(false))
})
