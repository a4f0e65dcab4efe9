import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { derive } from '../derive'
import { newPlan } from '../exchange'
import type { Command, Plan } from '../plan'
import type { NetworkKindName } from '../protocols'
import { begin, doAll, readText, shelfCatalog, smallCatalog } from '../test/plans'
import { wiredNetworks } from '.'

/** An EtherNet/IP device that takes 300 packets a second, has two ports and closes rings. */
const eds = `[File]
  DescText = "Test"; Revision = 1.0;
[Device]
  VendCode = 3841; VendName = "Tarn & Vey"; ProdType = 7; ProdTypeStr = "I/O"; ProdCode = 5;
  MajRev = 1; MinRev = 1; ProdName = "TV-E"; Catalog = "TV-E";
[Assembly]
  Assem100 = "In", , 8, 0x0001, , , 64, ;
  Assem101 = "Out", , 8, 0x0001, , , 64, ;
[Connection Manager]
  Connection1 = 0x04010002, 0x44640405, , , Assem101, , , Assem100, , , , , "Both", "", "20 04 24 66 2C 65 2C 64";
[Capacity]
  MaxIOConnections = 5;
  TSpec1 = TxRx, 100, 300;
  TSpec2 = TxRx, 500, 120;
[Ethernet Link Class]
  Number_Of_Static_Instances = 2;
[DLR Class]
  Revision = 3;
`
/** A controller whose interface has four ports, and a module that brings one with a single port. */
const rack = JSON.stringify({
  kataxisSheet: 2,
  maker: 'TarnVey',
  name: 'PLC',
  orderNumber: 'P1',
  network: 'local',
  controller: {
    inputBytes: 512,
    outputBytes: 512,
    interfaces: [{ name: 'X1', kind: 'profinet', ports: 4 }],
  },
  slots: { count: 4 },
  modules: [
    {
      key: 'com',
      name: 'COM',
      interfaces: [{ name: 'X1', kind: 'profinet', ports: 1 }],
      inputs: [],
      outputs: [],
    },
  ],
})
const catalog = new Map([
  ...smallCatalog,
  ...shelfCatalog,
  ['e', readText(eds, 'tv.eds').file!] as const,
  ['rack', readText(rack, 'rack.sheet.json').file!] as const,
])

const network = (id: string, kind: NetworkKindName, settings: object = {}): Command => ({
  type: 'addNetwork',
  id,
  controllerId: 'k1',
  name: id.toUpperCase(),
  kind,
  settings,
})
const station = (id: string, networkId: string, file: string, device: string): Command => ({
  type: 'addStation',
  id,
  networkId,
  file,
  device,
  name: id,
  comment: '',
})
const decide = (id: string, settings: object): Command => ({
  type: 'updateStation',
  id,
  set: { settings },
})
const decideAll = (id: string, settings: object): Command => ({
  type: 'updateNetwork',
  id,
  set: { settings },
})
const build = (...commands: Command[]): Plan =>
  doAll(newPlan('p', 'P'), catalog, begin[0]!, ...commands)
const wired = (plan: Plan) => wiredNetworks(derive(plan, catalog))[0]!
const said = (plan: Plan, code = /^(wire|link|segment)\./) =>
  check(derive(plan, catalog)).all.flatMap((one) => (code.test(one.code) ? [one.message] : []))

describe('EtherNet/IP', () => {
  const two = (...more: Command[]) =>
    build(
      network('e', 'ethernet-ip'),
      ...['a', 'b'].map((id) => station(id, 'e', 'e', 'TV-E')),
      ...['a', 'b'].map((id) => decide(id, { inputIntervalUs: 10_000, outputIntervalUs: 10_000 })),
      ...more,
    )

  test('its file says ports, rings and packets', () => {
    const [device] = catalog.get('e')!.devices
    expect(device).toMatchObject({
      ethernetIp: {
        portCount: 2,
        closesRings: true,
        packetRates: [
          { bytes: 100, perSecond: 300 },
          { bytes: 500, perSecond: 120 },
        ],
      },
    })
  })

  test.each<[string, number, string[]]>([
    ['200 packets a second', 10_000, []],
    [
      '400 packets a second',
      5000,
      ['a: Its number of packets is 400 a second; it takes 300 at this size.'],
    ],
  ])('a device that takes 300 packets: %s', (_, us, expected) =>
    expect(said(two(decide('a', { inputIntervalUs: us, outputIntervalUs: us })))).toEqual(expected),
  )

  test('what one sends to many comes down every other link too', () => {
    const [alone, many] = [two(), two(decide('b', { isMulticast: true }))].map((plan) =>
      wired(plan),
    )
    const share = alone!.links.find(({ id }) => id === 'b:1')!.towards!
    const away = (one: typeof alone, id: string) => one!.links.find((link) => link.id === id)!.away!
    // Sent behind both links: neither brings it down again.
    expect(away(many, 'a:1')).toBeCloseTo(away(alone, 'a:1'), 12)
    const first = wired(two(decide('a', { isMulticast: true })))
    expect(away(first, 'b:1')).toBeCloseTo(away(alone, 'b:1') + share, 12)
    expect(away(first, 'a:1')).toBeCloseTo(away(alone, 'a:1'), 12)
  })
})

describe('EtherCAT', () => {
  const drive = (...more: Command[]) =>
    build(
      network('c', 'ethercat'),
      station('h', 'c', 'Quillane-QE200-terminals.xml', '0x00002000.0x00020000'),
      ...['x', 'y'].map((id) => station(id, 'c', 'Ostrel-FillDrive.xml', '0x00003000.0x00010003')),
      ...more,
    )

  test('the first slave with a clock is the reference, and a cycle of 0 is the network’s', () => {
    expect(wired(drive(decideAll('c', { cycleUs: 1000 }))).clocks).toEqual({
      reference: 'x',
      timed: ['x', 'y'].map((id) => ({ id, mode: 'DC', cycleUs: 1000, shiftUs: 0 })),
    })
  })

  test.each<[string, Command[], string[]]>([
    ['all well', [decideAll('c', { cycleUs: 1000 })], []],
    [
      'no cycle',
      [],
      ['x', 'y'].map(
        (id) =>
          `${id}: The cycle that its clock needs is not chosen yet; it has to be entered for the network.`,
      ),
    ],
    [
      'a mode that is not there',
      [decideAll('c', { cycleUs: 1000 }), decide('x', { operationMode: 'SM2' })],
      ['x: Its operation mode is "SM2"; it has DC.'],
    ],
  ])('clocks: %s', (_, commands, expected) => expect(said(drive(...commands))).toEqual(expected))
})

describe('lines', () => {
  const can = (...more: Command[]) =>
    build(
      network('c', 'can-rack'),
      ...['r1', 'r2'].map((id) => station(id, 'c', 'quillane-qx64.sheet.json', 'QX-64')),
      ...more,
    )
  const long: Command = {
    type: 'updateLinks',
    edits: ['r1', 'r2'].map((node) => ({ at: { node, port: 1 }, set: { lengthM: 60 } })),
  }

  test.each<[string, Command[], string[]]>([
    [
      'nobody chose a rate',
      [],
      ['C: The bit rate is not chosen yet; racks and controller have to have the same one.'],
    ],
    ['120 m at 250 kbit/s', [decideAll('c', { canKbit: 250 }), long], []],
    [
      '120 m at 500 kbit/s',
      [decideAll('c', { canKbit: 500 }), long],
      ['The line of C is 120 m long; at 500 kbit/s it reaches 100 m.'],
    ],
  ])('CAN: %s', (_, commands, expected) => expect(said(can(...commands))).toEqual(expected))

  const spur = (bitRateKbit: number, spurM: number) =>
    build(
      network('d', 'profibus', { bitRateKbit }),
      ...['p', 'q'].map((id) => station(id, 'd', 'BRCK0F31.gsd', 'BW-DP Head')),
      { type: 'setPorts', edits: [{ at: { node: 'p', port: 1 }, set: { spurM } }] },
    )
  test('a master of class 2 exchanges no data by the clock', () => {
    const plan = build(
      network('d', 'profibus', { bitRateKbit: 187.5, masterClass: 2 }),
      station('p', 'd', 'OSTR0F21.gsd', 'WellPump 22'),
    )
    expect(said(plan)).toEqual([
      'D: The class of its master is 2; only a master of class 1 exchanges data by the clock.',
    ])
  })

  // Figures of the installation guideline, from memory.
  test.each<[number, number, string[]]>([
    [500, 30, []],
    [500, 31, ['The spurs of D are 31 m long together; at 500 kbit/s 30 m are.']],
    [3000, 1, ['The spurs of D are 1 m long together; at 3000 kbit/s none are allowed.']],
  ])('PROFIBUS at %s kbit/s with a spur of %s m', (rate, metres, expected) =>
    expect(said(spur(rate, metres), /^segment\.spurs/)).toEqual(expected),
  )
})

describe('PROFINET', () => {
  const pair = (...more: Command[]) =>
    build(...begin.slice(1), station('s2', 'n1', 'tv', 'DAP'), ...more)

  test('outputs as often as inputs', () => {
    const plan = pair(decide('s1', { inputRatio: 8, outputRatio: 2, sameBothWays: true }))
    expect(wired(plan).stations[0]!.updateTimeUs).toEqual({ in: 8000, out: 8000 })
  })

  test('a link at a port that is off, and its way out', () => {
    const plan = pair({
      type: 'setPorts',
      edits: [{ at: { node: 's2', port: 1 }, set: { off: true, alarm: true } }],
    })
    const [found] = check(derive(plan, catalog)).all.filter(({ code }) => code === 'link.off')
    expect(found!.message).toBe('s2: a link stands at port 1 of s2, which is switched off.')
    const mended = doAll(plan, catalog, found!.fixes()[0]!.command)
    expect(mended.stations['s2']!.station.ports).toEqual({ 1: { alarm: true } })
  })

  test('a line laid anew takes stations off their switch', () => {
    const plan = pair(
      network('between', 'passive'),
      station('sw', 'between', 'brackwater-switch8.sheet.json', 'BW-SW8'),
      { type: 'insertBetween', stationId: 'sw', at: { node: 's1', port: 1 } },
      { type: 'starOn', node: 'sw', stationIds: ['s2'] },
      { type: 'lineUp', networkId: 'n1' },
    )
    expect(wired(plan).links.map(({ from, to }) => [from.node, to.node])).toEqual([
      ['s1', 'n1'],
      ['s2', 's1'],
    ])
  })
})

describe('interfaces of a controller', () => {
  const link = (node: string, id: string, port: number): Command => ({
    type: 'linkPorts',
    links: [{ from: { node: id, port: 2 }, to: { node, port } }],
  })
  const plc = (...more: Command[]) =>
    build(
      network('own', 'local'),
      station('r', 'own', 'rack', 'P1'),
      { type: 'insertModule', id: 'r1', stationId: 'r', slot: 1, module: 'com', shift: false },
      ...['n1', 'n2'].map((id) => network(id, 'profinet', { controllerIp: `10.0.0.${id[1]!}` })),
      station('s1', 'n1', 'tv', 'DAP'),
      station('s2', 'n2', 'tv', 'DAP'),
      ...more,
    )

  test('have the ports that their sheet says, the second one those of the module', () => {
    const plan = plc(link('n1', 's1', 4))
    expect(said(plan)).toEqual([
      'N1: the link from port 2 of s1 to port 4 of K1 closes a loop that is not planned as a ring.',
    ])
    expect(() => plc(link('n1', 's1', 5))).toThrow('has no port 5; it has 4 ports')
    expect(() => plc(link('n2', 's2', 2))).toThrow('has no port 2; it has 1 port')
  })

  test('a module that goes leaves a link at a port that is not there', () => {
    const plan = plc({ type: 'removeModules', ids: ['r1'] }, link('n2', 's2', 2), {
      type: 'insertModule',
      id: 'r2',
      stationId: 'r',
      slot: 2,
      module: 'com',
      shift: false,
    })
    expect(said(plan)[0]).toBe(
      's2: a link stands at port 2 of K1, which has only 1 port by its description.',
    )
  })
})

describe('a star on a switch', () => {
  const four = (...more: Command[]) =>
    build(
      ...begin.slice(1),
      ...['s2', 's3', 's4'].map((id) => station(id, 'n1', 'tv', 'DAP')),
      network('between', 'passive'),
      station('sw', 'between', 'brackwater-switch8.sheet.json', 'BW-SW8'),
      { type: 'insertBetween', stationId: 'sw', at: { node: 's1', port: 1 } },
      {
        type: 'updateLinks',
        edits: [{ at: { node: 's3', port: 1 }, set: { lengthM: 33, label: 'W3' } }],
      },
      ...more,
    )
  const pairs = (plan: Plan) =>
    wired(plan)
      .links.map(({ from, to }) => `${from.node}-${to.node}`)
      .sort()

  test('stations leave their line, and what hung behind them stays linked', () => {
    const plan = four({ type: 'starOn', node: 'sw', stationIds: ['s3', 's2'] })
    expect(pairs(plan)).toEqual(['s2-sw', 's3-sw', 's4-s1', 'sw-n1', 'sw-s1'])
    // What was said of the cable by which a station hung goes along.
    expect(wired(plan).links.find(({ link }) => link.label === 'W3')).toMatchObject({
      from: { node: 's3' },
      to: { node: 'sw' },
      link: { lengthM: 33 },
    })
  })

  test('more stations than it has ports', () => {
    expect(() =>
      four(...Array.from({ length: 8 }, (_, i) => station(`t${i}`, 'n1', 'tv', 'DAP')), {
        type: 'starOn',
        node: 'sw',
        stationIds: Array.from({ length: 8 }, (_, i) => `t${i}`),
      }),
    ).toThrow('sw has no free port left.')
  })
})
