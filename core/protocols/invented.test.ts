import { describe, expect, test, vi } from 'vitest'

// A protocol that nobody has: one object, one line in the list. All else follows.
vi.mock('./list', async (original) => {
  const { protocols } = await original<typeof import('./list')>()
  const { z } = await import('zod')
  const lanternBus = {
    name: 'lantern-bus',
    title: 'Lantern bus',
    kinds: {
      'lantern-bus': {
        name: 'Lantern bus',
        number: { word: 'Lamp', first: 3, last: 9, start: 5 },
        settings: {
          network: { beatMs: z.number().int().min(1).max(100).default(20) },
          station: { wick: z.string().max(10).default('') },
        },
        round: ({ beatMs }: { beatMs: number }, stations: readonly unknown[]) => ({
          ms: stations.length * 15,
          everyMs: beatMs,
        }),
      },
    },
    sheetParts: [],
    byteOrder: 'little',
    placesProposed: true,
    isGapless: true,
    leastCycleUs: () => 4000,
    sizes: () => [{ what: 'light', bytes: 3, limit: 2, source: 'a lamp takes' }],
    telegrams: () => ({ flame: 'ff' }),
    notations: {
      wick: {
        name: 'Wick',
        label: 'wick 3',
        format: (_: unknown, { channel }: { channel: { offsetBits: number } }) =>
          `wick ${channel.offsetBits}`,
        looksLike: /^wick \d/,
      },
    },
  }
  return { protocols: [...protocols, lanternBus] }
})

const { readText, doAll } = await import('../test/plans')
const { newPlan, readProjectFile, writeProjectFile } = await import('../exchange')
const { channelsAtPlace, derive, telegramList, imageList } = await import('../derive')
const { check } = await import('../checks')
const { applyCommand } = await import('../changing')
const { command, wordRefusal } = await import('../plan')
const { wireOrderOf } = await import('.')

const item = { name: 'Flame', type: 'uint16' }
const sheet = readText(
  JSON.stringify({
    kataxisSheet: 1,
    maker: 'M',
    name: 'Lamp',
    orderNumber: 'L-1',
    network: 'lantern-bus',
    head: { inputs: [item] },
  }),
  'lamp.sheet.json',
)
const catalog = new Map([['lamp', sheet.file!]])
const said = (...commands: object[]) => commands.map((one) => command.parse(one))
const lamp = (id: string) => ({
  type: 'addStation',
  id,
  networkId: 'n',
  file: 'lamp',
  device: sheet.file!.devices[0]!.key,
})
const begin = said(
  { type: 'addController', id: 'k', name: 'K' },
  {
    type: 'addNetwork',
    id: 'n',
    controllerId: 'k',
    name: 'Lanterns',
    kind: 'lantern-bus',
    settings: { beatMs: 25 },
  },
  lamp('a'),
  lamp('b'),
  { type: 'updateStation', id: 'a', set: { settings: { wick: 'long' } } },
)
const plan = doAll(newPlan('p', 'P'), catalog, ...begin)
const derived = derive(plan, catalog)

describe('an invented protocol needs nothing but itself and its line in the list', () => {
  test('device sheets describe its devices, and their numbers travel as it says', () => {
    expect(sheet.problems).toEqual([])
    expect(sheet.file!.devices[0]!.protocol).toBe('lantern-bus')
    expect(wireOrderOf(sheet.file!.devices[0]!)).toBe('little')
  })

  test('stations get its numbers and settings', () => {
    expect(
      ['a', 'b'].map((id) => {
        const { deviceNumber, settings } = plan.stations[id]!.station
        return [deviceNumber, settings]
      }),
    ).toEqual([
      [5, { kind: 'lantern-bus', wick: 'long' }],
      [6, { kind: 'lantern-bus', wick: '' }],
    ])
    expect(plan.networks['n']!.settings).toEqual({ kind: 'lantern-bus', beatMs: 25 })
  })

  test.each([
    [
      { type: 'updateNetwork', id: 'n', set: { settings: { requestMs: 5 } } },
      'A network of the kind Lantern bus has no "requestMs".',
    ],
    [
      { type: 'updateStation', id: 'a', set: { settings: { ip: '10.0.0.1' } } },
      'A network of the kind Lantern bus has no "ip".',
    ],
  ])('settings of others are refused: %j', (one, words) => {
    const applied = applyCommand(plan, catalog, command.parse(one))
    expect(applied.ok ? '' : wordRefusal(applied.refusal)).toBe(words)
  })

  test('its limits are checked, its round is timed', () => {
    const found = check(derived).all.map(({ message }) => message)
    expect(found.filter((message) => message.includes('light'))).toHaveLength(2)
    expect(found).toContainEqual(expect.stringContaining('take 30 ms'))
  })

  test('it has telegrams, names for places and a place in the image', () => {
    expect(telegramList(derived)[0]).toMatchObject({
      kind: 'lantern-bus',
      stations: [{ flame: 'ff' }, { flame: 'ff' }],
    })
    expect(channelsAtPlace(derived.stations.get('a')!, 'Wick 0')).toHaveLength(1)
    expect(imageList(derived, 'iec')[0]!.items).toHaveLength(2)
  })

  test('a project file takes it along', () => {
    const written = writeProjectFile(plan, 3, [])
    expect(readProjectFile(written)).toMatchObject({ plan, revision: 3 })
  })
})
