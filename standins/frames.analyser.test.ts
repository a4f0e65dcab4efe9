// Frames of a whole rehearsal against an independent protocol analyser: tshark with its dissectors
// pn_dcp, pn_io, lldp, ecat, ecat_mailbox, enip, cip, cipcm, cipio, mbtcp, epl, dhcp (Debian's package
// `tshark`, installed by `npm test`). Presence, value, count and position are asserted, since no
// error alone proves little. It knows no PROFIBUS: those octets are held against tables, below.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import {
  capturedFrames,
  derive,
  FrameLog,
  plannedNetworks,
  rehearse,
  writePcap,
} from '@kataxis/core'
import { wholeDemo } from '../core/test/plans'
import { buildWorld, Performance } from './index'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const folder = mkdtempSync(join(tmpdir(), 'kataxis-frames-'))
const file = join(folder, 'frames.pcap')
const fileCalled = (word: string) => (catalog.has(word) ? word : null)
const networks = plannedNetworks(derived)
const stationOf = (id: string) =>
  networks.flatMap(({ stations }) => stations).find((one) => one.id === id)!

beforeAll(() => {
  const world = buildWorld(
    derived,
    [
      { kind: 'factoryNew', station: 'ozone-pump' },
      { kind: 'swapped', station: 'intake-b', slots: [2, 3] },
      { kind: 'wireBreak', tag: 'INT_LT_101' },
    ],
    fileCalled,
  )
  const performance = new Performance(world, derived, Infinity)
  performance.act({ do: 'scan' })
  const intake = performance.state.found[plan.stations['intake-a']!.station.networkId]!
  performance.act({
    do: 'blink',
    networkId: plan.stations['intake-a']!.station.networkId,
    key: intake[0]!.key,
  })
  performance.act({ do: 'assignAll' })
  performance.act({ do: 'start' })
  const frames = capturedFrames(
    performance.log.latest,
    (id) => plan.networks[id]!.settings.kind,
    Date.UTC(2026, 0, 1),
  )
  writeFileSync(file, writePcap(frames))
}, 60_000)
afterAll(() => rmSync(folder, { recursive: true }))

/** Values of fields of all frames that a filter finds, frame by frame. */
function fields(filter: string, ...names: string[]): string[][] {
  const text = execFileSync(
    'tshark',
    [
      '-2',
      '-r',
      file,
      '-Y',
      filter,
      '-T',
      'fields',
      '-E',
      'separator=|',
      ...names.flatMap((name) => ['-e', name]),
    ],
    { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'], maxBuffer: 1 << 26 },
  )
  return text
    .split('\n')
    .filter((line) => line !== '')
    .map((line) => line.split('|'))
}

test('nothing is malformed, and nothing is warned of but refusals', () => {
  expect(
    fields('_ws.malformed || _ws.expert.severity>="Warning"', 'frame.number', '_ws.col.info'),
  ).toEqual([])
})

test.each([
  ['pn_dcp', 20],
  ['pn_io_device', 150],
  ['lldp', 3],
  ['ecat', 100],
  ['ecat_mailbox.coe', 4],
  ['enip.command == 0x0063', 1],
  ['cipcm', 4],
  ['cipio', 3],
  ['modbus', 10],
  ['epl', 200],
  ['dhcp', 1],
  ['arp', 0],
])('the analyser finds %s, at least %d times', (filter, least) => {
  expect(fields(filter, 'frame.number').length).toBeGreaterThanOrEqual(least)
})

describe('PROFINET', () => {
  const intake = stationOf('intake-a')
  const connect = () =>
    fields(
      `pn_io.cminitiator_station_name == "${intake.wireName}" || (ip.dst == ${intake.ip} && dcerpc.opnum == 0 && dcerpc.pkt_type == 0)`,
      'pn_io.iocr_type',
      'pn_io.send_clock_factor',
      'pn_io.reduction_ratio',
      'pn_io.watchdog_factor',
      'pn_io.module_ident_number',
      'pn_io.submodule_ident_number',
      'pn_io.submodule_data_length',
      'pn_io.slot_nr',
      'pn_io.io_data_object.frame_offset',
    )[0]!
  const list = (text: string | undefined) => (text ?? '').split(',').filter((one) => one !== '')

  test('connect: one input and one output connection with the clock of the plan', () => {
    const [types, clock, ratio, watchdog] = connect()
    expect(list(types).map(Number)).toEqual([1, 2])
    expect(list(clock).map(Number)).toEqual([32, 32])
    expect(list(ratio).map(Number)).toEqual([64, 64])
    expect(list(watchdog).map(Number)).toEqual([4, 4])
  })
  test('connect: every module and submodule of the plan with its ident and its sizes', () => {
    const [, , , , modules, submodules, lengths] = connect()
    expect(list(modules).map(Number)).toEqual(
      intake.modules.map(({ ident }) => parseInt(ident, 16)),
    )
    const parts = intake.modules.flatMap((module) => module.submodules)
    expect(list(submodules).map(Number)).toEqual(parts.map(({ ident }) => parseInt(ident, 16)))
    const sizes = parts.flatMap(({ inputBytes, outputBytes }) =>
      inputBytes > 0 && outputBytes > 0
        ? [inputBytes, outputBytes]
        : [inputBytes > 0 || outputBytes === 0 ? inputBytes : outputBytes],
    )
    expect(list(lengths).map(Number)).toEqual(sizes)
  })
  test('connect: data objects stand where the data before them end, with their status', () => {
    const offsets = list(connect()[8]).map(Number)
    const place = (direction: 'inputBytes' | 'outputBytes', empty: boolean) => {
      let at = 0
      return intake.modules
        .flatMap((module) => module.submodules)
        .flatMap((part) => {
          const isEmpty = part.inputBytes + part.outputBytes === 0
          if (part[direction] === 0 && !(isEmpty && empty)) return []
          const here = at
          at += part[direction] + 1
          return [here]
        })
    }
    expect(offsets).toEqual([...place('inputBytes', true), ...place('outputBytes', false)])
  })
  test('the module difference block names the slots that are swapped, and no other', () => {
    const station = stationOf('intake-b')
    const [slots, states] = fields(
      `ip.src == ${station.ip} && pn_io.module_state`,
      'pn_io.slot_nr',
      'pn_io.module_state',
    )[0]!
    expect([list(slots).map(Number), list(states).map(Number)]).toEqual([
      [2, 3],
      [1, 1],
    ])
  })
  test('records are written as the plan has them: as many, with index and length', () => {
    const written = fields(
      `ip.dst == ${intake.ip} && dcerpc.opnum == 3 && dcerpc.pkt_type == 0`,
      'pn_io.index',
      'pn_io.record_data_length',
    )
    const planned = intake.records.filter(({ record }) => record.index !== null)
    expect(written.map(([index, length]) => [Number(index), Number(length)])).toEqual(
      planned.map(({ record, bytes }) => [record.index, bytes.length]),
    )
  })
  test('a broken wire is an alarm of its channel', () => {
    expect(
      fields(
        'pn_io.alarm_type',
        'pn_io.slot_nr',
        'pn_io.channel_number',
        'pn_io.channel_error_type',
      ).map((one) => one.map(Number)),
    ).toEqual([[5, 0, 6]])
  })
  test('identification says maker, order number and software', () => {
    const [order] = fields(`ip.src == ${intake.ip} && pn_io.im_serial_number`, 'pn_io.order_id')[0]!
    expect(order!.trim()).toBe(intake.view.device!.orderNumber)
  })
  test('neighbours are announced with chassis and port', () => {
    const told = fields('lldp', 'lldp.port.id').map(([port]) => port)
    expect(told).toContain(`port-001.${intake.wireName}`)
  })
})

describe('EtherCAT', () => {
  test('the scan counts every slave, and each is asked for maker and type', () => {
    const count =
      stationOf('fill-head').view &&
      networks.find(({ kind }) => kind === 'ethercat')!.stations.length
    const counters = fields('ecat.sub1.cmd == 7', 'ecat.sub1.cnt').map(([cnt]) => Number(cnt))
    expect(counters).toContain(count)
  })
  test('every slave is brought to operation, one state after the other', () => {
    const wanted = fields('ecat.sub1.ado == 0x120', 'ecat.reg.alctrl.ctrl')
    const states = wanted.map(([state]) => Number(state))
    const stations = networks.find(({ kind }) => kind === 'ethercat')!.stations.length
    // Question and answer stand in the capture.
    expect(states.filter((state) => state === 8).length).toBe(2 * stations)
  })
})

describe('EtherNet/IP', () => {
  test('Forward_Open asks for the intervals and sizes of the plan', () => {
    const io = stationOf('ozone-io')
    const { inputBytes, outputBytes, hasRunIdleHeader } = io.view.device!.connections.find(
      ({ key }) => key === io.view.station.connection,
    )!
    const [size] = fields(
      `ip.dst == ${io.ip} && cip.cm.otrpi`,
      'cip.cm.fwo.consize',
      'cip.cm.otrpi',
    )
    expect(size![0]!.split(',').map(Number)).toEqual([
      outputBytes + 2 + (hasRunIdleHeader ? 4 : 0),
      inputBytes + 2,
    ])
  })
  test('a device without an address gets the one of its role name', () => {
    const given = fields(
      'dhcp.type == 2 || dhcp.option.dhcp == 5',
      'dhcp.ip.your',
      'dhcp.option.hostname',
    )
    expect(given.at(-1)).toEqual(['192.168.50.28', 'OD-P7-028'])
  })
})

test('Modbus: the requests of the plan, with first register and count', () => {
  const asked = fields(
    'ip.dst == 192.168.60.21 && modbus.func_code == 4',
    'modbus.reference_num',
    'modbus.word_cnt',
  )
  expect(asked[0]!.map(Number)).toEqual([0, 3])
})

test('the ring: every node is asked who it is, the planned one answers with its name', () => {
  expect(fields('epl.soa.svid == 1', 'epl.soa.svtg').length).toBeGreaterThanOrEqual(239)
  expect(fields('epl.asnd.ires.hostname', 'epl.src', 'epl.asnd.ires.hostname')[0]![1]).toContain(
    'BW-RN',
  )
})

// EN 50170 / IEC 61158-4-3 and -6-3, tables of telegram formats (from memory).
describe('PROFIBUS, octet by octet', () => {
  const world = buildWorld(derived, [], fileCalled)
  const well = networks.find(({ kind }) => kind === 'profibus')!
  const line = world.line(well.id, new FrameLog())
  const ask = (...octets: number[]) => line.send(Uint8Array.from(octets)).map((one) => [...one])
  const sum = (...octets: number[]) => octets.reduce((total, one) => total + one, 0) & 0xff
  test.each([
    [
      'who is there, station 11',
      [0x10, 11, 2, 0x49, sum(11, 2, 0x49), 0x16],
      [[0x10, 2, 11, 0x00, sum(2, 11), 0x16]],
    ],
    ['a wrong check octet', [0x10, 11, 2, 0x49, 0, 0x16], []],
    ['a wrong end', [0x10, 11, 2, 0x49, sum(11, 2, 0x49), 0x17], []],
    ['nobody at 99', [0x10, 99, 2, 0x49, sum(99, 2, 0x49), 0x16], []],
    [
      'data before parameters: not active',
      [0x68, 4, 4, 0x68, 11, 2, 0x6d, 0, sum(11, 2, 0x6d), 0x16],
      [[0x10, 2, 11, 0x03, sum(2, 11, 3), 0x16]],
    ],
  ] as [string, number[], number[][]][])('%s', (_, asked, answers) => {
    expect(ask(...asked)).toEqual(answers)
  })
  test('Slave_Diag: needs parameters, locked by nobody, with its ident number', () => {
    const station = well.stations.find(({ number }) => number === 11)!
    const [answer] = ask(
      0x68,
      5,
      5,
      0x68,
      0x8b,
      0x82,
      0x6d,
      60,
      62,
      sum(0x8b, 0x82, 0x6d, 60, 62),
      0x16,
    )
    const ident = parseInt(station.identity.type, 16)
    expect(answer!.slice(4, 15)).toEqual([
      0x82,
      0x8b,
      0x08,
      62,
      60,
      0x02,
      0x05,
      0,
      255,
      ident >> 8,
      ident & 255,
    ])
  })
  test('a watchdog factor of 0 is a parameter fault', () => {
    const station = well.stations.find(({ number }) => number === 11)!
    const ident = parseInt(station.identity.type, 16)
    const content = [0x8b, 0x82, 0x6d, 61, 62, 0x88, 0, 0, 11, ident >> 8, ident & 255, 0]
    expect(
      ask(0x68, content.length, content.length, 0x68, ...content, sum(...content), 0x16),
    ).toEqual([[0xe5]])
    const [answer] = ask(
      0x68,
      5,
      5,
      0x68,
      0x8b,
      0x82,
      0x6d,
      60,
      62,
      sum(0x8b, 0x82, 0x6d, 60, 62),
      0x16,
    )
    expect(answer![9]! & 0x40).toBe(0x40)
  })
})

test('what is sent twice is answered the same: scanning writes nothing', () => {
  const world = buildWorld(derived, [], fileCalled)
  const site = { line: (id: string) => world.line(id, new FrameLog()), field: world.field }
  const state = rehearse.scan(rehearse.beginRun(derived), site)
  expect(rehearse.stationStates(state).size).toBeGreaterThan(30)
})
