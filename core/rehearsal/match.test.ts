import { describe, expect, test } from 'vitest'
import { matchDevices, type FoundDevice } from './match'
import type { PlannedStation } from './planned'

const module = (slot: number, ident: number) => ({ slot, ident, submodules: [] })
const planned: PlannedStation = {
  id: 's1',
  name: 'Intake',
  wireName: 'intake',
  ip: '10.0.0.2',
  mask: '255.255.255.0',
  vendorId: 1,
  deviceId: 2,
  vendor: 'TV',
  type: 'TV-1',
  modules: [module(0, 9), module(1, 10), module(2, 20), module(3, 30)],
  moduleNames: { 9: 'head', 10: 'DI', 20: 'DO', 30: 'AI' },
}
const asPlanned: FoundDevice = {
  mac: '02:00:00:00:00:01',
  name: 'intake',
  ip: '10.0.0.2',
  vendorId: 1,
  deviceId: 2,
  typeOfStation: 'TV-1',
  modules: planned.modules,
}
const nameless = { ...asPlanned, name: '', ip: '0.0.0.0' }

/** What is on the wire, how the station stands, and what is said about it. */
const cases: [string, FoundDevice[], string, [code: string, part: string][]][] = [
  ['everything as planned', [asPlanned], 'matched', []],
  ['nobody answers', [], 'missing', [['match.missing', 'Intake (TV-1) does not answer.']]],
  [
    'a device without a name',
    [nameless],
    'candidates',
    [['match.nameless', 'the TV-1 at 02:00:00:00:00:01 of that type has no name yet']],
  ],
  [
    'two devices without a name',
    [nameless, { ...nameless, mac: 'b' }],
    'candidates',
    [['match.nameless', '2 devices of that type have no name yet']],
  ],
  [
    'the name held twice',
    [asPlanned, { ...asPlanned, mac: 'b' }],
    'ambiguous',
    [['match.twice', '02:00:00:00:00:01 and b']],
  ],
  [
    'another address',
    [{ ...asPlanned, ip: '10.0.0.7' }],
    'matched',
    [['match.ip', 'has the address 10.0.0.7; planned is 10.0.0.2']],
  ],
  [
    'another type',
    [{ ...asPlanned, deviceId: 5, typeOfStation: 'Z' }],
    'matched',
    [['match.type', 'is a Z (vendor 0x1, device 0x5); planned is a TV-1']],
  ],
  [
    'two modules swapped',
    [{ ...asPlanned, modules: [module(0, 9), module(1, 20), module(2, 10), module(3, 30)] }],
    'matched',
    [['match.swapped', 'Slots 1 and 2 of Intake are swapped: DO stands in 1, DI in 2.']],
  ],
  [
    'a wrong module',
    [{ ...asPlanned, modules: [module(0, 9), module(1, 10), module(2, 77), module(3, 30)] }],
    'matched',
    [['match.wrong', 'Slot 2 of Intake holds unknown module 0x4d; planned is DO.']],
  ],
  [
    'an empty slot',
    [{ ...asPlanned, modules: planned.modules.slice(0, 3) }],
    'matched',
    [['match.missing', 'Slot 3 of Intake is empty; planned is AI.']],
  ],
  [
    'a module too many',
    [{ ...asPlanned, modules: [...planned.modules, module(4, 10)] }],
    'matched',
    [['match.surplus', 'Slot 4 of Intake holds DI; the plan has nothing there.']],
  ],
  [
    'a ring of three is no swap',
    [{ ...asPlanned, modules: [module(0, 9), module(1, 20), module(2, 30), module(3, 10)] }],
    'matched',
    [
      ['match.wrong', 'Slot 1'],
      ['match.wrong', 'Slot 2'],
      ['match.wrong', 'Slot 3'],
    ],
  ],
]

describe('found against planned', () => {
  test.each(cases)('%s', (_, found, state, findings) => {
    const {
      stations: [station],
      matched,
    } = matchDevices([planned], found)
    expect(station!.state).toBe(state)
    expect(station!.findings.map(({ code }) => code)).toEqual(findings.map(([code]) => code))
    findings.forEach(([, part], i) => expect(station!.findings[i]!.message).toContain(part))
    expect(matched).toBe(state === 'matched' && findings.length === 0 ? 1 : 0)
  })

  test('the nameless device with the right modules comes first', () => {
    const other = { ...nameless, mac: 'b', modules: [module(0, 9)] }
    expect(
      matchDevices([planned], [other, nameless]).stations[0]!.candidates.map(({ mac }) => mac),
    ).toEqual([nameless.mac, 'b'])
  })

  test.each([
    ['a stranger with a name', { ...asPlanned, name: 'other' }, 'other (TV-1)'],
    [
      'a nameless device of another type',
      { ...nameless, deviceId: 9, typeOfStation: 'Z' },
      'A nameless Z',
    ],
  ])('%s is not in the plan', (_, device, part) => {
    expect(
      matchDevices([planned], [asPlanned, device]).extra.map(({ finding }) => finding.message),
    ).toEqual([expect.stringContaining(part)])
  })
})
