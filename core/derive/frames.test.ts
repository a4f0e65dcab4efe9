import { describe, expect, test } from 'vitest'
import { newPlan } from '../exchange'
import { doAll, insert, shelfCatalog, wholeDemo } from '../test/plans'
import { type SingleCommand } from '../plan'
import { channelsAtPlace, deviceNotationNames, deviceNotations } from './device-places'
import { channelAddress, derive } from './derive'
import { placeInFrames } from './frames'
import { gapBefore } from '../catalog/alignment'
import { cellsAt, fits, freePlace, memoryMap } from './memory-map'
import {
  kindNamed,
  logicalImage,
  requestsOf,
  stationFrame,
  type NetworkKindName,
} from '../protocols'

const { plan, catalog } = wholeDemo()
const demo = derive(plan, catalog)
const view = (id: string) => demo.stations.get(id)!
const build = (kind: NetworkKindName, file: string, device: string, ...more: SingleCommand[]) =>
  derive(
    doAll(
      newPlan('p', 'P'),
      shelfCatalog,
      {
        type: 'addController',
        id: 'k1',
        name: 'K1',
        inputBytes: 512,
        outputBytes: 512,
        aligned: true,
      },
      {
        type: 'addNetwork',
        id: 'n',
        controllerId: 'k1',
        name: 'N',
        kind,
        settings: kindNamed(kind).hasIp ? { controllerIp: '10.0.0.1' } : {},
      },
      { type: 'addStation', id: 's', networkId: 'n', file, device, name: 's', comment: '' },
      ...more,
    ),
    shelfCatalog,
  )

describe('the data of a station', () => {
  test.each([...demo.stations.keys()])(
    '%s: parts follow each other and add up to what travels',
    (id) => {
      const station = view(id)
      for (const direction of ['in', 'out'] as const) {
        const parts = stationFrame(station, direction)
        let end = 0
        for (const { offsetBytes, bytes } of parts) {
          expect(offsetBytes).toBe(end)
          end += bytes
        }
        const header = parts
          .filter(({ what }) => what === 'header')
          .reduce((sum, { bytes }) => sum + bytes, 0)
        const isProfinet = station.device?.protocol === 'profinet'
        expect(end - header).toBe(
          direction === 'in'
            ? isProfinet
              ? station.inputFrameBytes
              : station.inputBytes
            : isProfinet
              ? station.outputFrameBytes
              : station.outputBytes,
        )
      }
    },
  )

  // Each submodule's status stands behind its data, so the second module's data begin one octet
  // later (IEC 61158-6-10, from memory).
  test('on PROFINET a status octet stands behind each submodule’s data', () => {
    const data = stationFrame(view('intake-a'), 'in').filter(({ what }) => what === 'data')
    expect(data[1]!.offsetBytes - data[0]!.offsetBytes).toBe(data[0]!.bytes + 1)
  })

  // CIP Vol. 1, 3-6.1: four octets run/idle before the output data.
  test('on EtherNet/IP output data stand behind the run/idle header', () => {
    const station = build('ethernet-ip', 'Brackwater-BWEN.eds', 'BW-EN-1').stations.get('s')!
    expect(
      stationFrame(station, 'out').map(({ what, offsetBytes }) => [what, offsetBytes]),
    ).toEqual([
      ['header', 0],
      ['data', 4],
    ])
    const [module] = station.modules
    const channel = module!.layout!.channels.find(({ direction }) => direction === 'out')!
    expect(placeInFrames(station, module!, channel)).toEqual({
      station: 32 + channel.offsetBits,
      module: channel.offsetBits,
    })
  })

  // Common practice, the check values of slot-tables.test.ts in a whole plan.
  test('slots of a rack and nodes of a gateway stand in their head’s data', () => {
    const rack = build(
      'can-rack',
      'quillane-qx64.sheet.json',
      'QX-64',
      insert('m', 3, 'di16', 's'),
    ).stations.get('s')!
    expect([rack.inputBytes, rack.outputBytes]).toEqual([32, 32])
    const gate = build(
      'gateway',
      'tarnvey-node31.sheet.json',
      'TV-NG31',
      insert('m', 10, 'io22', 's'),
      insert('b', 105, 'di4', 's'),
    ).stations.get('s')!
    const at = (station: typeof gate, id: string) => {
      const module = station.modules.find((one) => one.id === id)!
      return channelAddress(module, module.layout!.channels[0]!)
    }
    expect(at(rack, 'm')).toMatchObject({ byte: 16, bit: 0 })
    // Node 10: word 2, bit 8, the word's second octet.
    expect(at(gate, 'm')).toMatchObject({ byte: 5, bit: 0 })
    // B nodes in a block of their own behind 16 octets: node 5B in word 1, bit 4.
    expect(at(gate, 'b')).toMatchObject({ byte: 16 + 2, bit: 4 })
    expect(gate.blocks).toHaveLength(2)
  })
})

test('an EtherCAT line’s logical image has every slave once, bits side by side', () => {
  const stations = demo.controllers
    .flatMap(({ networks }) => networks)
    .find(({ network }) => network.settings.kind === 'ethercat')!.stations
  const { parts, outputBytes, inputBytes, datagrams, workingCounter } = logicalImage(stations)
  const bits = parts
    .flatMap(({ in: input, out }) => [input, out])
    .flatMap((part) => (part ? Array.from({ length: part.bits }, (_, i) => part.bit + i) : []))
  expect(new Set(bits).size).toBe(bits.length)
  expect(Math.max(...bits)).toBeLessThan((outputBytes + inputBytes) * 8)
  expect(datagrams).toBe(1)
  // One for each slave that is read, two for each that is written (ETG.1000-4, from memory).
  expect(workingCounter).toBe(
    parts.filter((part) => part.in).length + 2 * parts.filter((part) => part.out).length,
  )
})

test('a meter’s registers travel in two requests, over gaps that may be read along', () => {
  expect(
    requestsOf(view('meter-1')).map(({ functionCode, start, count }) => [
      functionCode,
      start,
      count,
    ]),
  ).toEqual([
    [4, 0, 16],
    [16, 40, 2],
  ])
})

describe('places in a device', () => {
  // Its own data only: what a text names at one station may stand at another too.
  test.each([...demo.stations.keys()])('%s: every channel is found by what it is called', (id) => {
    const station = view(id)
    for (const module of station.modules) {
      for (const channel of module.layout?.channels ?? []) {
        for (const name of deviceNotationNames) {
          const text = deviceNotations[name]!.format(station, { module, channel })
          if (text !== null)
            expect(channelsAtPlace(station, text.toUpperCase().replace('0X', '0x'))).toContainEqual(
              { module, channel },
            )
        }
      }
    }
  })

  // Addresses count from 0 in the request, references from 1 (MODBUS Application Protocol V1.1b3,
  // 4.4).
  test('a Modbus device’s own words for its values', () => {
    const station = view('meter-1')
    const words = station.modules.flatMap((module) =>
      (module.layout?.channels ?? []).map((channel) =>
        deviceNotations['register']!.format(station, { module, channel }),
      ),
    )
    expect(words).toContain('input register 0 · 30001')
    expect(words.every((word) => word !== null)).toBe(true)
    expect(channelsAtPlace(station, 'input register 0')).toHaveLength(1)
  })

  test.each([
    ['intake-a', 'in 2/1 0.3', 1],
    ['ozone-io', 'assembly 101 0.0', 1],
    ['fill-di-1', '0x6000:01', 1],
    ['intake-a', 'P-101', 0],
    ['intake-a', '%IW12', 0],
  ])('at %s "%s" names %d', (id, text, count) =>
    expect(channelsAtPlace(view(id), text)).toHaveLength(count),
  )
})

describe('the memory map', () => {
  test.each(Object.keys(plan.controllers))(
    '%s: every channel with an address is drawn where it stands, once a bit',
    (controllerId) => {
      const map = memoryMap(demo, controllerId)!
      const drawn = new Map<string, number>()
      for (const side of [map.in, map.out]) {
        for (let byte = 0; byte < side.size; byte++) {
          const cells = cellsAt(side, byte)
          expect(cells.reduce((sum, { bits }) => sum + bits, 0)).toBeLessThanOrEqual(8)
          for (const { owner, channel, bits, clash } of cells) {
            expect(clash).toBeNull()
            if (channel) {
              const key = `${owner.module.id} ${channel.subslot} ${channel.direction} ${channel.offsetBits}`
              drawn.set(key, (drawn.get(key) ?? 0) + bits)
            }
          }
        }
      }
      const channels = demo.controllers
        .find(({ controller }) => controller.id === controllerId)!
        .networks.flatMap(({ stations }) =>
          stations.flatMap(({ modules }) =>
            modules.flatMap((module) =>
              (module.layout?.channels ?? []).map((channel) => ({ module, channel })),
            ),
          ),
        )
      for (const { module, channel } of channels)
        expect(
          drawn.get(`${module.id} ${channel.subslot} ${channel.direction} ${channel.offsetBits}`),
        ).toBe(channel.bits)
      expect(drawn.size).toBe(channels.length)
    },
  )

  // Against an exact search: every byte in turn, compared with every block.
  test.each([1, -1] as const)(
    'a block that is moved by %d goes to the nearest place that takes it',
    (step) => {
      const { in: side } = memoryMap(demo, 'k2')!
      for (const block of side.blocks) {
        const still = side.blocks.filter((other) => other !== block && !other.isInside)
        const from = (block.start >> 3) + step
        let exact: number | null = null
        for (let byte = from; exact === null && byte >= 0 && byte < side.size; byte += step)
          if (
            gapBefore(byte, block.block.align) === 0 &&
            fits(side, still, block, byte - (block.start >> 3))
          )
            exact = byte
        expect(freePlace(side, [block], from, step, true)).toBe(exact)
      }
    },
  )

  test('gaps lie between what is given out', () => {
    const { in: side } = memoryMap(demo, 'k2')!
    const taken = new Set(
      side.blocks.flatMap(({ start, bits }) =>
        Array.from({ length: Math.ceil(((start % 8) + bits) / 8) }, (_, i) => (start >> 3) + i),
      ),
    )
    expect(side.usedBytes).toBe(taken.size)
    const free = side.gaps.flatMap(({ byte, bytes }) =>
      Array.from({ length: bytes }, (_, i) => byte + i),
    )
    expect(free).toEqual(
      Array.from({ length: Math.max(...taken) }, (_, byte) => byte).filter(
        (byte) => !taken.has(byte),
      ),
    )
  })
})
