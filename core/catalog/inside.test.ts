import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { channelAddress, derive, type DerivedStation } from '../derive'
import { readDeviceFile } from '../device-files'
import type { WrittenSheet } from '../device-files/sheet/schema'
import { newPlan } from '../exchange'
import { doAll } from '../test/plans'
import { findDevice, type Catalog } from './catalog'

type Data = NonNullable<NonNullable<WrittenSheet['head']>['inputs']>
type DataSet = NonNullable<WrittenSheet['dataSets']>[number]

const dataSet = (key: string, inputBytes: number, outputBytes: number): DataSet => ({
  key,
  name: `Set ${key}`,
  outputInstance: 101,
  outputBytes,
  inputInstance: 102,
  inputBytes,
})
const node = (more: Partial<WrittenSheet>): WrittenSheet => ({
  kataxisSheet: 1,
  maker: 'Tarn & Vey',
  name: 'Node',
  network: 'ethernet-ip',
  ...more,
})

/** Two stations of a sheet's device on one controller, with the modules named in their slots. */
function planOf(
  sheet: WrittenSheet,
  modules: readonly { slot: number; module: string }[] = [],
  connection?: string,
) {
  const { file, problems } = readDeviceFile(
    new TextEncoder().encode(JSON.stringify(sheet)),
    'node.json',
  )
  expect(problems).toEqual([])
  const catalog: Catalog = new Map([['sheet', file!]])
  const device = findDevice(catalog, 'sheet', 'Node')!
  const plan = doAll(
    newPlan('p', 'P'),
    catalog,
    {
      type: 'addController',
      id: 'k1',
      name: 'K1',
      inputBytes: 4000,
      outputBytes: 4000,
      aligned: false,
    },
    {
      type: 'addNetwork',
      id: 'n1',
      controllerId: 'k1',
      name: 'N1',
      kind: 'ethernet-ip',
      settings: { controllerIp: '10.0.0.1' },
    },
    ...['s1', 's2'].flatMap((id) => [
      {
        type: 'addStation' as const,
        id,
        networkId: 'n1',
        file: 'sheet',
        device: 'Node',
        name: id,
        comment: '',
        ...(connection !== undefined && { connection }),
      },
      ...modules
        .filter(({ slot, module }) =>
          device.slots.some((one) => one.slot === slot && one.allowed.includes(module)),
        )
        .map(({ slot, module }) => ({
          type: 'insertModule' as const,
          id: `${id}.${slot}`,
          stationId: id,
          slot,
          module,
          shift: false,
        })),
    ]),
  )
  const derived = derive(plan, catalog)
  const findings = check(derived).all
  return {
    stations: [...derived.stations.values()],
    findings,
    codes: findings.map(({ code }) => code),
  }
}

/** Input bits of every channel of a station, from its first byte. */
function inputsOf({ modules, blocks }: DerivedStation): [string, number][] {
  const first = Math.min(
    ...blocks.filter(({ block }) => block.direction === 'in').map(({ byte }) => byte),
  )
  return modules.flatMap((module) =>
    module
      .layout!.channels.filter(({ direction }) => direction === 'in')
      .flatMap((channel) => {
        const at = channelAddress(module, channel)
        return at ? [[channel.name, (at.byte - first) * 8 + at.bit] as [string, number]] : []
      }),
  )
}

const status: Data = [{ name: 'Status', type: 'uint8', count: 2 }]
const modules: NonNullable<WrittenSheet['modules']> = [
  { key: 'ai', name: 'AI', inputs: [{ name: 'Level', type: 'int16' }] },
  {
    key: 'di',
    name: 'DI',
    inputs: [{ name: 'Bit', type: 'bit', count: 2 }],
    outputs: [{ name: 'Lamp', type: 'bit' }],
  },
]
const standing = [
  { slot: 1, module: 'ai' },
  { slot: 3, module: 'di' },
]

// Common practice: an adapter's connection holds the head's data and then the modules', in the
// order of their slots.
describe('a connection of a sheet', () => {
  test('holds the head’s data and its modules’, and is no longer for them', () => {
    const { stations, codes } = planOf(
      node({
        head: { inputs: status },
        slots: { count: 3 },
        modules,
        dataSets: [dataSet('a', 8, 4)],
      }),
      standing,
    )
    expect(stations.map(({ inputBytes, outputBytes }) => [inputBytes, outputBytes])).toEqual([
      [8, 4],
      [8, 4],
    ])
    expect(inputsOf(stations[0]!)).toEqual([
      ['Status 1', 0],
      ['Status 2', 8],
      ['Level', 16],
      ['Bit 1', 32],
      ['Bit 2', 33],
    ])
    expect(stations[0]!.blocks.map(({ block, byte }) => [block.direction, byte])).toEqual([
      ['in', 0],
      ['out', 0],
    ])
    expect(stations[1]!.blocks.map(({ block, byte }) => [block.direction, byte])).toEqual([
      ['in', 8],
      ['out', 4],
    ])
    expect(codes.filter((code) => /connectionRoom|noAddress/.test(code))).toEqual([])
  })

  test.each<[string, Partial<WrittenSheet>, [needed: number, has: number], string[]]>([
    [
      'the head’s data',
      { head: { inputs: status }, dataSets: [dataSet('a', 1, 0)] },
      [2, 1],
      ['Status 1'],
    ],
    [
      'a table of nibbles',
      {
        slots: { count: 5, nibbles: {} },
        modules: [{ key: 'n', name: 'N', inputs: [{ name: 'I', type: 'bit', count: 4 }] }],
        dataSets: [dataSet('a', 2, 4)],
      },
      [4, 2],
      ['Flags'],
    ],
    [
      'slots of one size',
      {
        slots: { count: 3, everySlot: { inputBytes: 2, outputBytes: 0 } },
        modules: modules.slice(0, 1),
        dataSets: [dataSet('a', 4, 0)],
      },
      [6, 4],
      ['Level'],
    ],
    [
      'a module',
      { head: { inputs: status }, slots: { count: 3 }, modules, dataSets: [dataSet('a', 4, 1)] },
      [5, 4],
      ['Status 1', 'Status 2', 'Level'],
    ],
  ])(
    'too small for %s is a blocker, and what does not fit has no address',
    (_, more, [needed, has], left) => {
      const { stations, findings } = planOf(node(more), [...standing, { slot: 5, module: 'n' }])
      expect(
        findings.filter(({ code, at }) => code === 'station.connectionRoom' && at.station === 's1'),
      ).toMatchObject([
        {
          severity: 'blocker',
          message: `s1 has ${needed} input bytes of data, and its connection "Set a" carries ${has}.`,
        },
      ])
      expect(inputsOf(stations[0]!).map(([name]) => name)).toEqual(left)
    },
  )

  test('that is larger is offered, and mends it', () => {
    const sheet = node({
      head: { inputs: status },
      slots: { count: 3 },
      modules,
      dataSets: [dataSet('a', 4, 1), dataSet('b', 6, 1)],
    })
    const [finding] = planOf(sheet, standing, 'a').findings.filter(
      ({ code }) => code === 'station.connectionRoom',
    )
    expect(finding!.fixes()).toMatchObject([
      { label: 'Choose Set b', command: { type: 'replaceHead', connection: 'b' } },
    ])
    expect(planOf(sheet, standing, 'b').codes).not.toContain('station.connectionRoom')
  })
})

// Whatever a sheet says: no two channels of a controller share a bit, and each lies inside its
// station's bytes.
test('channels of any sheet lie inside their station and beside each other', () => {
  const item = fc.record({
    name: fc.constantFrom('a', 'b'),
    type: fc.constantFrom('bit', 'uint4', 'uint8', 'int16', 'float32'),
    count: fc.integer({ min: 1, max: 9 }),
  })
  const data = fc.array(item, { maxLength: 3 }) as fc.Arbitrary<Data>
  const sheets = fc.record({
    head: fc.record({ inputs: data, outputs: data }),
    modules: fc.tuple(data, data, data, data).map(([in1, out1, in2, out2]) => [
      { key: 'm1', name: 'M1', inputs: in1, outputs: out1 },
      { key: 'm2', name: 'M2', inputs: in2, outputs: out2 },
    ]),
    slots: fc.oneof(
      fc.record({ count: fc.integer({ min: 0, max: 5 }) }),
      fc.record({
        count: fc.integer({ min: 1, max: 5 }),
        everySlot: fc.record({
          inputBytes: fc.integer({ min: 0, max: 9 }),
          outputBytes: fc.integer({ min: 0, max: 9 }),
        }),
      }),
      fc.record({ count: fc.integer({ min: 1, max: 5 }), nibbles: fc.constant({}) }),
    ),
    dataSets: fc
      .array(fc.tuple(fc.integer({ min: 0, max: 30 }), fc.integer({ min: 0, max: 30 })), {
        maxLength: 2,
      })
      .map((sizes) => sizes.map(([inputs, outputs], i) => dataSet(`d${i}`, inputs, outputs))),
  })
  fc.assert(
    fc.property(
      sheets,
      fc.array(fc.constantFrom('m1', 'm2'), { minLength: 5, maxLength: 5 }),
      (more, plugged) => {
        const { file } = readDeviceFile(
          new TextEncoder().encode(JSON.stringify(node(more as Partial<WrittenSheet>))),
          'node.json',
        )
        // A module that no slot has room for is told where the sheet is read.
        fc.pre(file !== null && file.problems.length === 0)
        const { stations, codes } = planOf(
          node(more as Partial<WrittenSheet>),
          plugged.map((module, i) => ({ slot: i + 1, module })),
        )
        for (const direction of ['in', 'out'] as const) {
          const seen = new Set<number>()
          for (const { modules: placed, blocks } of stations) {
            for (const module of placed) {
              for (const channel of module.layout?.channels ?? []) {
                if (channel.direction !== direction) continue
                const at = channelAddress(module, channel)
                if (!at) {
                  expect(codes).toContain('station.connectionRoom')
                  continue
                }
                const first = at.byte * 8 + at.bit
                expect(
                  blocks.some(
                    ({ block, byte }) =>
                      block.direction === direction &&
                      first >= byte * 8 &&
                      first + channel.bits <= (byte + block.bytes) * 8,
                  ),
                ).toBe(true)
                for (let bit = first; bit < first + channel.bits; bit++) {
                  expect(seen.has(bit)).toBe(false)
                  seen.add(bit)
                }
              }
            }
          }
        }
      },
    ),
    { numRuns: 150 },
  )
})
