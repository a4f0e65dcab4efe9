import { createModel } from 'js-crc'
import polycrc from 'polycrc'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { type Command, type Plan } from '../plan'
import { doAll, wholeDemo } from '../test/plans'
import type { Catalog } from '../catalog'
import { cipSafetyTable } from '../exchange/safety/tables'
import {
  bearsOnSafety,
  failSafeParts,
  isConfigurationStale,
  monitoringTime,
  nodeReference,
  reactionTime,
  safetySignature,
  timeBasedNetworkNumber,
  usualTimes,
} from './index'
import { fromHex } from '../vocabulary'
import { applyCommand } from '../changing'
import { readFParameters, recordsOfPlaced, withParameterCrc, parameterCrc } from '../parameters'

describe('check sums', () => {
  // The usual default set of F parameters gives 53356 (from memory; good evidence, no proof).
  test('F_Par_CRC of the usual defaults', () =>
    expect(parameterCrc(Uint8Array.from([...fromHex('09 40 00 01 00 01 00 96'), 0, 0]))).toBe(
      53_356,
    ))

  // Two packages of the registry agree on both polynomials; check values over 123456789 from the
  // catalogue of CRC parameters.
  test.each([
    [16, 0x4eab, 'cea5'],
    [32, 0xf4acfb13, '6c9f84a8'],
  ])('width %d, polynomial %d', (width, poly, check) => {
    const model = createModel({ width, poly, init: 0, refin: false, refout: false, xorout: 0 })
    expect(model('123456789')).toBe(check)
    expect(polycrc.crc(width, poly, 0, 0, false)('123456789').toString(16)).toBe(check)
  })

  test('F_Par_CRC is what an independent package computes over the block without it', () => {
    const reference = polycrc.crc(16, 0x4eab, 0, 0, false)
    fc.assert(
      fc.property(
        fc.constantFrom(10, 14),
        fc.uint8Array({ minLength: 14, maxLength: 14 }),
        (length, octets) => {
          const block = octets.subarray(0, length)
          expect(parameterCrc(block)).toBe(reference(Buffer.from(block.subarray(0, length - 2))))
        },
      ),
    )
  })

  // The order with an iPar CRC in the block is not confirmed by anything outside: taken as it
  // stands.
  test('stand at the block’s end, the iPar CRC before', () => {
    expect(withParameterCrc('09 40 00 01 00 01 00 96 00 00', 7)).toBe(
      '09 40 00 01 00 01 00 96 d0 6c',
    )
    const long = withParameterCrc('0b 48 00 01 00 0b 00 96 00 00 00 00 00 00', 0x89abcdef)
    expect(long.slice(0, 35)).toBe('0b 48 00 01 00 0b 00 96 89 ab cd ef')
    expect(readFParameters(long)).toEqual({
      sourceAddress: 1,
      destinationAddress: 11,
      watchdogMs: 150,
      hasIParameterCrc: true,
      parameterCrc: parameterCrc(fromHex(long)),
    })
  })
})

// Days since 1972-01-01 and milliseconds since midnight (CIP Vol. 5, from memory): 2026-11-26 is
// day 20053.
test('a safety network number by the time', () => {
  expect(timeBasedNetworkNumber(new Date('2026-11-26T00:00:00.010Z'))).toBe(
    (20_053).toString(16).padStart(4, '0') + '0000000a',
  )
  expect(nodeReference('4e550000000a', '192.168.1.7')).toBe('4e55_0000_000a · 192.168.1.7')
  expect(nodeReference('', '192.168.1.7')).toBeNull()
})

// Common practice: twice the update time, device, controller; and longer than a ring needs to
// close.
test.each([
  [
    { updateMs: 4, deviceMs: 10, hostMs: 20, ringMs: 0 },
    { leastMs: 38, suggestedMs: 50 },
  ],
  [
    { updateMs: 4, deviceMs: 10, hostMs: 20, ringMs: 200 },
    { leastMs: 208, suggestedMs: 271 },
  ],
  [
    { updateMs: 0.5, deviceMs: 0.2, hostMs: 0, ringMs: 0 },
    { leastMs: 2, suggestedMs: 3 },
  ],
])('monitoring time for %j', (times, expected) => expect(monitoringTime(times)).toEqual(expected))

// Safety function response time = sum of worst-case delays + the largest difference between a
// watchdog and its delay (IEC 61784-3-3, from memory).
test('reaction time counts one fault, the one that costs most', () => {
  const link = (name: string, worstMs: number, watchdogMs: number | null) => ({
    name,
    worstMs,
    watchdogMs,
  })
  expect(
    reactionTime([
      link('sensor', 5, null),
      link('input', 10, 60),
      link('network in', 8, 100),
      link('logic', 20, 50),
      link('network out', 8, 100),
      link('output', 12, null),
    ]),
  ).toEqual({ normalMs: 63, worstMs: 155, decidedBy: 'network in' })
  expect(reactionTime([link('sensor', 5, null)])).toEqual({
    normalMs: 5,
    worstMs: 5,
    decidedBy: null,
  })
})

describe('the signature of the safety-relevant part', () => {
  const { plan, catalog } = wholeDemo()
  const signature = (...commands: Command[]) => {
    let now = plan
    for (const command of commands) {
      const applied = applyCommand(now, catalog, command)
      if (!applied.ok) throw new Error(JSON.stringify(applied.refusal))
      now = applied.plan
    }
    return safetySignature(derive(now, catalog))
  }
  const set = (moduleId: string, record: string, parameter: string, value: number): Command => ({
    type: 'setParameters',
    edits: [{ moduleId, record, parameter, value }],
  })
  const before = signature()

  test('times of a connection belong to the plan, and change no signature', () => {
    const times = { ...usualTimes, ringMs: 200 }
    const set = { type: 'setMonitoredTimes', moduleId: 'dosing-2.1', subslot: 1 } as const
    const timed = doAll(plan, catalog, { ...set, times })
    expect(signature({ ...set, times })).toBe(before)
    const part = (of: Plan) =>
      failSafeParts(derive(of, catalog).stations.get('dosing-2')!, catalog).find(
        ({ module }) => module.id === 'dosing-2.1',
      )!
    expect([part(plan).times, part(timed).times]).toEqual([null, times])
    expect(part(doAll(timed, catalog, { ...set, times: null })).times).toBeNull()
    const none = applyCommand(plan, catalog, { ...set, moduleId: 'intake-a.2', times })
    expect(none).toMatchObject({ ok: false, refusal: { code: 'safety.noConnection' } })
  })

  test.each<[string, Command, boolean]>([
    ['an F parameter', set('dosing-2.2', '1.16', 'F_WD_Time', 200), true],
    ['an own parameter', set('dosing-2.1', '1.100', 'P0_Gap', 300), true],
    [
      'the station’s address',
      { type: 'updateStation', id: 'dosing-2', set: { settings: { ip: '192.168.41.77' } } },
      true,
    ],
    [
      'the station’s number',
      { type: 'updateStation', id: 'dosing-2', set: { deviceNumber: 77 } },
      true,
    ],
    [
      'a safety network number',
      {
        type: 'updateNetwork',
        id: 'n-ozone',
        set: { settings: { safetyNetworkNumber: '4e550000000a' } },
      },
      true,
    ],
    [
      'a configuration signature',
      {
        type: 'setSafetyConfiguration',
        id: 'ozone-io',
        signature: '1',
        by: 'AK',
        at: '2026-05-01',
      },
      true,
    ],
    ['a tag on its channel', { type: 'editSignals', edits: [{ id: 'd101', tag: 'OTHER' }] }, true],
    [
      'an address of its data',
      { type: 'setAddress', moduleId: 'dosing-2.2', subslot: 1, direction: 'in', byte: 3000 },
      true,
    ],
    ['a tag elsewhere', { type: 'editSignals', edits: [{ id: 's042', tag: 'OTHER' }] }, false],
    ['a parameter of another module', set('dosing-1.4', '1.1', 'Ch0Range', 2), false],
    ['a comment', { type: 'updateStation', id: 'dosing-2', set: { comment: 'x' } }, false],
  ])('%s', (_, command, changes) => expect(signature(command) !== before).toBe(changes))

  test('comes back when the change is taken back', () =>
    expect(
      signature(
        set('dosing-2.2', '1.16', 'F_WD_Time', 200),
        set('dosing-2.2', '1.16', 'F_WD_Time', 150),
      ),
    ).toBe(before))
})

test('a check sum over own parameters holds until one of them changes', () => {
  const { plan, catalog } = wholeDemo()
  const apply = (now: typeof plan, command: Command) => {
    const applied = applyCommand(now, catalog, command)
    if (!applied.ok) throw new Error(JSON.stringify(applied.refusal))
    return applied.plan
  }
  const isStale = (now: typeof plan) => {
    const [part] = failSafeParts(derive(now, catalog).stations.get('dosing-2')!, catalog)
    return part!.sum!.over !== part!.own
  }
  const renewed = apply(plan, {
    type: 'setIParameterSum',
    moduleId: 'dosing-2.1',
    subslot: 1,
    crc: 5,
    by: 'AK',
    at: '2026-05-01',
  })
  expect([
    isStale(plan),
    isStale(renewed),
    isStale(
      apply(renewed, {
        type: 'setParameters',
        edits: [{ moduleId: 'dosing-2.1', record: '1.16', parameter: 'F_WD_Time', value: 200 }],
      }),
    ),
    isStale(
      apply(renewed, {
        type: 'setParameters',
        edits: [{ moduleId: 'dosing-2.1', record: '1.100', parameter: 'P_Delay', value: 50 }],
      }),
    ),
  ]).toEqual([true, false, false, true])
  expect(
    applyCommand(plan, catalog, {
      type: 'setIParameterSum',
      moduleId: 'dosing-2.2',
      subslot: 1,
      crc: 5,
      by: 'AK',
      at: '',
    }),
  ).toMatchObject({ ok: false, refusal: { code: 'safety.noSum' } })
})

describe('F destination addresses', () => {
  const { plan, catalog } = wholeDemo()
  const destinations = (now: Plan) =>
    [...derive(now, catalog).stations.values()].flatMap((view) =>
      failSafeParts(view, catalog).map(({ f }) => f.destinationAddress),
    )
  const copy: Command = {
    type: 'copyStation',
    sourceId: 'dosing-2',
    networkId: 'n-dosing',
    copies: ['x', 'y', 'z'].map((id) => ({ id, find: '', with: '' })),
  }

  test('each copy of a station gets its own', () => {
    const copied = destinations(doAll(plan, catalog, copy))
    expect(copied.length).toBeGreaterThan(destinations(plan).length + 2)
    expect(new Set(copied).size).toBe(copied.length)
  })

  test('a module that is inserted gets the next free one, and keeps its own where it is free', () => {
    const { slot, module, values } = plan.stations['dosing-2']!.modules['dosing-2.2']!
    const own = values['1.16']!['F_Dest_Add']
    const without = doAll(plan, catalog, { type: 'removeModules', ids: ['dosing-2.2'] })
    const insert = (id: string, given: object) =>
      doAll(without, catalog, {
        type: 'insertModule',
        id,
        stationId: 'dosing-2',
        slot,
        module,
        shift: false,
        ...given,
      })
    expect(destinations(insert('back', { values })).includes(Number(own))).toBe(true)
    const fresh = destinations(insert('new', {}))
    expect(new Set(fresh).size).toBe(fresh.length)
  })
})

describe('what the safety program sees', () => {
  const { plan, catalog } = wholeDemo()
  const bears = (command: Command) => {
    const applied = applyCommand(plan, catalog, command)
    if (!applied.ok) throw new Error(JSON.stringify(applied.refusal))
    return bearsOnSafety(plan, applied.plan, catalog, applied.changes)
  }
  test.each<[string, Command, boolean]>([
    [
      'another address of its data',
      { type: 'setAddress', moduleId: 'dosing-2.2', subslot: 1, direction: 'in', byte: 3000 },
      true,
    ],
    [
      'another tag on its channel',
      { type: 'editSignals', edits: [{ id: 'd101', tag: 'OTHER' }] },
      true,
    ],
    [
      'a signal taken off its channel',
      { type: 'editSignals', edits: [{ id: 'd101', place: null }] },
      true,
    ],
    [
      'all addresses of its controller given anew',
      { type: 'repack', controllerId: plan.networks['n-dosing']!.controllerId, tight: true },
      true,
    ],
    ['a comment', { type: 'editSignals', edits: [{ id: 'd101', comment: 'OTHER' }] }, false],
    ['a tag elsewhere', { type: 'editSignals', edits: [{ id: 's042', tag: 'OTHER' }] }, false],
    [
      'an address elsewhere',
      { type: 'setAddress', moduleId: 'intake-a.2', subslot: 1, direction: 'in', byte: 3000 },
      false,
    ],
  ])('%s', (_, command, expected) => expect(bears(command)).toBe(expected))
})

describe('a configuration signature of CIP safety', () => {
  const { plan, catalog } = wholeDemo()
  const entered = doAll(plan, catalog, {
    type: 'setSafetyConfiguration',
    id: 'ozone-io',
    signature: '0x89ab12cd',
    madeAt: '2026-05-01T10:22:33.000Z',
    by: 'AK',
    at: '2026-05-02',
  })
  const stale = (now: typeof plan) =>
    isConfigurationStale(derive(now, catalog).stations.get('ozone-io')!, catalog)
  const view = derive(plan, catalog).stations.get('ozone-io')!
  const [record] = recordsOfPlaced(catalog, view.station.file, view.device!, {}).filter((one) =>
    one.record.parameters.some(({ changeable }) => changeable),
  )
  const parameter = record!.record.parameters.find(({ changeable }) => changeable)!

  test('holds as it was entered, with its own date and time', () => {
    expect(stale(entered)).toBe(false)
    expect(entered.stations['ozone-io']!.station.settings).toMatchObject({
      safetyConfiguration: { signature: '0x89ab12cd', madeAt: '2026-05-01T10:22:33.000Z' },
    })
  })
  test.each<[string, Command]>([
    [
      'a parameter',
      {
        type: 'setParameters',
        edits: [
          {
            moduleId: 'ozone-io',
            record: record!.key,
            parameter: parameter.key,
            value: parameter.allowed[0]![1],
          },
        ],
      },
    ],
    [
      'another head',
      { type: 'replaceHead', id: 'ozone-io', file: fileNamed(catalog, 'BW-LK4'), device: 'BW-LK4' },
    ],
  ])('is stale after %s changed', (_, command) =>
    expect(stale(doAll(entered, catalog, command))).toBe(true),
  )
  test('stands in the parameter sheet with network number and node reference', () => {
    const numbered = doAll(entered, catalog, {
      type: 'updateNetwork',
      id: 'n-ozone',
      set: { settings: { safetyNetworkNumber: '4e550000000a' } },
    })
    expect(
      cipSafetyTable(derive(numbered, catalog)).rows.find(([name]) => name === 'ozone-io'),
    ).toEqual([
      'ozone-io',
      '4e550000000a',
      '4e55_0000_000a · 192.168.50.29',
      '0x89ab12cd',
      '2026-05-01T10:22:33.000Z',
      'AK',
      '2026-05-02',
      '',
    ])
  })
})

function fileNamed(catalog: Catalog, key: string): string {
  return [...catalog].find(([, { devices }]) => devices.some((one) => one.key === key))![0]
}
