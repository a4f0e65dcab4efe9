import { ipOf } from '../../protocols'
import { describe, expect, test } from 'vitest'
import { check } from '../../checks'
import { derive } from '../../derive'
import { newPlan } from '../../exchange'
import {
  begin,
  doAll,
  insert,
  place,
  shelfCatalog,
  smallCatalog,
  smallFile,
  smallPlan,
} from '../../test/plans'
import { applyChanges, invert, wordRefusal, type Command, type Plan } from '../../plan/index'
import { networkKinds, type NetworkKindName, freeNumber } from '../../protocols'
import { applyCommand } from '..'

const network = (
  id: string,
  kind: NetworkKindName,
  controllerIp = '',
  controllerId = 'k1',
): Command => ({
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
): Command => ({ type: 'addStation', id, networkId, file, device, comment: '', ...more })
const codes = (plan: Plan, catalog = shelfCatalog) =>
  check(derive(plan, catalog)).all.map(({ code }) => code)
const controller: Command = {
  type: 'addController',
  id: 'k1',
  name: 'K1',
  inputBytes: 2000,
  outputBytes: 2000,
  aligned: false,
}
const refusalOf = (plan: Plan, command: Command, catalog = smallCatalog) => {
  const applied = applyCommand(plan, catalog, command)
  return applied.ok ? null : wordRefusal(applied.refusal)
}

describe('networks of every kind', () => {
  // Number ranges: EN 50170, Modbus over serial line 1.02; EtherCAT addresses from 1001 are common
  // practice.
  test.each<[NetworkKindName, string, string, string, number, string]>([
    ['profibus', '', 'BRCK0F31.gsd', 'BW-DP Head', 3, ''],
    ['ethercat', '', 'Quillane-QE200-terminals.xml', '0x00002101.0x00010000', 1001, ''],
    ['ethernet-ip', '10.1.0.1', 'Brackwater-BWEN.eds', 'BW-EN-1', 1, '10.1.0.2'],
    ['modbus-tcp', '10.2.0.1', 'ostrel-wellmeter.sheet.json', 'OD-WM3', 1, '10.2.0.2'],
    ['modbus-rtu', '', 'ostrel-wellmeter.sheet.json', 'OD-WM3', 1, ''],
    ['ring', '', 'brackwater-ringnode.sheet.json', 'BW-RN', 1, ''],
  ])('%s gives its stations number and address', (kind, controllerIp, file, device, number, ip) => {
    const plan = doAll(
      newPlan('p', 'P'),
      shelfCatalog,
      controller,
      network('n', kind, controllerIp),
      station('s', 'n', file, device),
      station('t', 'n', file, device),
    )
    expect(plan.stations['s']!.station.deviceNumber).toBe(number)
    expect(ipOf(plan.stations['s']!.station)).toBe(ip)
    // A unit only tells those apart that share an address.
    expect(plan.stations['t']!.station.deviceNumber).toBe(
      kind === 'modbus-tcp' ? number : number + 1,
    )
    expect(
      codes(plan).filter((code) => /station\.(ip|number|name|deviceNumber)|network/.test(code)),
    ).toEqual([])
    expect(
      refusalOf(plan, station('u', 'n', 'tv', 'DAP'), new Map([...shelfCatalog, ...smallCatalog])),
    ).toContain(`speaks PROFINET, but n is a ${networkKinds[kind].name} network`)
  })

  test('the data of an EtherNet/IP station is what its connection carries', () => {
    const plan = doAll(
      newPlan('p', 'P'),
      shelfCatalog,
      controller,
      network('n', 'ethernet-ip', '10.1.0.1'),
      station('s', 'n', 'Brackwater-BWEN.eds', 'BW-EN-1'),
    )
    const bytesOf = (at: Plan) => {
      const { inputBytes, outputBytes } = derive(at, shelfCatalog).stations.get('s')!
      return [inputBytes, outputBytes]
    }
    expect(bytesOf(plan)).toEqual([2, 2])
    const other = doAll(plan, shelfCatalog, {
      type: 'replaceHead',
      id: 's',
      file: 'Brackwater-BWEN.eds',
      device: 'BW-EN-1',
      connection: 'Connection2',
    })
    expect(bytesOf(other)).toEqual([6, 2])
    expect(other.stations['s']!.station).toMatchObject({
      connection: 'Connection2',
      addresses: { 1: { in: 0, out: 0 } },
    })
  })

  test('a coupler feeds the EtherCAT stations behind it', () => {
    const analogs = (count: number) =>
      Array.from({ length: count }, (_, i) =>
        station(`a${i}`, 'n', 'Quillane-QE200-terminals.xml', '0x00002301.0x00010000'),
      )
    const line = (count: number) =>
      doAll(
        newPlan('p', 'P'),
        shelfCatalog,
        controller,
        network('n', 'ethercat'),
        station('head', 'n', 'Quillane-QE200-terminals.xml', '0x00002000.0x00010000'),
        ...analogs(count),
      )
    // 1500 mA against 140 mA each.
    expect(codes(line(10))).not.toContain('network.supply')
    const found = check(derive(line(12), shelfCatalog)).all.filter(
      ({ code }) => code === 'network.supply',
    )
    expect(found.map(({ at, message }) => [at.id, /gives 1540 mA.*1500 mA/.test(message)])).toEqual(
      [['a10', true]],
    )
  })

  test.each([
    [new Set([3, 4]), 5],
    [new Set(Array.from({ length: 123 }, (_, i) => i + 3)), 0],
    [new Set(Array.from({ length: 126 }, (_, i) => i)), null],
  ])('the next free PROFIBUS address', (taken, free) =>
    expect(freeNumber(networkKinds.profibus, taken)).toBe(free),
  )
})

describe('copies of a station', () => {
  const source = () =>
    smallPlan(insert('a', 1, 'DI'), insert('b', 2, 'AO'), {
      type: 'editSignals',
      edits: [
        { id: 'x', place: place('a', 0), tag: 'P1_Run', comment: 'runs' },
        { id: 'y', place: place('b', 0, 'out'), tag: 'P1_Speed', comment: '' },
      ],
    })

  test('take names, addresses and tags of their own', () => {
    const before = source()
    const applied = applyCommand(before, smallCatalog, {
      type: 'copyStation',
      sourceId: 's1',
      networkId: 'n1',
      copies: [
        { id: 'c2', name: 'pump-2', find: 'P1_', with: 'P2_' },
        { id: 'c3', find: '', with: '' },
      ],
    })
    if (!applied.ok) throw new Error(wordRefusal(applied.refusal))
    const { c2, c3 } = applied.plan.stations
    expect(c2!.station).toMatchObject({
      name: 'pump-2',
      settings: { ip: '10.0.0.3' },
      deviceNumber: 2,
    })
    expect(c3!.station).toMatchObject({
      name: 'tv-2',
      settings: { ip: '10.0.0.4' },
      deviceNumber: 3,
    })
    expect(
      Object.values(c2!.modules).map(({ slot, module, addresses }) => [slot, module, addresses]),
    ).toEqual([
      [1, 'DI', { 1: { in: 1 } }],
      [2, 'AO', { 1: { out: 4 } }],
    ])
    expect(Object.values(c2!.signals).map(({ tag, comment }) => [tag, comment])).toEqual([
      ['P2_Run', 'runs'],
      ['P2_Speed', ''],
    ])
    expect(Object.values(c3!.signals).map(({ tag, comment }) => [tag, comment])).toEqual([
      ['', 'runs'],
    ])
    expect(
      codes(applied.plan, smallCatalog).filter((code) => /blocker|duplicate|overlap/i.test(code)),
    ).toEqual([])
    expect(applyChanges(applied.plan, invert(applied.changes))).toEqual(before)
  })

  test('a hundred copies do not overlap', () => {
    const large = doAll(
      source(),
      smallCatalog,
      { type: 'updateController', id: 'k1', set: { inputBytes: 2000, outputBytes: 2000 } },
      {
        type: 'copyStation',
        sourceId: 's1',
        networkId: 'n1',
        copies: Array.from({ length: 100 }, (_, i) => ({ id: `c${i}`, find: 'P1', with: `C${i}` })),
      },
    )
    expect(derive(large, smallCatalog).totals).toMatchObject({
      stations: 101,
      modules: 202,
      named: 202,
    })
    expect(codes(large, smallCatalog).filter((code) => /image|duplicate/i.test(code))).toEqual([])
  })

  test('where the image is full nothing is done', () => {
    expect(
      refusalOf(source(), {
        type: 'copyStation',
        sourceId: 's1',
        networkId: 'n1',
        copies: Array.from({ length: 40 }, (_, i) => ({ id: `c${i}`, find: '', with: '' })),
      }),
    ).toContain('has no room for')
  })
})

describe('moving stations between networks', () => {
  const two = () =>
    smallPlan(
      insert('a', 1, 'DI'),
      network('n2', 'profinet', '10.0.9.1'),
      {
        type: 'addController',
        id: 'k2',
        name: 'K2',
        inputBytes: 64,
        outputBytes: 64,
        aligned: true,
      },
      network('n3', 'profinet', '10.0.3.1', 'k2'),
      network('bus', 'profibus'),
      { type: 'addStation', id: 's2', networkId: 'n2', file: 'tv', device: 'DAP', comment: '' },
    )

  test('what does not fit there becomes the next free one', () => {
    const moved = doAll(two(), smallCatalog, { type: 'moveStations', ids: ['s1'], networkId: 'n2' })
    expect(moved.stations['s1']!.station).toMatchObject({
      networkId: 'n2',
      settings: { ip: '10.0.9.3' },
      deviceNumber: 2,
    })
    expect(moved.stations['s1']!.modules['a']!.addresses).toEqual({ 1: { in: 0 } })
  })

  test('under another controller the bytes are new', () => {
    const shifted = doAll(
      two(),
      smallCatalog,
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 40 },
      { type: 'moveStations', ids: ['s1', 's2'], networkId: 'n3' },
    )
    expect(shifted.stations['s1']!.modules['a']!.addresses).toEqual({ 1: { in: 0 } })
    expect(
      derive(shifted, smallCatalog).controllers[1]!.networks[0]!.stations.map(({ id }) => id),
    ).toEqual(['s1', 's2'])
  })

  test('on its own network only the place changes', () => {
    const plan = doAll(
      two(),
      smallCatalog,
      {
        type: 'copyStation',
        sourceId: 's1',
        networkId: 'n1',
        copies: [{ id: 'c', find: '', with: '' }],
      },
      { type: 'moveStations', ids: ['c'], networkId: 'n1', position: 0.5 },
    )
    expect(
      derive(plan, smallCatalog).controllers[0]!.networks[0]!.stations.map(({ id, station }) => [
        id,
        ipOf(station),
      ]),
    ).toEqual([
      ['c', '10.0.0.3'],
      ['s1', '10.0.0.2'],
    ])
  })

  test('never onto another kind of wire', () =>
    expect(refusalOf(two(), { type: 'moveStations', ids: ['s1'], networkId: 'bus' })).toBe(
      'tv-1 hangs on PROFINET; bus is a PROFIBUS DP network.',
    ))
})

describe('another head', () => {
  // A later file: AO is gone, DI carries another key under the same order number.
  const later = {
    ...smallFile,
    modules: smallFile.modules
      .filter(({ key }) => key !== 'AO')
      .map((module) => ({ ...module, key: module.key === 'DI' ? 'DI_NEW' : module.key })),
    devices: smallFile.devices.map((device) => ({
      ...device,
      slots: device.slots.map((slot) => ({ ...slot, allowed: ['DI_NEW'] })),
    })),
  }
  const catalog = new Map([...smallCatalog, ['later', later]])

  test('keeps what fits with address and tag; the rest loses its place, never its words', () => {
    const orderNumber = smallFile.modules.find(({ key }) => key === 'DI')!.orderNumber
    expect(orderNumber).not.toBeNull()
    const before = smallPlan(
      insert('a', 1, 'DI'),
      insert('b', 2, 'AO'),
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 17 },
      {
        type: 'editSignals',
        edits: [
          { id: 'x', place: place('a', 0), tag: 'X' },
          { id: 'y', place: place('b', 0, 'out'), tag: 'Y' },
        ],
      },
    )
    const applied = applyCommand(before, catalog, {
      type: 'replaceHead',
      id: 's1',
      file: 'later',
      device: 'DAP',
    })
    if (!applied.ok) throw new Error(wordRefusal(applied.refusal))
    expect(applied.plan.stations['s1']).toMatchObject({
      station: { file: 'later', settings: { ip: '10.0.0.2' } },
      modules: { a: { module: 'DI_NEW', slot: 1, addresses: { 1: { in: 17 } } } },
      signals: { x: { tag: 'X' } },
    })
    expect(Object.keys(applied.plan.stations['s1']!.modules)).toEqual(['a'])
    expect(applied.plan.unplaced['y']).toMatchObject({ tag: 'Y', place: null })
    expect(applyChanges(applied.plan, invert(applied.changes))).toEqual(before)
  })

  test('is refused where the network speaks something else', () =>
    expect(
      refusalOf(
        doAll(newPlan('p', 'P'), smallCatalog, ...begin),
        { type: 'replaceHead', id: 's1', file: 'BRCK0F31.gsd', device: 'BW-DP Head' },
        new Map([...smallCatalog, ...shelfCatalog]),
      ),
    ).toContain('speaks PROFIBUS DP'))
})
