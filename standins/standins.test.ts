import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  derive,
  differenceFault,
  drawDifferences,
  FrameLog,
  plannedNetworks,
  rehearsalSteps,
  rehearse,
  whatIf,
  wiredNetworks,
  type RunState,
  type SiteDifference,
  type SocketAddress,
} from '@kataxis/core'
import { wholeDemo } from '../core/test/plans'
import { buildWorld, Performance } from './index'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const fileCalled = (word: string) => (catalog.has(word) ? word : null)
const networks = plannedNetworks(derived)
const otherFile = [...catalog.keys()].find(
  (hash) =>
    hash !== plan.stations['tank-021']!.station.file &&
    catalog.get(hash)!.devices.some((one) => 'sheet' in one && one.protocol === 'modbus'),
)!

/** The whole way against a plant with these differences. */
function run(...differences: SiteDifference[]) {
  const world = buildWorld(derived, differences, fileCalled)
  const performance = new Performance(world, derived, Infinity)
  performance.act({ do: 'scan' })
  performance.act({ do: 'assignAll' })
  performance.act({ do: 'start' })
  performance.act({ do: 'check' })
  return { performance, state: rehearse.compare(rehearse.match(performance.state)) }
}

const codesAt = ({ findings }: RunState, name: string) => [
  ...new Set(
    rehearsalSteps.flatMap((step) =>
      (findings[step] ?? []).flatMap(({ station, tag, code, slot }) =>
        code !== 'plan.blocker' && (station === name || tag === name)
          ? [slot === null ? code : `${code} ${slot}`]
          : [],
      ),
    ),
  ),
]
const stateOf = (state: RunState, name: string) => {
  const station = networks.flatMap(({ stations }) => stations).find((one) => one.name === name)!
  return rehearse.stationStates(state).get(station.id)
}

describe('a plant as planned', () => {
  const { state } = run()
  test('every station runs on every network, but those whose plan has a blocker', () => {
    const states = rehearse.stationStates(state)
    for (const { stations } of networks)
      for (const { id, name } of stations)
        expect([name, states.get(id)]).toEqual([name, state.blocked[id] ? 'fault' : 'running'])
  })
  test('every signal shows what the field does', () => {
    expect(state.signals.length).toBeGreaterThan(500)
    expect(state.signals.filter(({ verdict }) => verdict !== 'ok')).toEqual([])
  })
  test('scanning changes nothing: the same again', () => {
    const world = buildWorld(derived, [], fileCalled)
    const line = (id: string) => world.line(id, new FrameLog())
    const site = { line, field: world.field }
    const first = rehearse.scan(rehearse.beginRun(derived), site)
    expect(rehearse.scan(first, site).found).toEqual(first.found)
  })
})

test('Modbus units that share an address are told apart', () => {
  const { station, ...group } = plan.stations['tank-022']!
  const { ip } = plan.stations['tank-021']!.station.settings as { ip: string }
  const shared = {
    ...plan,
    stations: {
      ...plan.stations,
      'tank-022': {
        ...group,
        station: { ...station, deviceNumber: 2, settings: { kind: 'modbus-tcp', ip } as const },
      },
    },
  }
  const both = derive(shared, catalog)
  const performance = new Performance(buildWorld(both, [], fileCalled), both, Infinity)
  performance.act({ do: 'scan' })
  performance.act({ do: 'start' })
  expect(stateOf(performance.state, 'tank-021')).toBe('running')
  expect(stateOf(performance.state, 'tank-022')).toBe('running')
})

/** A difference, at which station or signal something is said, what, and how that station ends. */
const cases: [SiteDifference, string, string[], string | null][] = [
  [{ kind: 'factoryNew', station: 'membrane-1' }, 'membrane-1', [], 'running'],
  [{ kind: 'factoryNew', station: 'ozone-pump' }, 'ozone-pump', [], 'running'],
  [{ kind: 'factoryNew', station: 'meter-1' }, 'meter-1', ['match.switches'], 'differs'],
  [
    { kind: 'swapped', station: 'intake-b', slots: [2, 3] },
    'intake-b',
    ['compare.swapped 2', 'start.wrong 2', 'start.wrong 3'],
    'fault',
  ],
  [
    { kind: 'missingModule', station: 'well-head', slot: 2 },
    'well-head',
    ['compare.missing 2', 'start.configuration'],
    'fault',
  ],
  [
    { kind: 'missingModule', station: 'train-1', slot: 2 },
    'train-1',
    ['compare.missing 2', 'start.missing 2'],
    'fault',
  ],
  [
    { kind: 'missingModule', station: 'pack-rack', slot: 2 },
    'pack-rack',
    ['compare.missing 2', 'check.failed 2'],
    'running',
  ],
  [
    { kind: 'wrongModule', station: 'pack-rack', slot: 2, module: 'mix32' },
    'pack-rack',
    ['compare.wrong 2'],
    'running',
  ],
  [
    { kind: 'surplusModule', station: 'pack-rack', slot: 3, module: 'di16' },
    'pack-rack',
    ['compare.surplus 3'],
    'running',
  ],
  [{ kind: 'duplicateName', station: 'intake-b', as: 'membrane-1' }, 'membrane-1', [], 'running'],
  [
    {
      kind: 'wrongType',
      station: 'tank-021',
      device: { file: otherFile, device: catalog.get(otherFile)!.devices[0]!.key },
    },
    'tank-021',
    ['match.type', 'start.refused'],
    'fault',
  ],
  [{ kind: 'wrongFirmware', station: 'fill-di-1' }, 'fill-di-1', ['match.firmware'], 'running'],
  [
    { kind: 'wrongFirmware', station: 'ozone-io' },
    'ozone-io',
    ['match.firmware', 'start.refused'],
    'fault',
  ],
  [{ kind: 'missing', station: 'fill-do-1' }, 'fill-do-1', ['match.missing'], 'missing'],
  [{ kind: 'missing', station: 'pallet-node' }, 'pallet-node', ['match.missing'], 'missing'],
  [
    { kind: 'switches', station: 'well-1', value: 77 },
    'well-1',
    ['match.switches', 'assign.switches'],
    'differs',
  ],
  [{ kind: 'stopped', station: 'well-2' }, 'well-2', ['start.stopped'], 'fault'],
  [{ kind: 'stopped', station: 'pack-rack' }, 'pack-rack', ['start.stopped'], 'fault'],
  [{ kind: 'stopped', station: 'pallet-node' }, 'pallet-node', ['start.stopped'], 'fault'],
  [{ kind: 'stopped', station: 'train-3' }, 'train-3', ['start.stopped'], 'fault'],
  [{ kind: 'stopped', station: 'ozone-io' }, 'ozone-io', ['start.noData'], 'fault'],
  [{ kind: 'stopped', station: 'fill-ai-1' }, 'fill-ai-1', ['start.state'], 'fault'],
  [{ kind: 'slow', station: 'train-1', ms: 500 }, 'train-1', ['start.noData'], 'fault'],
  [{ kind: 'slow', station: 'train-1', ms: 0 }, 'train-1', [], 'running'],
  [
    { kind: 'wireBreak', tag: 'INT_LT_101' },
    'INT_LT_101',
    ['start.diagnosis 5', 'check.failed 5'],
    null,
  ],
  [
    { kind: 'shortCircuit', tag: 'INT_LT_101' },
    'INT_LT_101',
    ['start.diagnosis 5', 'check.failed 5'],
    null,
  ],
  [{ kind: 'wireBreak', tag: 'INT_P101_Run' }, 'INT_P101_Run', ['check.failed 2'], null],
  [{ kind: 'scaled', tag: 'INT_FT_104', factor: 0.5 }, 'INT_FT_104', ['check.failed 5'], null],
  [
    { kind: 'crossed', tags: ['INT_P101_Run', 'INT_P101_Flt'] },
    'INT_P101_Flt',
    ['check.failed 2'],
    null,
  ],
]

describe('what is otherwise is found at its place', () => {
  test.each(cases)('%o', (difference, at, codes, ends) => {
    expect(differenceFault(derived, [difference], fileCalled)).toBeNull()
    const { state } = run(difference)
    expect(codesAt(state, at)).toEqual(codes)
    if (ends) expect(stateOf(state, at)).toBe(ends)
    // Nobody else is blamed.
    const others = Object.values(state.findings)
      .flat()
      .filter(
        ({ code, station, severity }) =>
          severity !== 'note' && code !== 'plan.blocker' && station !== null,
      )
      .map(({ station }) => station)
    const named =
      'station' in difference
        ? [difference.station, 'as' in difference ? difference.as : '']
        : ['intake-a']
    expect(others.filter((name) => !named.includes(name!))).toEqual([])
  })

  test('a crossed wire is told by what arrives', () => {
    const { state } = run({ kind: 'crossed', tags: ['INT_P101_Run', 'INT_P101_Flt'] })
    expect(state.signals.find(({ tag }) => tag === 'INT_P101_Run')).toMatchObject({
      raw: 0,
      expected: 1,
      verdict: 'failed',
      why: 'what arrives there is INT_P101_Flt',
    })
  })

  test('a cable that is cut takes away those that have no other way', () => {
    const cuts = wiredNetworks(derived).flatMap((network) =>
      network.links.map(({ id }) => ({
        id,
        lost: whatIf(network, { links: new Set([id]), nodes: new Set() }).unreachable,
      })),
    )
    const { id, lost } = cuts.find((one) => one.lost.length > 1)!
    const { state } = run({ kind: 'cut', link: id })
    const states = rehearse.stationStates(state)
    expect(lost.map((view) => states.get(view.id))).toEqual(lost.map(() => 'missing'))
  })

  test.each([
    [{ kind: 'missing', station: 'nobody' }, 'no station "nobody"'],
    [{ kind: 'wireBreak', tag: 'NO_TAG' }, 'no placed signal "NO_TAG"'],
    [{ kind: 'cut', link: 'no' }, 'no link "no"'],
    [{ kind: 'missingModule', station: 'intake-a', slot: 60 }, 'no module in slot 60'],
    [
      { kind: 'surplusModule', station: 'intake-a', slot: 1, module: 'x' },
      'slot 1 of intake-a is taken',
    ],
    [{ kind: 'wrongModule', station: 'intake-a', slot: 1, module: 'x' }, 'no module "x"'],
    [{ kind: 'switches', station: 'fill-di-1', value: 3 }, 'fill-di-1 has no switches'],
    [
      { kind: 'wrongType', station: 'intake-a', device: { file: 'no', device: 'x' } },
      'no description file "no"',
    ],
  ] as [SiteDifference, string][])('%o has no place in the plan', (difference, part) => {
    expect(differenceFault(derived, [difference], fileCalled)).toContain(part)
  })
})

describe('hands on site', () => {
  test('switches count after the power cycle, not before', () => {
    const { performance } = run({ kind: 'switches', station: 'well-1', value: 77 })
    const at = () => {
      performance.act({ do: 'scan' })
      return performance.state.found[plan.stations['well-1']!.station.networkId]!.map(
        ({ address }) => address,
      )
    }
    performance.act({ do: 'onSite', stationId: 'well-1', what: 'setSwitches' })
    expect(at()).toContain('77')
    performance.act({ do: 'onSite', stationId: 'well-1', what: 'powerCycle' })
    expect(at()).not.toContain('77')
    expect(at()).toContain('11')
  })

  test('what was touched runs no more until it is started again, and nobody else is disturbed', () => {
    const { performance } = run({ kind: 'swapped', station: 'intake-b', slots: [2, 3] })
    const [before, other] = [
      stateOf(performance.state, 'train-2'),
      stateOf(performance.state, 'train-3'),
    ]
    expect([before, other]).toEqual(['running', 'running'])
    performance.act({ do: 'onSite', stationId: 'train-2', what: 'powerCycle' })
    expect(stateOf(performance.state, 'train-2')).toBe('as planned')
    performance.act({ do: 'onSite', stationId: 'intake-b', what: 'plugModules' })
    performance.act({ do: 'check' })
    const { signals } = performance.state
    expect(
      signals
        .filter(({ station }) => station === 'train-3')
        .every(({ verdict }) => verdict === 'ok'),
    ).toBe(true)
  })

  test('a cable that is mended brings back all behind it', () => {
    const cuts = wiredNetworks(derived).flatMap((network) =>
      network.links.map(({ id }) => ({
        id,
        lost: whatIf(network, { links: new Set([id]), nodes: new Set() }).unreachable,
      })),
    )
    const { id, lost } = cuts.find((one) => one.lost.length > 1)!
    const { performance } = run({ kind: 'cut', link: id })
    performance.act({ do: 'onSite', stationId: lost[0]!.id, what: 'connect' })
    performance.act({ do: 'scan' })
    const states = rehearse.stationStates(performance.state)
    expect(lost.map((view) => states.get(view.id))).not.toContain('missing')
  })

  test('a device that was replaced is factory-new, is named again, and runs', () => {
    const { performance } = run()
    performance.act({ do: 'onSite', stationId: 'train-2', what: 'replaceDevice' })
    performance.act({ do: 'scan' })
    expect(stateOf(performance.state, 'train-2')).not.toBe('missing')
    performance.act({ do: 'assignAll' })
    performance.act({ do: 'start' })
    expect(stateOf(performance.state, 'train-2')).toBe('running')
  })

  test.each([
    ['plugModules', { kind: 'swapped', station: 'intake-b', slots: [2, 3] }, 'intake-b'],
    ['plugModules', { kind: 'missingModule', station: 'well-head', slot: 2 }, 'well-head'],
    ['switchToRun', { kind: 'stopped', station: 'well-2' }, 'well-2'],
    ['connect', { kind: 'missing', station: 'fill-do-1' }, 'fill-do-1'],
  ] as const)('%s mends, and the score says so', (what, difference, name) => {
    const { performance } = run(difference as SiteDifference)
    expect(performance.score()).toMatchObject([{ isFound: true, isMended: false }])
    performance.act({ do: 'onSite', stationId: name, what })
    performance.act({ do: 'scan' })
    performance.act({ do: 'start' })
    expect(stateOf(performance.state, name)).toBe('running')
    expect(performance.score()).toMatchObject([{ isFound: true, isMended: true }])
  })

  test('a name is never given to a second device', () => {
    const { performance } = run()
    const { networkId } = plan.stations['train-1']!.station
    const other = performance.state.found[networkId]!.find(({ name }) => name === 'train-2')!
    performance.act({ do: 'assign', stationId: 'train-1', key: other.key })
    expect(performance.refused).toContain('has train-1 already')
  })

  test('who runs refuses another name; after a reset it takes one', () => {
    const { performance } = run()
    const { networkId } = plan.stations['train-1']!.station
    const device = performance.state.found[networkId]!.find(({ name }) => name === 'train-1')!
    performance.act({ do: 'reset', networkId, key: device.key })
    performance.act({ do: 'assign', stationId: 'train-1', key: device.key })
    expect(performance.refused).toBeNull()
  })
})

describe('fail-safe destination addresses', () => {
  const fresh = () => {
    const performance = new Performance(
      buildWorld(derived, [{ kind: 'factoryNew', station: 'dosing-2' }], fileCalled),
      derived,
      Infinity,
    )
    performance.act({ do: 'scan' })
    performance.act({ do: 'assignAll' })
    return performance
  }
  const write = { do: 'writeFailSafe', stationId: 'dosing-2', serial: '' } as const
  const differs = ({ state }: Performance) =>
    rehearse.compare(state).findings.compare!.filter(({ code }) => code === 'compare.failSafe')

  test('are not written before the device was identified, nor after the time', () => {
    const performance = fresh()
    expect(differs(performance).length).toBeGreaterThan(0)
    performance.act(write)
    expect(performance.refused).toBe('Identify the device first.')
    performance.act({ do: 'identifyFailSafe', stationId: 'dosing-2' }, 1000)
    performance.act(write, 62_000)
    expect(performance.refused).toContain('that is void')
    expect(differs(performance).length).toBeGreaterThan(0)
  })
  test('are written within the time, and only under the right serial number', () => {
    const performance = fresh()
    performance.act({ do: 'identifyFailSafe', stationId: 'dosing-2' }, 1000)
    performance.act({ ...write, serial: 'another' }, 2000)
    expect(performance.refused).toContain('nothing was written')
    performance.act({ do: 'identifyFailSafe', stationId: 'dosing-2' }, 3000)
    performance.act(write, 4000)
    expect(performance.refused).toBeNull()
    expect(differs(performance)).toEqual([])
  })
})

test('the same seed draws the same differences, all of which the plan has a place for', () => {
  fc.assert(
    fc.property(
      fc.nat(0xffff_ffff),
      fc.constantFrom('few', 'badDay' as const),
      (seed, difficulty) => {
        const drawn = drawDifferences(derived, difficulty as 'few', seed)
        expect(drawn.length).toBeGreaterThan(0)
        expect(drawDifferences(derived, difficulty as 'few', seed)).toEqual(drawn)
        expect(differenceFault(derived, drawn, fileCalled)).toBeNull()
      },
    ),
    { numRuns: 30 },
  )
})

test('the same actions give the same, so that another instance can go on', () => {
  const differences = drawDifferences(derived, 'badDay', 7)
  const [one, two] = [0, 1].map(() => {
    const performance = new Performance(
      buildWorld(derived, differences, fileCalled),
      derived,
      Infinity,
    )
    for (const act of ['scan', 'assignAll', 'start', 'check'] as const) performance.act({ do: act })
    return performance
  })
  expect(two!.state).toEqual(one!.state)
  expect(two!.log.latest.length).toBe(one!.log.latest.length)
})

describe('malformed, cut off and strange frames', () => {
  const world = buildWorld(derived, [], fileCalled)
  const log = new FrameLog(1)
  const addresses: (SocketAddress | undefined)[] = [
    undefined,
    ...[502, 44_818, 2222, 34_964, 68, 1].flatMap((port) =>
      ['192.168.60.21', '192.168.50.29', '192.168.40.12', '255.255.255.255'].flatMap((ip) => [
        { transport: 'tcp', ip, port } as const,
        { transport: 'udp', ip, port } as const,
      ]),
    ),
  ]
  const sent: { id: string; octets: Uint8Array; to: SocketAddress | null }[] = []
  {
    const real = new FrameLog()
    const site = { line: (id: string) => world.line(id, real), field: world.field }
    rehearse.start(rehearse.scan(rehearse.beginRun(derived), site), site)
    for (const { networkId, direction, octets, to } of real.latest)
      if (direction === 'sent') sent.push({ id: networkId, octets, to })
  }
  test.each(networks.map(({ name, id }) => [name, id]))('%s: any octets', (_, id) => {
    const line = world.line(id, log)
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 200 }),
        fc.constantFrom(...addresses),
        (octets, to) => {
          line.send(octets, to)
        },
      ),
      { numRuns: 300 },
    )
  })
  test('real ones, cut off or with octets changed', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...sent),
        fc.nat(1500),
        fc.array(fc.tuple(fc.nat(1500), fc.nat(255)), { maxLength: 4 }),
        ({ id, octets, to }, end, changes) => {
          const bent = octets.slice(
            0,
            end < octets.length || changes.length > 0 ? Math.max(end, 1) : undefined,
          )
          for (const [at, value] of changes) if (at < bent.length) bent[at] = value
          world.line(id, log).send(bent, to ?? undefined)
        },
      ),
      { numRuns: 4000 },
    )
  })
})
