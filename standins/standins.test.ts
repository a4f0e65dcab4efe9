import { expect, test } from 'vitest'
import {
  decodeDcp,
  decodeRealIdentification,
  derive,
  encodeDcp,
  foundDevice,
  identifyMulticast,
  matchDevices,
  plannedStations,
  type DcpBlock,
  type DcpFrame,
} from '@kataxis/core'
import { demoPlan } from '../core/test/plans'
import { buildWire, readRealIdentification, transmit, type Wire } from './index'

const tool = '02:4b:41:54:00:01'
const { plan, catalog } = demoPlan()
const planned = plannedStations(derive(plan, catalog))

function ask(wire: Wire, frame: Pick<DcpFrame, 'destination' | 'service' | 'blocks'>) {
  const { wire: next, answers } = transmit(wire, encodeDcp({ ...frame, source: tool, xid: 1 }))
  return { wire: next, answers: answers.map((answer) => decodeDcp(answer) as DcpFrame) }
}
const set = (wire: Wire, destination: string, ...blocks: DcpBlock[]) =>
  ask(wire, { destination, service: 'set', blocks })
function scan(wire: Wire) {
  const { answers } = ask(wire, {
    destination: identifyMulticast,
    service: 'identify',
    blocks: [{ kind: 'all' }],
  })
  return answers.map((answer) =>
    foundDevice(
      answer,
      decodeRealIdentification(readRealIdentification(wire, answer.source)) as never,
    ),
  )
}

test('the two injected differences are found, and mended the wire is as planned', () => {
  const { wire, differences } = buildWire(planned)
  expect(differences.map(({ kind, station }) => [kind, station])).toEqual([
    ['factoryNew', 'membrane-1'],
    ['swapped', 'intake-a'],
  ])
  const first = matchDevices(planned, scan(wire))
  expect(first.stations.flatMap(({ findings }) => findings.map(({ code }) => code)).sort()).toEqual(
    ['match.nameless', 'match.swapped'],
  )

  const target = first.stations.find(({ state }) => state === 'candidates')!
  const { mac } = target.candidates[0]!
  const named = set(
    wire,
    mac,
    { kind: 'name', name: target.station.wireName },
    { kind: 'ip', ip: target.station.ip, mask: target.station.mask, gateway: '0.0.0.0' },
  )
  expect(named.answers[0]!.blocks).toEqual([
    { kind: 'result', option: 2, suboption: 2, error: 0 },
    { kind: 'result', option: 1, suboption: 2, error: 0 },
  ])
  expect(
    matchDevices(planned, scan(named.wire)).stations.flatMap(({ findings }) =>
      findings.map(({ code }) => code),
    ),
  ).toEqual(['match.swapped'])
})

test('scanning changes nothing, and only the addressed device takes a setting', () => {
  const { wire } = buildWire(planned)
  const scanned = ask(wire, {
    destination: identifyMulticast,
    service: 'identify',
    blocks: [{ kind: 'all' }],
  })
  expect(scanned.wire).toEqual(wire)
  const blinked = set(wire, wire.devices[1]!.mac, { kind: 'signal' })
  expect(blinked.wire.devices.map(({ blinks }) => blinks)).toEqual([0, 1, 0, 0])
  expect(blinked.answers).toHaveLength(1)
})

test.each([
  [
    'identify by name finds one',
    {
      destination: identifyMulticast,
      service: 'identify',
      blocks: [{ kind: 'name', name: 'intake-b' }],
    },
    1,
  ],
  [
    'identify by an unknown name finds nobody',
    {
      destination: identifyMulticast,
      service: 'identify',
      blocks: [{ kind: 'name', name: 'nobody' }],
    },
    0,
  ],
  [
    'a set to nobody is not answered',
    { destination: '02:00:00:00:00:77', service: 'set', blocks: [{ kind: 'signal' }] },
    0,
  ],
] as [string, Pick<DcpFrame, 'destination' | 'service' | 'blocks'>, number][])(
  '%s',
  (_, frame, count) => {
    expect(ask(buildWire(planned).wire, frame).answers).toHaveLength(count)
  },
)

test('a factory reset takes name and address away; an unknown setting is refused', () => {
  const { wire } = buildWire(planned)
  const { mac } = wire.devices[0]!
  expect(set(wire, mac, { kind: 'factoryReset' }).wire.devices[0]).toMatchObject({
    name: '',
    ip: '0.0.0.0',
  })
  expect(
    set(wire, mac, { kind: 'unknown', option: 0x80, suboption: 1, bytes: [1] }).answers[0]!.blocks,
  ).toEqual([{ kind: 'result', option: 0x80, suboption: 1, error: 2 }])
})
