import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { readDeviceFile } from '../device-files'
import { newPlan } from '../exchange'
import { doAll } from '../test/plans'
import { electricalOf, filterFor, readMilliseconds } from './electrical'
import { hartItems } from './hart'

describe('times in makers’ words', () => {
  test.each<[string, number | null]>([
    ['3 ms', 3],
    ['0.5 ms', 0.5],
    ['0,1 ms', 0.1],
    ['500 µs', 0.5],
    ['20us', 0.02],
    ['1 s', 1000],
    ['3.2 ms (default)', 3.2],
    ['no filter', null],
    ['50 Hz', null],
    ['strong', null],
    ['5', null],
  ])('%s', (text, expected) => expect(readMilliseconds(text)).toBe(expected))
})

test.each<[Record<string, string>, number, number | null]>([
  [{ 0: 'no filter', 1: '0.5 ms', 2: '3 ms', 3: '20 ms' }, 10, 2],
  [{ 0: 'no filter', 1: '0.5 ms', 2: '3 ms', 3: '20 ms' }, 3, 1],
  [{ 0: 'no filter', 1: '0.5 ms' }, 0.1, null],
])('of %j the longest that passes %d ms', (texts, pulse, expected) =>
  expect(filterFor({ texts }, pulse)).toBe(expected),
)

describe('HART variables as data', () => {
  const sheet = {
    kataxisSheet: 1,
    maker: 'Tarn & Vey',
    name: 'Rack',
    network: 'can-rack',
    slots: { count: 4 },
    modules: [
      {
        key: 'ai2',
        name: 'Two inputs with HART',
        electrical: { hart: true, counts: 'i32000' },
        inputs: [
          { name: 'Channel 1', type: 'int16' },
          { name: 'Channel 2', type: 'int16' },
          { name: 'Channel 1 HART PV', type: 'float32' },
          { name: 'Channel 1 HART SV', type: 'float32' },
          { name: 'Channel 2 secondary variable', type: 'float32' },
          { name: 'Channel 2 SV valid', type: 'bit' },
        ],
      },
      {
        key: 'v2',
        name: 'Values',
        inputs: [
          { name: 'Value 1', type: 'int16' },
          { name: 'Value 1 TV', type: 'float32' },
        ],
      },
    ],
  }
  const { file, problems } = readDeviceFile(
    new TextEncoder().encode(JSON.stringify(sheet)),
    'rack.json',
  )
  test('the sheet is taken', () => expect(problems).toEqual([]))
  const catalog = new Map([['rack', file!]])
  const plan = doAll(
    newPlan('p', 'P'),
    catalog,
    { type: 'addController', id: 'k', name: 'K', inputBytes: 100, outputBytes: 100, aligned: true },
    {
      type: 'addNetwork',
      id: 'n',
      controllerId: 'k',
      name: 'N',
      kind: 'can-rack',
    },
    {
      type: 'addStation',
      id: 's',
      networkId: 'n',
      file: 'rack',
      device: file!.devices[0]!.key,
      name: 's',
      comment: '',
    },
    { type: 'insertModule', id: 'm1', stationId: 's', slot: 1, module: 'ai2', shift: false },
    { type: 'insertModule', id: 'm2', stationId: 's', slot: 2, module: 'v2', shift: false },
  )
  const [, first, second] = derive(plan, catalog).stations.get('s')!.modules
  const itemsOf = (module: typeof first, name: string) =>
    Object.entries(
      hartItems(
        module!,
        module!.layout!.channels.find((one) => one.name === name)!,
      ),
    ).map(([variable, channel]) => [variable, channel.name])

  test.each([
    [
      'Channel 1',
      first,
      [
        ['PV', 'Channel 1 HART PV'],
        ['SV', 'Channel 1 HART SV'],
      ],
    ],
    ['Channel 2', first, [['SV', 'Channel 2 secondary variable']]],
    ['Value 1', second, [['TV', 'Value 1 TV']]],
  ] as const)('%s', (name, module, expected) => expect(itemsOf(module, name)).toEqual(expected))

  test('what the sheet says of the channels', () => {
    expect(electricalOf(first!.described)).toEqual({ hart: true, counts: 'i32000' })
    expect(electricalOf(second!.described)).toEqual({})
  })
  test.each([[{ takes: 'all' }], [{ loadMa: -1 }], [{ counts: 'no such' }], [{ volts: 24 }]])(
    '%j is refused with its place',
    (electrical) => {
      const broken = { ...sheet, modules: [{ ...sheet.modules[0], electrical }] }
      expect(
        readDeviceFile(new TextEncoder().encode(JSON.stringify(broken)), 'rack.json'),
      ).toMatchObject({ file: null, problems: [{ code: 'sheet.value', line: 1 }] })
    },
  )
})
