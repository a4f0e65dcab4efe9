import { describe, expect, test } from 'vitest'
import { layoutOf } from '../../catalog'
import { onPort } from '../../catalog/placed'
import { isFailSafeRecord } from '../../parameters'
import { readDeviceFile } from '../read'
import type { WrittenSheet } from './schema'

const sheet: WrittenSheet = {
  kataxisSheet: 1,
  maker: 'Tarn & Vey',
  name: 'Ring node',
  orderNumber: 'TV-R1',
  network: 'ring',
  addressing: 'two rotary switches',
  supplyMa: 2000,
  head: {
    inputs: [{ name: 'Status', type: 'uint8', count: 6 }],
    parameters: [
      {
        index: 3,
        length: 4,
        byteOrder: 'little',
        constant: 'aa',
        parameters: [
          {
            key: 'watchdog',
            name: 'Watchdog',
            type: 'uint16',
            byte: 1,
            default: 500,
            allowed: '100..2000',
          },
          { key: 'hold', name: 'Hold', type: 'bit', byte: 3, bit: 2, default: 1 },
        ],
      },
    ],
  },
  slots: { count: 3 },
  modules: [
    { key: 'di', name: '8 DI', currentMa: 40, inputs: [{ name: 'Input', type: 'bit', count: 8 }] },
    {
      key: 'mix',
      name: 'Mixed',
      slots: '2..3',
      inputs: [
        { name: 'Bits', type: 'bit', count: 3 },
        { name: 'Level', type: 'int16' },
      ],
      outputs: [{ name: 'Half', type: 'uint4', count: 3 }],
    },
  ],
}
const read = (value: unknown) =>
  readDeviceFile(
    new TextEncoder().encode(typeof value === 'string' ? value : JSON.stringify(value, null, 1)),
    'ring.json',
  )

describe('a sheet of the second version', () => {
  const second = (more: object) => read({ ...sheet, ...more, kataxisSheet: 2 } as never)
  const device = (more: object) => second(more).file!

  test('has variants of one device: sizes of a rack, with and without supply', () => {
    const { devices } = device({
      modules: [{ key: 'm', name: 'M' }],
      slots: { count: 4 },
      supplyMa: 500,
      variants: [
        { orderNumber: 'R-8', name: 'Rack 8', slots: 8 },
        { orderNumber: 'R-4N', supplyMa: null },
      ],
    })
    expect(devices.map(({ key, slots, currentMa }) => [key, slots.length, currentMa])).toEqual([
      [expect.any(String), 4, -500],
      ['R-8', 8, -500],
      ['R-4N', 4, null],
    ])
  })

  test('has octets as one value and ports among its data', () => {
    const [module] = device({
      slots: { count: 1 },
      modules: [
        {
          key: 'ports',
          name: 'Ports',
          inputs: [
            { name: 'Valid', type: 'bit', count: 2 },
            { name: 'Serial number', type: 'octets', count: 6 },
            { type: 'port', port: 1, count: 8 },
            { type: 'port', port: 2, count: 8 },
          ],
        },
      ],
    }).modules
    expect(
      module!.submodules[0]!.inputs.map(({ name, offsetBits, bits, port }) => [
        name,
        offsetBits,
        bits,
        port,
      ]),
    ).toEqual([
      ['Valid 1', 0, 1, undefined],
      ['Valid 2', 1, 1, undefined],
      ['Serial number', 8, 48, undefined],
      ['Port 1', 56, 64, 1],
      ['Port 2', 120, 64, 2],
    ])
  })

  test('says the range of single channels and whose quality a bit says', () => {
    const [module] = device({
      slots: { count: 1 },
      modules: [
        {
          key: 'ai',
          name: 'AI',
          inputs: [
            { name: 'Flow', type: 'int16', range: '4…20 mA' },
            { name: 'Level', type: 'int16', range: '0…10 V' },
            { name: 'Level is good', type: 'bit', statusOf: 'Level' },
          ],
        },
      ],
    }).modules
    expect(
      layoutOf(module!).channels.map(({ name, range, statusOf }) => [name, range, statusOf]),
    ).toEqual([
      ['Flow', '4…20 mA', undefined],
      ['Level', '0…10 V', undefined],
      ['Level is good', undefined, 'Level'],
    ])
    expect(second({ head: { inputs: [{ type: 'int16', range: 'much' }] } }).problems).toMatchObject(
      [{ code: 'sheet.value', message: expect.stringContaining('it is no range') as string }],
    )
  })

  test('repeats a parameter for each signal', () => {
    const [module] = device({
      slots: { count: 1 },
      modules: [
        {
          key: 'ai',
          name: 'AI',
          parameters: [
            {
              index: 1,
              length: 6,
              parameters: [
                {
                  key: 'Ch{n}Range',
                  name: 'Signal range of channel {n}',
                  type: 'uint8',
                  byte: 0,
                  default: 1,
                  group: 'Channel {n}',
                  repeat: { count: 4, everyBytes: 1 },
                },
                {
                  key: 'Error',
                  name: 'Error {n}',
                  type: 'bit',
                  byte: 4,
                  repeat: { count: 4, everyBits: 3 },
                },
              ],
            },
          ],
        },
      ],
    }).modules
    const [record] = module!.parameters
    expect(record!.bytes).toBe('01 01 01 01 00 00')
    expect(
      record!.parameters.map(({ key, offsetBytes, offsetBits }) => [key, offsetBytes, offsetBits]),
    ).toEqual([
      ...[0, 1, 2, 3].map((n) => [`Ch${n}Range`, n, 0]),
      ['Error0', 4, 0],
      ['Error1', 4, 3],
      ['Error2', 4, 6],
      ['Error3', 5, 1],
    ])
  })

  test('has fail-safe modules with their F parameters and octets', () => {
    const [module] = device({
      slots: { count: 1 },
      modules: [
        {
          key: 'fdi',
          name: 'F-DI',
          inputs: [{ name: 'In', type: 'bit', count: 8 }],
          failSafe: {
            index: 7,
            sil: 2,
            watchdogMs: 200,
            addressAllowed: '1..1022',
            switches: { style: 'dip-binary', count: 10, lsb: 'left', on: 1 },
          },
        },
      ],
    }).modules
    const [submodule] = module!.submodules
    expect([submodule!.safety, submodule!.inputBytes, submodule!.outputBytes]).toEqual([true, 5, 4])
    const [record] = submodule!.parameters
    expect([record!.index, record!.length, isFailSafeRecord(record!)]).toEqual([7, 10, true])
    expect(
      ['F_SIL', 'F_Dest_Add', 'F_WD_Time'].map((name) => {
        const found = record!.parameters.find(({ key }) => key === name)!
        return [found.default, found.allowed, found.changeable]
      }),
    ).toEqual([
      [1, [], false],
      [1, [[1, 1022]], true],
      [200, [[1, 65_535]], true],
    ])
    expect(module!.failSafeSwitches).toMatchObject({ style: 'dip-binary', count: 10 })
    expect(layoutOf(module!).channels.map(({ safety }) => safety)).toEqual(Array(8).fill(true))
  })

  // 40001 is holding register 0, 30001 input register 0, 10001 discrete input 0, 1 coil 0 (common
  // practice).
  test('counts registers by reference where it says so', () => {
    const meter = {
      head: {},
      slots: { count: 0 },
      modules: [],
      network: 'modbus',
      registerCounting: 'reference',
    }
    const found = device({
      ...meter,
      registers: [
        { name: 'Set', table: 'holding-register', address: 40001, type: 'uint16' },
        { name: 'Level', table: 'input-register', address: 30011, type: 'uint16' },
        { name: 'Fault', table: 'discrete-input', address: 10004, type: 'bit' },
        { name: 'Run', table: 'coil', address: 1, type: 'bit' },
      ],
    }).devices[0]!
    expect('sheet' in found && found.sheet.registers.map(({ address }) => address)).toEqual([
      0, 10, 3, 0,
    ])
    expect(
      second({
        ...meter,
        registers: [{ name: 'Set', table: 'holding-register', address: 12, type: 'uint16' }],
      }).problems,
    ).toMatchObject([{ code: 'register.reference', severity: 'error' }])
  })

  test('says which networks a module brings, and whether it may be changed while running', () => {
    const [module] = device({
      slots: { count: 1 },
      modules: [
        {
          key: 'c',
          name: 'Link',
          interfaces: [{ name: 'Bus', kind: 'profibus' }],
          changesRunning: true,
        },
      ],
    }).modules
    expect(module).toMatchObject({
      interfaces: [{ name: 'Bus', kind: 'profibus', maxStations: null }],
      changesRunning: true,
    })
  })

  test('of the first version is read as before', () =>
    expect(read(sheet).file).toMatchObject({ formatVersion: '1', problems: [] }))

  test('describes a device below a port by its sizes; its octets stand there as written', () => {
    const { devices } = device({
      network: 'io-link',
      slots: { count: 0 },
      modules: [],
      head: {
        inputs: [
          { name: 'Distance', type: 'uint16' },
          { name: 'State', type: 'uint8' },
          { name: 'Near', type: 'bit' },
        ],
        outputs: [{ name: 'Lamp', type: 'bit' }],
      },
    })
    const [made] = devices
    expect([made!.protocol, made!.limits.inputBytes, made!.limits.outputBytes]).toEqual([
      'io-link',
      4,
      1,
    ])
    const onWire = made!.submodules[0]!.inputs.map((item) => onPort(item, 4))
    expect(onWire.map(({ name, offsetBits, bits }) => [name, offsetBits, bits])).toEqual([
      ['Distance', 0, 16],
      ['State', 16, 8],
      ['Near', 24, 1],
    ])
  })
})
