import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { newPlan } from '../exchange'
import type { Command, Plan, SingleCommand } from '../plan'
import { begin, doAll, shelfCatalog, smallCatalog } from '../test/plans'
import { singleFailures, whatIf, wiredNetworks } from '.'

const station = (id: string, file = 'tv', device = 'DAP', networkId = 'n1'): SingleCommand => ({
  type: 'addStation',
  id,
  networkId,
  file,
  device,
  name: id,
  comment: '',
})
const names = (views: readonly { station: { name: string } }[]) =>
  views.map(({ station: { name } }) => name)
const noFailure = { links: new Set<string>(), nodes: new Set<string>() }

const line = (...more: Command[]): Plan =>
  doAll(
    newPlan('p', 'P'),
    smallCatalog,
    ...begin.slice(0, 2),
    ...['s1', 's2', 's3', 's4'].map((id) => station(id)),
    ...more,
  )
const wire = (plan: Plan) => wiredNetworks(derive(plan, smallCatalog))[0]!
const ring: Command = { type: 'closeRing', networkId: 'n1' }
const joined = (plan: Plan) =>
  wire(plan).links.map(({ from, to }) => `${from.node}.${from.port} ${to.node}.${to.port}`)

describe('links of new and changed plans', () => {
  test.each<[string, Command[], string[]]>([
    ['new stations make a line', [], ['s1.1 n1.1', 's2.1 s1.2', 's3.1 s2.2', 's4.1 s3.2']],
    [
      'one that goes is bridged over',
      [{ type: 'removeStation', id: 's2' }],
      ['s1.1 n1.1', 's3.1 s1.2', 's4.1 s3.2'],
    ],
    [
      'copies hang behind the last',
      [
        {
          type: 'copyStation',
          sourceId: 's1',
          networkId: 'n1',
          copies: [
            { id: 'c1', name: 'c1', find: '', with: '' },
            { id: 'c2', name: 'c2', find: '', with: '' },
          ],
        },
      ],
      ['s1.1 n1.1', 's2.1 s1.2', 's3.1 s2.2', 's4.1 s3.2', 'c1.1 s4.2', 'c2.1 c1.2'],
    ],
    [
      'a line follows its list when the list is moved',
      [{ type: 'moveStations', ids: ['s4'], networkId: 'n1', position: 0.5 }],
      ['s4.1 n1.1', 's1.1 s4.2', 's2.1 s1.2', 's3.1 s2.2'],
    ],
    [
      'a ring keeps its cables when the list is moved',
      [ring, { type: 'moveStations', ids: ['s4'], networkId: 'n1', position: 0.5 }],
      ['s1.1 n1.1', 's2.1 s1.2', 's3.1 s2.2', 's4.1 s3.2', 's4.2 n1.2'],
    ],
    [
      'a line in another order',
      [{ type: 'lineUp', networkId: 'n1', stationIds: ['s3', 's1', 's4', 's2'] }],
      ['s1.1 s3.2', 's2.1 s4.2', 's3.1 n1.1', 's4.1 s1.2'],
    ],
    ['a ring', [ring], ['s1.1 n1.1', 's2.1 s1.2', 's3.1 s2.2', 's4.1 s3.2', 's4.2 n1.2']],
    [
      'a ring that is opened again',
      [ring, { type: 'openRing', networkId: 'n1' }],
      ['s1.1 n1.1', 's2.1 s1.2', 's3.1 s2.2', 's4.1 s3.2'],
    ],
    [
      'two lines that were planned as a ring stay as they are',
      [
        { type: 'unlinkPorts', ends: [{ node: 's3', port: 1 }] },
        {
          type: 'linkPorts',
          links: [{ from: { node: 's3', port: 1 }, to: { node: 'n1', port: 2 } }],
        },
        { type: 'updateNetwork', id: 'n1', set: { settings: { ring: true } } },
        { type: 'openRing', networkId: 'n1' },
      ],
      ['s1.1 n1.1', 's2.1 s1.2', 's3.1 n1.2', 's4.1 s3.2'],
    ],
    [
      'one put between two others',
      [{ type: 'insertBetween', stationId: 's4', at: { node: 's2', port: 1 } }],
      ['s1.1 n1.1', 's3.1 s2.2', 's4.1 s1.2', 's4.2 s2.1'],
    ],
    [
      'a link taken away and put elsewhere',
      [
        { type: 'unlinkPorts', ends: [{ node: 's3', port: 2 }] },
        {
          type: 'linkPorts',
          links: [{ from: { node: 'n1', port: 2 }, to: { node: 's4', port: 2 } }],
        },
      ],
      ['s1.1 n1.1', 's2.1 s1.2', 's3.1 s2.2', 's4.2 n1.2'],
    ],
  ])('%s', (_, commands, expected) =>
    expect(joined(line(...commands)).sort()).toEqual([...expected].sort()),
  )

  const link = (from: [string, number], to: [string, number], set = {}): Command => ({
    type: 'linkPorts',
    links: [{ from: { node: from[0], port: from[1] }, to: { node: to[0], port: to[1] }, set }],
  })
  test.each<[string, Command, string]>([
    ['a port to its own node', link(['s4', 2], ['s4', 1]), 's4 cannot be linked to itself.'],
    [
      'a taken port',
      link(['s4', 2], ['s1', 2]),
      'Port 2 of s1 is linked to port 1 of s2 already; a port has one partner.',
    ],
    ['a port that is not there', link(['s4', 3], ['n1', 2]), 's4 has no port 3; it has 2 ports.'],
    [
      'a station that is not there',
      link(['s9', 1], ['n1', 2]),
      'The station is no longer in the plan; another person may have removed it.',
    ],
    [
      'a link that is not there',
      { type: 'unlinkPorts', ends: [{ node: 's4', port: 2 }] },
      'Port 2 of s4 has no link.',
    ],
    [
      'a second ring',
      { type: 'batch', label: 'two', commands: [ring, ring] as SingleCommand[] },
      'No ring can be closed on N1: the last station of its line, or the controller, has no free port.',
    ],
  ])('%s is refused', (_, command, sentence) => expect(() => line(command)).toThrow(sentence))

  test('what is said of a cable is kept when its line is laid anew', () => {
    const said = line(
      {
        type: 'updateLinks',
        edits: [{ at: { node: 's2', port: 2 }, set: { lengthM: 35, label: 'W17' } }],
      },
      { type: 'lineUp', networkId: 'n1', stationIds: ['s3', 's1', 's2', 's4'] },
    )
    expect(said.stations['s3']!.station.links).toMatchObject({
      1: { to: { node: 'n1', port: 1 }, lengthM: 35, label: 'W17' },
    })
  })
})

describe('PROFINET', () => {
  test('ways, frames, times and loads of a line', () => {
    const { stations, links, bitRate } = wire(line())
    expect(bitRate).toBe(100_000_000)
    expect(stations.map(({ hops }) => hops)).toEqual([0, 1, 2, 3])
    // The smallest frame on the wire: 88 octets, 7.04 µs (IEC 61158-6-10, IEEE 802.3; from memory).
    for (const { frameBytes } of stations) expect(frameBytes).toEqual({ in: 88, out: 88 })
    const everyUs = stations[0]!.updateTimeUs.in!
    for (const [i, { towards, away }] of links.entries()) {
      expect(towards).toBeCloseTo(((4 - i) * 7.04) / everyUs, 10)
      expect(away).toBeCloseTo(((4 - i) * 7.04) / everyUs, 10)
    }
  })

  test('a ring: who drops out when it opens, and how each can ride through', () => {
    const slow: Command = {
      type: 'updateStation',
      id: 's2',
      set: { settings: { inputRatio: 128, outputRatio: 128 } },
    }
    const wired = wire(line(ring, slow))
    expect(wired.ring).toMatchObject({ closed: true, reconfigurationUs: 200_000 })
    expect(wired.ring!.nodes).toHaveLength(5)
    expect(wired.stations.map(({ ridesThrough }) => ridesThrough)).toEqual([
      false,
      true,
      false,
      false,
    ])
    // The manager keeps its second port closed, so that all is reached over the first one.
    expect(wired.stations.map(({ hops }) => hops)).toEqual([0, 1, 2, 3])
    const cut = whatIf(wired, { ...noFailure, links: new Set(['s2:1']) })
    expect([names(cut.unreachable), names(cut.drops), names(cut.ridesThrough)]).toEqual([
      [],
      ['s3', 's4'],
      ['s2'],
    ])
    const lost = whatIf(wired, { ...noFailure, nodes: new Set(['s1']) })
    expect([names(lost.unreachable), names(lost.drops), names(lost.ridesThrough)]).toEqual([
      ['s1'],
      ['s3', 's4'],
      ['s2'],
    ])
  })
})

test('stations around a switch, and one behind a fibre', () => {
  const catalog = new Map([...smallCatalog, ...shelfCatalog])
  const plan = doAll(
    line(),
    catalog,
    { type: 'addNetwork', id: 'between', controllerId: 'k1', name: 'Between', kind: 'passive' },
    station('sw', 'brackwater-switch8.sheet.json', 'BW-SW8', 'between'),
    station('mc1', 'brackwater-converter.sheet.json', 'BW-MC1', 'between'),
    station('mc2', 'brackwater-converter.sheet.json', 'BW-MC1', 'between'),
    {
      type: 'unlinkPorts',
      ends: ['s1', 's2', 's3', 's4'].map((node) => ({ node, port: 1 })),
    },
    {
      type: 'linkPorts',
      links: [
        { from: { node: 'sw', port: 8 }, to: { node: 'n1', port: 1 } },
        { from: { node: 'mc1', port: 1 }, to: { node: 'sw', port: 1 } },
        { from: { node: 'mc2', port: 2 }, to: { node: 'mc1', port: 2 } },
        { from: { node: 's4', port: 1 }, to: { node: 'mc2', port: 1 } },
      ],
    },
    { type: 'starOn', node: 'sw', stationIds: ['s1', 's2', 's3'] },
  )
  const [wired] = wiredNetworks(derive(plan, catalog))
  expect(wired!.stations.map(({ hops }) => hops)).toEqual([1, 1, 1, 3])
  expect(wired!.links.find(({ id }) => id === 'mc2:2')!.link.medium).toBe('fibre-multi-mode')
  const lost = whatIf(wired!, { ...noFailure, nodes: new Set(['sw']) })
  expect(names(lost.unreachable)).toEqual(['s1', 's2', 's3', 's4'])
  // What is worked out is kept while nothing of it changes, here or in what stands between.
  const after = (command: Command) =>
    wiredNetworks(derive(doAll(plan, catalog, command), catalog))[0]
  const beside = doAll(
    plan,
    catalog,
    { type: 'addNetwork', id: 'n2', controllerId: 'k1', name: 'N2', kind: 'profinet' },
    station('t1', 'tv', 'DAP', 'n2'),
  )
  const second = (of: Plan) =>
    wiredNetworks(derive(of, catalog)).find(({ network }) => network.id === 'n2')
  const before = second(beside)
  expect(before!.links).toHaveLength(1)
  const rename: Command = { type: 'updateStation', id: 'sw', set: { name: 'SW-2' } }
  expect(second(doAll(beside, catalog, rename))).toBe(before)
  const moved = after({ type: 'unlinkPorts', ends: [{ node: 'mc2', port: 2 }] })
  expect(moved!.stations.map(({ hops }) => hops)).toEqual([1, 1, 1, null])
  const renamed = after({ type: 'updateStation', id: 'sw', set: { name: 'SW-1' } })
  expect(renamed!.nodes.map(({ name }) => name)).toContain('SW-1')
  // Copper into a port for light.
  expect(() =>
    doAll(
      plan,
      catalog,
      { type: 'unlinkPorts', ends: [{ node: 's4', port: 1 }] },
      {
        type: 'linkPorts',
        links: [{ from: { node: 'mc2', port: 1 }, to: { node: 'mc1', port: 2 } }],
      },
    ),
  ).toThrow('Port 2 of mc1 is linked to port 2 of mc2 already')
})

test.each<[string, Plan]>([
  ['a line', line()],
  ['a ring', line(ring)],
  ['a line that is broken', line({ type: 'unlinkPorts', ends: [{ node: 's3', port: 1 }] })],
])('%s: what single failures cost is what each of them alone does', (_, plan) => {
  const wired = wire(plan)
  const before = new Set(
    wired.stations.flatMap(({ view, hops }) => (hops === null ? [view.id] : [])),
  )
  for (const { link, node, ...cost } of singleFailures(wired)) {
    const { unreachable, drops } = whatIf(wired, {
      links: new Set(link ? [link.id] : []),
      nodes: new Set(node ? [node.id] : []),
    })
    expect({ what: link?.id ?? node?.id, ...cost }).toEqual({
      what: link?.id ?? node?.id,
      unreachable: unreachable.filter(({ id }) => !before.has(id)).length,
      drops: drops.length,
      signals: 0,
    })
  }
})

describe('PROFIBUS', () => {
  const bus = (count: number, ...more: Command[]) =>
    doAll(
      newPlan('p', 'P'),
      shelfCatalog,
      begin[0]!,
      { type: 'addNetwork', id: 'dp', controllerId: 'k1', name: 'DP', kind: 'profibus' },
      ...Array.from({ length: count }, (_, i) =>
        station(`d${i}`, 'BRCK0F31.gsd', 'BW-DP Head', 'dp'),
      ),
      ...more,
    )
  const wiredBus = (plan: Plan) => wiredNetworks(derive(plan, shelfCatalog))[0]!
  const rate = (bitRateKbit: number): Command => ({
    type: 'updateNetwork',
    id: 'dp',
    set: { settings: { bitRateKbit } },
  })

  test('nobody chose a rate: no cycle, no limit', () => {
    const wired = wiredBus(bus(3))
    expect([wired.bitRate, wired.cycleUs, wired.segments[0]!.limitM]).toEqual([null, null, null])
  })

  test('a segment has its length, its limit and its ends', () => {
    const wired = wiredBus(
      bus(3, rate(1500), {
        type: 'updateLinks',
        edits: ['d0', 'd1', 'd2'].map((node) => ({ at: { node, port: 1 }, set: { lengthM: 70 } })),
      }),
    )
    expect(wired.segments).toMatchObject([{ lengthM: 210, limitM: 200, terminated: true }])
    expect(wired.segments[0]!.terminators.map(({ name }) => name)).toEqual(['K1', 'd2'])
  })

  test.each<[string, Record<string, boolean>, boolean]>([
    ['one end is off', { d2: false }, false],
    ['one between is on', { d1: true }, false],
    ['both ends are on, said so', { d2: true }, true],
  ])('terminators: %s', (_, decided, expected) => {
    const edits = Object.entries(decided).map(([node, terminated]) => ({
      at: { node, port: 1 },
      set: { terminated },
    }))
    expect(wiredBus(bus(3, { type: 'setPorts', edits })).segments[0]!.terminated).toBe(expected)
  })

  test('a repeater begins a line of its own, stands on both, and cuts them apart when it is lost', () => {
    const plan = bus(
      3,
      rate(1500),
      { type: 'addNetwork', id: 'between', controllerId: 'k1', name: 'Between', kind: 'passive' },
      station('rep', 'ostrel-repeater.sheet.json', 'OD-RP2', 'between'),
      { type: 'insertBetween', stationId: 'rep', at: { node: 'd1', port: 1 } },
      {
        type: 'updateLinks',
        edits: [
          { at: { node: 'd0', port: 1 }, set: { lengthM: 150 } },
          { at: { node: 'd2', port: 1 }, set: { lengthM: 120 } },
        ],
      },
    )
    const wired = wiredBus(plan)
    expect(
      wired.segments.map(({ nodes, lengthM, terminated, terminators }) => ({
        nodes: nodes.map(({ name }) => name),
        lengthM,
        terminated,
        at: terminators.map(({ name }) => name),
      })),
    ).toEqual([
      { nodes: ['K1', 'd0', 'rep'], lengthM: 150, terminated: true, at: ['K1', 'rep'] },
      { nodes: ['d1', 'd2', 'rep'], lengthM: 120, terminated: true, at: ['d2', 'rep'] },
    ])
    const lost = (id: string) =>
      names(whatIf(wired, { ...noFailure, nodes: new Set([id]) }).unreachable)
    expect([lost('rep'), lost('d0')]).toEqual([['d1', 'd2'], ['d0']])
    const costs = new Map(
      singleFailures(wired).flatMap(({ node, unreachable }) =>
        node ? [[node.name, unreachable] as const] : [],
      ),
    )
    expect(Object.fromEntries(costs)).toEqual({ d0: 1, d1: 1, d2: 1, rep: 2 })
  })

  test('the wire stays whole when a node is lost, and not when it is cut', () => {
    const wired = wiredBus(bus(3))
    const lost = whatIf(wired, { ...noFailure, nodes: new Set(['d0']) })
    const cut = whatIf(wired, { ...noFailure, links: new Set(['d1:1']) })
    expect(names(lost.unreachable)).toEqual(['d0'])
    expect(names(cut.unreachable)).toEqual(['d1', 'd2'])
  })
})
