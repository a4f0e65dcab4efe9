import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { derive, recordsOnWire } from '../derive'
import { wordRefusal, type Plan } from '../plan'
import { sdoDownload, startUpList } from '../protocols/ethercat/start-up'
import { ioList } from '../exchange'
import { doAll, wholeDemo } from '../test/plans'
import { portModeOf, portNumberIn, toHex, type PortMode } from '../vocabulary'
import { applyCommand } from '../changing'
import { portMode, switchOffUnused } from './port-modes'
import { subslotsOf } from './ports'

const { plan, catalog } = wholeDemo()
const at = (now: Plan, id: string) => {
  const derived = derive(now, catalog)
  for (const view of derived.stations.values()) {
    const module = view.modules.find((one) => one.id === id)
    if (module) {
      const ports = subslotsOf(derived.catalog, view, module)
      const modeOf = (port: number) =>
        portMode(
          derived.catalog,
          view,
          module,
          ports.find(({ subslot }) => subslot === port)!,
        )
      return { derived, view, module, ports, modeOf }
    }
  }
  throw new Error(`${id} is not in the plan`)
}
const modes = (now: Plan, id: string) => {
  const { ports, modeOf } = at(now, id)
  return ports.map(({ subslot }) => modeOf(subslot).mode)
}
/** The plan with a port in another mode. */
const withMode = (now: Plan, id: string, port: number, mode: PortMode) =>
  doAll(
    now,
    catalog,
    at(now, id)
      .modeOf(port)
      .uses.find((use) => use.mode === mode)!.command,
  )

test.each<[string, PortMode | null]>([
  ['IO-Link', 'device'],
  ['IO-Link autostart', 'auto'],
  ['Inactive', 'off'],
  ['deactivated', 'off'],
  ['Digital input', 'in'],
  ['digital output', 'out'],
  ['DI', 'in'],
  ['DQ', 'out'],
  ['10 ms', null],
])('%j means %s', (text, mode) => expect(portModeOf(text)).toBe(mode))
test.each([
  ['Port 3 inputs', 3],
  ['Mode of port 12', 12],
  ['IO-Link Ch.2', 2],
  ['Portal', null],
  ['Report 7', null],
])('%j is about port %s', (text, port) => expect(portNumberIn(text)).toBe(port))

describe('ports of three networks', () => {
  test('stand in subslots, in an EtherCAT terminal’s PDOs and in an assembly', () => {
    expect(at(plan, 'dosing-2.5').ports.map(({ key }) => key)).toContain('2')
    expect(
      at(plan, 'fill-ports').ports.map(({ key, size, within }) => [key, size, within]),
    ).toEqual(
      [0, 1, 2, 3].map((i) => [
        `p${i + 1}`,
        { inputBytes: 8, outputBytes: 8 },
        { in: 64 * i, out: 64 * i },
      ]),
    )
    // Two octets of state and two of filler, then sixteen a port; the description names none of them.
    expect(at(plan, 'ozone-ports').ports.map(({ within }) => within)).toEqual(
      [0, 1, 2, 3].map((i) => ({ in: 32 + 128 * i, out: 128 * i })),
    )
  })
  test('have their mode by what is plugged, a dictionary object or the configuration', () => {
    expect(modes(plan, 'fill-ports')).toEqual(['device', 'device', 'in', 'off'])
    expect(modes(plan, 'ozone-ports')).toEqual(['device', 'device', 'device', 'device'])
    expect(modes(plan, 'dosing-2.5').slice(1, 3)).toEqual(['device', 'device'])
  })
  test.each<[string, number, PortMode, string]>([
    ['ozone-ports', 3, 'in', '02'],
    ['ozone-ports', 4, 'auto', '04'],
    ['fill-ports', 4, 'out', '02 00'],
  ])('%s: port %s as %s is sent as %s', (id, port, mode, octets) =>
    expect(toHex(at(withMode(plan, id, port, mode), id).modeOf(port).parameter!.octets)).toBe(
      octets,
    ),
  )
  test('a mode of a dictionary is a start-up line, sent as CoE download', () => {
    const { view } = at(withMode(plan, 'fill-ports', 4, 'auto'), 'fill-ports')
    const lines = startUpList(view, recordsOnWire(view, catalog))
    expect(
      lines.map(({ transition, index, subindex, data }) => [transition, index, subindex, data]),
    ).toEqual([
      ['PS', 0x8020, 1, '01 00'],
      ['PS', 0x8030, 1, '04 00'],
    ])
    // Expedited, two octets (ETG.1000.6, from memory).
    expect(toHex(sdoDownload(lines[1]!))).toBe('00 20 2b 30 80 01 04 00 00 00')
  })
  test('what may be written before the outputs travel goes in that transition', () => {
    const now = doAll(plan, catalog, {
      type: 'setParameters',
      edits: [{ moduleId: 'fill-ports', record: 'd.32768:3', parameter: 'value', value: 25 }],
    })
    const { view } = at(now, 'fill-ports')
    expect(startUpList(view, recordsOnWire(view, catalog)).at(-1)).toMatchObject({
      transition: 'SO',
      index: 0x8000,
      data: '19 00',
    })
  })
  test.each([
    [2000, 'Input filter is 2000; 0..1000 is allowed.'],
    [-1, '0..1000 is allowed.'],
  ])('a value of %s that the dictionary does not allow is refused', (value, says) => {
    const applied = applyCommand(plan, catalog, {
      type: 'setParameters',
      edits: [{ moduleId: 'fill-ports', record: 'd.32768:3', parameter: 'value', value }],
    })
    expect(applied.ok ? '' : wordRefusal(applied.refusal)).toContain(says)
  })
  test('unused ones are switched off in one step, and used ones stay', () => {
    const { derived, view, module, ports } = at(plan, 'ozone-ports')
    const off = switchOffUnused(derived.catalog, view, module, ports)
    expect(modes(doAll(plan, catalog, ...off), 'ozone-ports')).toEqual([
      'device',
      'device',
      'off',
      'off',
    ])
  })
  test('a device below a port has its parameters under the port', () => {
    const now = doAll(plan, catalog, {
      type: 'setParameters',
      edits: [{ moduleId: 'ozone-ports', record: 'p1p.70', parameter: 'V_Damping', value: 1000 }],
    })
    const { view } = at(now, 'ozone-ports')
    expect(recordsOnWire(view, catalog).find(({ key }) => key === 'p1p.70')!.bytes).toEqual(
      Uint8Array.from([0x03, 0xe8]),
    )
  })
  test('the I/O list names the device below, wherever the port’s octets stand', () => {
    const below = ioList(derive(plan, catalog)).filter(
      ({ station, port }) =>
        port !== '' && ['dosing-2', 'fill-ports', 'ozone-ports'].includes(station),
    )
    expect([...new Set(below.map(({ station, port }) => `${station} ${port}`))]).toEqual([
      'dosing-2 Level sensor LevelEye',
      'fill-ports Level sensor LevelEye',
      'ozone-ports Level sensor LevelEye',
      'ozone-ports Valve island with 8 valves',
    ])
  })
  test('the demo’s ports are without a blocker', () => {
    const own = check(derive(plan, catalog)).all.filter(
      ({ at: { stationId }, severity }) =>
        severity === 'blocker' && ['fill-ports', 'ozone-ports'].includes(stationId ?? ''),
    )
    expect(own.map(({ message }) => message)).toEqual([])
  })
})
