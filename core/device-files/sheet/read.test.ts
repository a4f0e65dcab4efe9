import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readDeviceFile } from '../read'
import { layOut } from './data-places'
import { sheetTypes, type SheetType, type WrittenSheet } from './schema'

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

describe('a device sheet', () => {
  const { file, problems } = read(sheet)
  const [device] = file!.devices
  test('is read without a problem', () => expect(problems).toEqual([]))

  test('gives head, slots and modules', () => {
    expect(device).toMatchObject({
      name: 'Ring node',
      protocol: 'ring',
      currentMa: -2000,
      submodules: [{ inputBytes: 6 }],
      sheet: { addressing: 'two rotary switches', headerBytes: 6 },
    })
    expect(device!.slots.map(({ slot, allowed }) => [slot, allowed])).toEqual([
      [1, ['di']],
      [2, ['di', 'mix']],
      [3, ['di', 'mix']],
    ])
    expect(device!.parameters).toMatchObject([{ index: 3, bytes: 'aa f4 01 04' }])
    expect(
      file!.modules.map(({ key, inputBytes, outputBytes }) => [key, inputBytes, outputBytes]),
    ).toEqual([
      ['di', 1, 0],
      ['mix', 3, 2],
    ])
    expect(file!.modules[1]!.submodules[0]!.inputs.map(({ offsetBits }) => offsetBits)).toEqual([
      0, 1, 2, 8,
    ])
    expect(file!.modules[1]!.submodules[0]!.outputs.map(({ offsetBits }) => offsetBits)).toEqual([
      0, 4, 8,
    ])
  })

  // Common practice: the head's data are as long as the rack, whatever is plugged.
  test('every slot with the same octets', () => {
    const rack = read({
      ...sheet,
      slots: { count: 2, everySlot: { inputBytes: 16, outputBytes: 8 } },
    }).file!.devices[0]!
    expect(rack.slots.map(({ at }) => [at!.in!.offsetBits / 8, at!.out!.offsetBits / 8])).toEqual([
      [6, 0],
      [22, 8],
    ])
    expect(
      read({ ...sheet, slots: { count: 2, everySlot: { inputBytes: 16, outputBytes: 8 } } }).file!
        .devices[0]!.submodules,
    ).toMatchObject([{ inputBytes: 6 + 32, outputBytes: 16 }])
  })

  test('a module with more data than a slot has room for is told, and fits none', () => {
    const { file, problems } = read({
      ...sheet,
      slots: { count: 2, everySlot: { inputBytes: 2, outputBytes: 1 } },
    })
    expect(problems).toMatchObject([
      { code: 'slots.room', message: expect.stringContaining('Mixed') },
    ])
    expect(file!.devices[0]!.slots.map(({ allowed }) => allowed)).toEqual([['di'], ['di']])
  })

  test('a gateway’s nodes are its slots, with flags before them', () => {
    const gate = {
      ...sheet,
      head: {},
      network: 'gateway',
      slots: { count: 5, nibbles: { order: 'octets-high-nibble-first', secondFirst: 101 } },
      modules: [{ key: 'n', name: 'Node', inputs: [{ name: 'I', type: 'bit', count: 4 }] }],
    }
    const { file, problems } = read(gate)
    const [device] = file!.devices
    expect(problems).toEqual([])
    expect(device!.slots.map(({ slot, at }) => [slot, at!.in!.offsetBits])).toEqual([
      [1, 0],
      [2, 12],
      [3, 8],
      [4, 20],
      [5, 16],
      [101, 32],
      [102, 44],
      [103, 40],
      [104, 52],
      [105, 48],
    ])
    expect(device!.submodules).toMatchObject([
      {
        inputBytes: 8,
        outputBytes: 8,
        inputs: [
          { name: 'Flags of A nodes', offsetBits: 4 },
          { name: 'Flags of B nodes', offsetBits: 36 },
        ],
      },
    ])
    expect(
      read({ ...gate, slots: { count: 5, nibbles: { secondFirst: 4 } } }).problems,
    ).toMatchObject([{ code: 'slots.numbers' }])
  })

  test('registers are the data of a Modbus device that has no other', () => {
    const meter = {
      ...sheet,
      head: {},
      slots: { count: 0 },
      modules: [],
      network: 'modbus',
      dataOrder: 'little',
      registers: [
        { name: 'Set', table: 'holding-register', address: 9, type: 'float32' },
        { name: 'Level', table: 'input-register', address: 4, type: 'uint16' },
        { name: 'Fault', table: 'discrete-input', address: 0, type: 'bit' },
        { name: 'Mode', table: 'holding-register', address: 8, type: 'uint16', access: 'both' },
      ],
    }
    const [device] = read(meter).file!.devices
    expect(device).toMatchObject({
      sheet: {
        dataOrder: 'little',
        registers: [
          { access: 'write' },
          { access: 'read' },
          { access: 'read' },
          { access: 'both' },
        ],
      },
    })
    expect(device!.submodules[0]!.inputs.map(({ name, offsetBits }) => [name, offsetBits])).toEqual(
      [
        ['Fault', 0],
        ['Level', 8],
        ['Mode', 24],
      ],
    )
    expect(
      device!.submodules[0]!.outputs.map(({ name, offsetBits }) => [name, offsetBits]),
    ).toEqual([
      ['Mode', 0],
      ['Set', 16],
    ])
  })

  test('bits that mean nothing travel and get no channel', () => {
    const inputs = [
      { name: 'Ready', type: 'bit' },
      { type: 'unused', count: 3 },
      { name: 'Fault', type: 'bit' },
      { name: 'Level', type: 'uint16' },
    ]
    const [device] = read({ ...sheet, head: { inputs }, slots: { count: 0 }, modules: [] }).file!
      .devices
    expect(device!.submodules[0]!.inputs.map(({ name, offsetBits }) => [name, offsetBits])).toEqual(
      [
        ['Ready', 0],
        ['Fault', 4],
        ['Level', 8],
      ],
    )
  })

  // References count from 1 behind the table's digit (common practice); the addresses of a sheet
  // count from 0.
  const register = (
    name: string,
    address: number,
    table = 'holding-register',
    type = 'uint16',
  ) => ({ name, table, address, type })
  test.each([
    [
      'a reference instead of an address',
      [register('Set', 40_001)],
      'warning',
      '"Set" has the address 40001, which looks like the reference of holding register 0: addresses count from 0.',
    ],
    [
      'the reference of an input register',
      [register('Level', 30_013, 'input-register')],
      'warning',
      'the reference of input register 12',
    ],
    [
      'one register twice',
      [register('Set', 9), register('Mode', 9)],
      'error',
      '"Mode" lies on holding register 9, where "Set" lies too.',
    ],
    [
      'half of a number twice',
      [register('Flow', 8, 'holding-register', 'float32'), register('Mode', 9)],
      'error',
      '"Mode" lies on holding register 9, where "Flow" lies too.',
    ],
    [
      'the same number in two tables',
      [register('Set', 9), register('Level', 9, 'input-register')],
      null,
      '',
    ],
  ])('%s', (_, registers, severity, says) => {
    const { problems } = read({
      ...sheet,
      head: {},
      slots: { count: 0 },
      modules: [],
      network: 'modbus',
      registers,
    })
    expect(problems.map((problem) => problem.severity)).toEqual(severity === null ? [] : [severity])
    expect(problems.map(({ message }) => message).join()).toContain(says)
  })

  test.each([
    ['switches of a style nobody knows', { switches: { style: 'lever' } }, 'switches.style'],
    [
      'weights that are none',
      { switches: { style: 'dip-weighted', weights: [] } },
      'switches.weights',
    ],
    [
      'an order of nibbles nobody knows',
      { slots: { count: 4, nibbles: { order: 'sideways' } } },
      'slots.nibbles.order',
    ],
  ])('%s are told with their path', (_, wrong, path) => {
    expect(read({ ...sheet, ...wrong }).problems).toContainEqual(
      expect.objectContaining({ code: 'sheet.value', message: expect.stringContaining(path) }),
    )
  })

  // CIP Vol. 1, App. C: instances over 255 take 16 bits.
  test('data sets become connections', () => {
    const made = read({
      ...sheet,
      network: 'ethernet-ip',
      dataSets: [
        {
          key: 'a',
          name: 'All',
          outputInstance: 101,
          outputBytes: 4,
          inputInstance: 300,
          inputBytes: 8,
          configInstance: 102,
        },
      ],
    }).file!.devices[0]!
    expect(made).toMatchObject({
      protocol: 'ethernet-ip',
      connections: [{ path: '20 04 24 66 2c 65 2d 00 2c 01', inputBytes: 8, outputBytes: 4 }],
    })
  })

  test('data never overlap and never leave a whole octet unused', () => {
    const item = fc.record({
      name: fc.constant('x'),
      type: fc.constantFrom(...(Object.keys(sheetTypes) as SheetType[])),
      count: fc.integer({ min: 1, max: 20 }),
    })
    fc.assert(
      fc.property(fc.array(item, { maxLength: 20 }), (data) => {
        const { items, bytes } = layOut(data)
        let end = 0
        for (const { offsetBits, bits } of items) {
          expect(offsetBits).toBeGreaterThanOrEqual(end)
          expect(offsetBits - end).toBeLessThan(8)
          end = offsetBits + bits
        }
        expect(bytes).toBe(Math.ceil(end / 8))
      }),
    )
  })
})

describe('a sheet with rules of place and a controller', () => {
  const placed: WrittenSheet = {
    ...sheet,
    network: 'local',
    placement: { widthMm: 60, requires: ['end'], maxBeforeExtension: 4 },
    controller: {
      inputBytes: 512,
      outputBytes: 256,
      interfaces: [
        { name: 'Port 1', kind: 'profinet', maxStations: 64 },
        { name: 'Serial', kind: 'modbus-rtu' },
      ],
    },
    modules: [{ key: 'end', name: 'End', placement: { lastOfKind: true, widthMm: 7.5 } }],
  }

  test('they reach the catalog, what is left out as nothing asked', () => {
    const { file, problems } = read(placed)
    expect(problems).toEqual([])
    expect(file!.devices[0]).toMatchObject({
      protocol: 'local',
      placement: { widthMm: 60, requires: ['end'], maxBeforeExtension: 4, fieldSupplyMa: 0 },
    })
    expect(file!.devices[0]).toMatchObject({
      sheet: {
        controller: {
          inputBytes: 512,
          outputBytes: 256,
          interfaces: [
            { kind: 'profinet', maxStations: 64 },
            { kind: 'modbus-rtu', maxStations: null },
          ],
        },
      },
    })
    expect(file!.modules[0]!.placement).toEqual({
      kind: '',
      widthMm: 7.5,
      firstOfKind: false,
      lastOfKind: true,
      nextToHead: false,
      requiresBefore: [],
      maxModules: null,
      maxAfterExtension: null,
      fieldCurrentMa: 0,
      fieldSupplyMa: 0,
    })
  })

  test.each([
    [
      'a network no plan knows',
      { controller: { ...placed.controller!, interfaces: [{ name: 'X', kind: 'token-bus' }] } },
      'controller.interfaces[0].kind',
    ],
    ['a negative width', { placement: { widthMm: -1 } }, 'placement.widthMm'],
    [
      'a kind with a blank',
      { modules: [{ key: 'a', name: 'A', placement: { kind: 'end module' } }] },
      'modules[0].placement.kind',
    ],
    [
      'a rule nobody knows',
      { modules: [{ key: 'a', name: 'A', placement: { lastOfAll: true } }] },
      'modules[0].placement',
    ],
  ])('%s is told with its path', (_, wrong, path) => {
    const { problems } = read({ ...placed, ...wrong })
    expect(problems).toContainEqual(
      expect.objectContaining({ code: 'sheet.value', message: expect.stringContaining(path) }),
    )
  })
})

describe('a device sheet with faults', () => {
  const written = JSON.stringify(sheet, null, 1)
  const lineOf = (text: string, part: string) =>
    text.slice(0, text.indexOf(part)).split('\n').length
  test.each([
    [
      'a type nobody knows',
      written.replace('"type": "int16"', '"type": "int17"'),
      'sheet.value',
      '"int17"',
    ],
    ['a key nobody knows', written.replace('"orderNumber"', '"oderNumber"'), 'sheet.value', '{'],
    ['no JSON', written.replace('"slots": {', '"slots": {,'), 'sheet.json', '{,'],
    ['cut off', written.slice(0, 300), 'sheet.json', null],
  ])('%s is refused with its line', (_, text, code, marker) => {
    const { file, problems } = read(text)
    expect(file).toBeNull()
    expect(problems[0]).toMatchObject({
      code,
      severity: 'error',
      line: marker === null ? expect.any(Number) : lineOf(text, marker),
    })
  })

  test.each([
    [
      'a key that stands twice',
      { ...sheet, modules: [sheet.modules![0], sheet.modules![0]] },
      'id.duplicate',
    ],
    [
      'a value behind the record',
      {
        ...sheet,
        head: {
          parameters: [
            { length: 1, parameters: [{ key: 'a', name: 'a', type: 'uint16', byte: 0 }] },
          ],
        },
      },
      'record.length',
    ],
  ])('%s is an error with its line', (_, value, code) => {
    const { file, problems } = read(value)
    expect(file).not.toBeNull()
    expect(problems).toMatchObject([{ code, line: expect.any(Number) }])
  })

  test('whatever is changed in it, reading neither crashes nor hangs', () => {
    fc.assert(
      fc.property(
        fc.nat(written.length - 1),
        fc.constantFrom('', '"', '{', ']', ',', '-1', '99999999999', 'null'),
        fc.nat(20),
        (at, put, cut) => {
          const { file, problems } = read(written.slice(0, at) + put + written.slice(at + cut))
          if (!file) expect(problems.some(({ severity }) => severity === 'error')).toBe(true)
        },
      ),
      { numRuns: 300 },
    )
  })
})
