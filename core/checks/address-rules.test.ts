import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { readDeviceFile } from '../device-files'
import { newPlan } from '../exchange'
import { applyChanges, type Command, type Plan, type SingleCommand } from '../plan'
import { doAll, insert, place, shelfCatalog, smallCatalog, smallPlan } from '../test/plans'
import { planAddressRules, stationAddressRules } from './address-rules'
import { check } from './check'
import type { NetworkKindName } from '../protocols'
import { applyCommand } from '../changing'

const dataSet = (key: string, inputBytes: number) => ({
  key,
  name: `Set ${key}`,
  outputInstance: 101,
  outputBytes: 0,
  inputInstance: 102,
  inputBytes,
})
const node = {
  kataxisSheet: 1,
  maker: 'Tarn & Vey',
  name: 'Node',
  network: 'ethernet-ip',
  head: { inputs: [{ name: 'Status', type: 'uint8', count: 3 }] },
  dataSets: [dataSet('a', 2), dataSet('b', 4)],
}
/** An octet between two floats, as only the device's maker can have wanted it. */
const odd = {
  kataxisSheet: 1,
  maker: 'Tarn & Vey',
  name: 'Odd',
  network: 'ethernet-ip',
  head: {
    inputs: [
      { name: 'Flow', type: 'float32' },
      { name: 'State', type: 'uint8' },
      { name: 'Level', type: 'float32' },
    ],
  },
}
const large = (bytes: number) => ({
  kataxisSheet: 1,
  maker: 'Tarn & Vey',
  name: `Large ${bytes}`,
  network: 'ethernet-ip',
  head: { inputs: [{ name: 'Value', type: 'uint8', count: 4 }] },
  dataSets: [dataSet('a', bytes)],
})
const sheets = Object.entries({
  node,
  odd,
  l509: large(509),
  l510: large(510),
  l1452: large(1452),
  l1453: large(1453),
}).map(
  ([key, sheet]) =>
    [
      key,
      readDeviceFile(new TextEncoder().encode(JSON.stringify(sheet)), `${key}.json`).file!,
    ] as const,
)
const catalog = new Map([...shelfCatalog, ...smallCatalog, ...sheets])
const controller = (id: string): SingleCommand => ({
  type: 'addController',
  id,
  name: id.toUpperCase(),
  inputBytes: 256,
  outputBytes: 256,
  aligned: true,
})
const network = (
  id: string,
  kind: NetworkKindName,
  controllerIp = '',
  controllerId = 'k1',
): SingleCommand => ({
  type: 'addNetwork',
  id,
  controllerId,
  name: id,
  kind,
  settings: controllerIp === '' ? {} : { controllerIp },
})
const station = (
  id: string,
  networkId: string,
  file: string,
  device: string,
  more: object = {},
): SingleCommand => ({
  type: 'addStation',
  id,
  networkId,
  file,
  device,
  name: id,
  comment: '',
  ...more,
})
const build = (...commands: Command[]) =>
  doAll(newPlan('p', 'P'), catalog, controller('k1'), ...commands)
const setNetwork = (id: string, set: object): Command => ({ type: 'updateNetwork', id, set })
const set = (set: object, id = 's1'): Command => ({ type: 'updateStation', id, set })
const good = insert('a', 1, 'DI')
const bank = { sets: 'number', offset: 0, first: null, last: null, powerCycle: true } as const
const gauge = (id: string, networkId: string, more: object = {}) =>
  station(id, networkId, 'brackwater-tankgauge.sheet.json', 'BW-TG2', more)
const meter = (id: string) => station(id, 'rtu', 'ostrel-wellmeter.sheet.json', 'OD-WM3')
const head = ['ozone', 'Brackwater-BWEN.eds', 'BW-EN-1'] as const
const area = { content: 'digital', networkId: '', in: 8, out: null } as const

/** A plan for each rule that breaks it, where the finding stands, a part of what it says. */
const cases: [code: string, what: string, plan: () => Plan, at: string, says: string][] = [
  [
    'station.interval',
    'data asked for more often than the description allows',
    () =>
      build(
        network('ozone', 'ethernet-ip'),
        station('s1', ...head, { connection: 'Connection2' }),
        set({ settings: { inputIntervalUs: 1000 } }),
      ),
    's1',
    'is asked for data every 1 ms; its description allows 2 to 1000 ms',
  ],
  [
    'station.switches',
    'more than the switches make',
    () =>
      smallPlan(
        good,
        set({ deviceNumber: 16, switches: { ...bank, style: 'rotary-decimal', digits: 1 } }),
      ),
    'tv-1',
    'cannot make the number 16',
  ],
  [
    'station.switches',
    'an octet without a jumper',
    () =>
      smallPlan(
        good,
        set({
          switches: {
            ...bank,
            sets: 'lastOctet',
            style: 'jumper',
            positions: [{ label: 'A', value: 9 }],
          },
        }),
      ),
    'tv-1',
    'cannot make the last octet 2',
  ],
  [
    'station.switches',
    'as the device sheet says',
    () => build(network('rtu', 'modbus-rtu'), meter('m'), set({ deviceNumber: 120 }, 'm')),
    'm',
    'cannot make the number 120',
  ],
  [
    'station.pool',
    'outside the pool',
    () =>
      smallPlan(good, setNetwork('n1', { pool: { first: 10, last: 20, step: 1, reserved: '' } })),
    'tv-1',
    '2, which is not among 10 to 20',
  ],
  [
    'station.pool',
    'reserved',
    () =>
      smallPlan(
        good,
        setNetwork('n1', { pool: { first: 1, last: 20, step: 1, reserved: '2..4' } }),
      ),
    'tv-1',
    '2, which is reserved',
  ],
  [
    'station.tied',
    'octet and number apart',
    () => smallPlan(good, setNetwork('n1', { tied: true })),
    'tv-1',
    'the address .2 and the device number 1',
  ],
  [
    'station.pattern',
    'a name of its own',
    () =>
      smallPlan(
        good,
        set({ deviceNumber: 2 }),
        setNetwork('n1', { tied: true, namePattern: 'hall-{n:03}' }),
      ),
    'tv-1',
    'asks for hall-002',
  ],
  [
    'station.roleName',
    'another padding',
    () =>
      build(
        network('n', 'ethernet-ip', '10.0.0.1'),
        station(...(['s', 'n', head[1], head[2]] as const), { settings: { ip: '10.0.0.28' } }),
        setNetwork('n', { settings: { rolePattern: '{order}-{n:03}' } }),
        set({ settings: { roleName: 'BW-EN-1-28' } }, 's'),
      ),
    's',
    'make "BW-EN-1-028"',
  ],
  [
    'station.roleDuplicate',
    'one role for two',
    () =>
      build(
        network('n', 'ethernet-ip', '10.0.0.1'),
        ...['s', 't'].flatMap((id) => [
          station(id, 'n', head[1], head[2]),
          set({ settings: { roleName: 'pump' } }, id),
        ]),
      ),
    't',
    'so is s',
  ],
  [
    'image.noAddress',
    'rows of an imported plan',
    () => {
      const plan = smallPlan(good)
      const before = plan.stations['s1']!.modules['a']!
      return applyChanges(plan, [
        { table: 'modules', id: 'a', before, after: { ...before, addresses: {} } },
      ])
    },
    'tv-1 · slot 1',
    '1 input byte of',
  ],
  [
    'image.area',
    'an area that came later',
    () => smallPlan(good, { type: 'updateController', id: 'k1', set: { areas: [area] } }),
    'tv-1 · slot 1',
    'keeps its kind of data from 8 to 63',
  ],
  [
    'image.alignment',
    'placed by hand',
    () =>
      smallPlan(insert('a', 2, 'AO'), {
        type: 'setAddress',
        moduleId: 'a',
        subslot: 1,
        direction: 'out',
        byte: 3,
      }),
    'tv-1 · slot 2',
    'begins at byte 3; its numbers want a multiple of 2',
  ],
  [
    'image.alignmentForced',
    'an octet between floats',
    () => build(network('n', 'ethernet-ip', '10.0.0.1'), station('s', 'n', 'odd', 'Odd')),
    's · slot 0',
    's · slot 0 lays its data out so that Level cannot be aligned as K1 asks, wherever it begins',
  ],
  [
    'image.byteOrder',
    'a program that reads the other way',
    () =>
      smallPlan(insert('a', 2, 'AO'), {
        type: 'updateController',
        id: 'k1',
        set: { byteOrder: 'little' },
      }),
    'tv-1 · slot 2',
    '2 numbers of tv-1 · slot 2 reach the program with their octets in another order: 1000 shows as -6141',
  ],
  [
    'image.byteOrder',
    'turned for nothing',
    () =>
      smallPlan(insert('a', 2, 'AO'), {
        type: 'setByteOrder',
        moduleId: 'a',
        values: [{ subslot: 1, direction: 'out', offsetBits: 16 }],
        turn: 'BADC',
      }),
    'tv-1 · slot 2',
    'A number of',
  ],
  [
    'station.baud',
    'faster than the device',
    () =>
      build(
        network('rtu', 'modbus-rtu'),
        meter('m'),
        setNetwork('rtu', {
          settings: { line: { baud: 115_200, dataBits: 8, parity: 'even', stopBits: 1 } },
        }),
      ),
    'm',
    '115200 bit/s, which m does not know; it takes 9600, 19200, 38400',
  ],
  [
    'station.connection',
    'a larger connection than is used',
    () =>
      build(
        network('n', 'ethernet-ip', '10.0.0.1'),
        station('s', 'n', head[1], head[2], { connection: 'Connection2' }),
        { type: 'editSignals', edits: [{ id: 'x', place: place('s', 0), tag: 'X' }] },
      ),
    's',
    'with 4 bytes instead of 8',
  ],
  [
    'station.connectionRoom',
    'less than the head has',
    () => build(network('n', 'ethernet-ip', '10.0.0.1'), station('s', 'n', 'node', 'Node')),
    's',
    's has 3 input bytes of data, and its connection "Set a" carries 2.',
  ],
  // CIP Vol. 1, 3-5.5: sizes of Forward_Open have nine bits; an Ethernet frame has 1500 octets
  // (IEEE 802.3).
  [
    'station.largeOpen',
    'a size that Forward_Open cannot name',
    () =>
      doAll(
        build({ type: 'updateController', id: 'k1', set: { inputBytes: 4096 } }),
        catalog,
        network('n', 'ethernet-ip', '10.0.0.1'),
        station('s', 'n', 'l510', 'Large 510'),
      ),
    's',
    's carries 510 bytes of input data in one connection; above 509 it has to be opened by Large_Forward_Open',
  ],
  [
    'station.fragments',
    'more than a frame has room for',
    () =>
      doAll(
        build({ type: 'updateController', id: 'k1', set: { inputBytes: 4096 } }),
        catalog,
        network('n', 'ethernet-ip', '10.0.0.1'),
        station('s', 'n', 'l1453', 'Large 1453'),
      ),
    's',
    'above 1452 they do not fit one Ethernet frame',
  ],
  [
    'modbus.twoWriters',
    'two controllers on one device',
    () =>
      build(
        controller('k2'),
        network('t1', 'modbus-tcp', '10.0.0.1'),
        network('t2', 'modbus-tcp', '10.0.0.2', 'k2'),
        gauge('g', 't1', { settings: { ip: '10.0.0.9' } }),
        gauge('h', 't2', { settings: { ip: '10.0.0.9' } }),
      ),
    'h',
    'K1 and K2 would both write',
  ],
  [
    'modbus.twoWriters',
    'two lines that are one by their cable',
    () =>
      build(
        controller('k2'),
        network('r1', 'modbus-rtu'),
        network('r2', 'modbus-rtu', undefined, 'k2'),
        setNetwork('r1', { cable: 'W7' }),
        setNetwork('r2', { cable: 'W7' }),
        station('m', 'r1', 'ostrel-wellmeter.sheet.json', 'OD-WM3'),
        station('o', 'r2', 'ostrel-wellmeter.sheet.json', 'OD-WM3'),
      ),
    'o',
    'would both write its holding register',
  ],
  [
    'modbus.sessions',
    'more controllers than connections',
    () =>
      build(
        controller('k2'),
        network('t1', 'modbus-tcp', '10.0.0.1'),
        network('t2', 'modbus-tcp', '10.0.0.2', 'k2'),
        gauge('g', 't1', { settings: { ip: '10.0.0.9' } }),
        gauge('h', 't2', { settings: { ip: '10.0.0.9' } }),
      ),
    'g',
    'takes 1 connection at once by its sheet; 2 controllers want one',
  ],
  [
    'network.requests',
    'more than a round has time for',
    () =>
      build(
        network('rtu', 'modbus-rtu'),
        meter('m'),
        setNetwork('rtu', { settings: { requestMs: 20 } }),
      ),
    'rtu',
    'a new round is to begin every 20 ms',
  ],
  [
    'network.cable',
    'EtherCAT beside others',
    () =>
      build(
        network('e', 'ethercat'),
        network('n', 'profinet', '10.0.0.1'),
        setNetwork('e', { cable: 'ring 1' }),
        setNetwork('n', { cable: 'ring 1' }),
      ),
    'e',
    'shares the cable "ring 1" with n',
  ],
  [
    'network.pool',
    'a pool without numbers',
    () =>
      build(
        network('n', 'profinet', '10.0.0.1'),
        setNetwork('n', { pool: { first: 5, last: 9, step: 1, reserved: '1..20' } }),
      ),
    'n',
    'no number to give',
  ],
]

describe('every rule of addresses', () => {
  test.each(cases)('%s: %s, and what is offered mends it', (code, _, make, at, says) => {
    const plan = make()
    const found = check(derive(plan, catalog)).all.filter((finding) => finding.code === code)
    expect(found).toHaveLength(1)
    expect(found[0]!.at.words).toBe(at)
    expect(found[0]!.message).toContain(says)
    for (const { label, command } of found[0]!.fixes()) {
      const applied = applyCommand(plan, catalog, command)
      expect(applied.ok, label).toBe(true)
      if (applied.ok)
        expect(
          check(derive(applied.plan, catalog)).all.filter(
            (finding) => finding.code === code && finding.at.id === found[0]!.at.id,
          ),
          label,
        ).toEqual([])
    }
  })

  test.each([
    ['l509', 'station.largeOpen'],
    ['l1452', 'station.fragments'],
  ])('%s is just no %s', (key, code) => {
    const plan = doAll(
      build({ type: 'updateController', id: 'k1', set: { inputBytes: 4096 } }),
      catalog,
      network('n', 'ethernet-ip', '10.0.0.1'),
      station('s', 'n', key, `Large ${key.slice(1)}`),
    )
    expect(check(derive(plan, catalog)).all.map((finding) => finding.code)).not.toContain(code)
  })

  test('stands in the table above', () =>
    expect(new Set(cases.map(([code]) => code))).toEqual(
      new Set([...stationAddressRules, ...planAddressRules].map(({ code }) => code)),
    ))
})

describe('who may share an address', () => {
  const codes = (plan: Plan) =>
    check(derive(plan, catalog))
      .all.map(({ code }) => code)
      .filter((code) => /ipDuplicate|twoWriters/.test(code))
  test('units behind one address, and nobody else', () => {
    const behind = (...more: Command[]) =>
      build(
        network('t', 'modbus-tcp', '10.0.0.1'),
        network('n', 'profinet', '10.0.0.3'),
        gauge('g', 't', { settings: { ip: '10.0.0.9' } }),
        gauge('h', 't', { settings: { ip: '10.0.0.9' }, deviceNumber: 2 }),
        ...more,
      )
    expect(codes(behind())).toEqual([])
    expect(codes(behind(set({ deviceNumber: 1 }, 'h')))).toEqual([
      'station.ipDuplicate',
      'modbus.twoWriters',
    ])
    // It stands between the two and is in the way of both.
    expect(codes(behind(station('p', 'n', 'tv', 'DAP', { settings: { ip: '10.0.0.9' } })))).toEqual(
      ['station.ipDuplicate', 'station.ipDuplicate'],
    )
  })

  test('networks on different cables', () => {
    const two = (...more: Command[]) =>
      build(
        network('a', 'profinet', '10.0.0.1'),
        network('b', 'profinet', '10.0.0.2'),
        station('p', 'a', 'tv', 'DAP', { settings: { ip: '10.0.0.9' } }),
        station('q', 'b', 'tv', 'DAP', { settings: { ip: '10.0.0.9' } }),
        ...more,
      )
    expect(codes(two())).toEqual(['station.ipDuplicate'])
    expect(codes(two(setNetwork('b', { cable: 'hall 2' })))).toEqual([])
  })
})
