import { describe, expect, test } from 'vitest'
import { derive } from '../../derive'
import { newPlan } from '../../exchange'
import { subslotsOf } from '../../placement'
import { doAll, insert, shelfCatalog } from '../../test/plans'
import {
  applyChanges,
  filesOfPlan,
  invert,
  wordRefusal,
  type Command,
  type Plan,
  type SingleCommand,
} from '../../plan/index'
import { applyCommand } from '..'

const gsdml = 'GSDML-V2.4-TarnVey-DoseGuard-20260210.xml'
const iodd = 'TarnVey-LevelEye-20260301-IODD1.1.xml'
const begin: SingleCommand[] = [
  { type: 'addController', id: 'k1', name: 'K1', inputBytes: 128, outputBytes: 64, aligned: true },
  {
    type: 'addNetwork',
    id: 'n1',
    controllerId: 'k1',
    name: 'N1',
    kind: 'profinet',
    settings: { controllerIp: '10.0.0.1' },
  },
  {
    type: 'addStation',
    id: 's1',
    networkId: 'n1',
    file: gsdml,
    device: 'DAP_F',
    name: 'dosing',
    comment: '',
  },
]
const start = (...more: Command[]) => doAll(newPlan('p', 'P'), shelfCatalog, ...begin, ...more)
const set = (
  subslot: number,
  submodule: string,
  below: { file?: string; device?: string; cycleUs?: number } = {},
): SingleCommand => ({
  type: 'setSubslot',
  moduleId: 's1.5',
  subslot,
  submodule,
  file: '',
  device: '',
  ...below,
})
const sensor = { file: iodd, device: '4098' }
const view = (plan: Plan) =>
  derive(plan, shelfCatalog)
    .stations.get('s1')!
    .modules.find(({ id }) => id === 's1.5')!
const tag = (subslot: number, offsetBits: number): SingleCommand => ({
  type: 'editSignals',
  edits: [{ id: 'x', place: { moduleId: 's1.5', subslot, direction: 'in', offsetBits }, tag: 'X' }],
})

describe('subslots', () => {
  test('a module comes with what its description proposes', () => {
    expect(view(start())).toMatchObject({
      plugged: { 2: { submodule: 'U_IN8' }, 5: { submodule: 'U_IN8' } },
      addresses: { 1: { in: 0 }, 2: { in: 1 }, 3: { in: 9 }, 4: { in: 17 }, 5: { in: 25 } },
    })
  })

  test('another submodule takes free bytes; the others keep theirs', () => {
    const { addresses, layout } = view(start(set(3, 'U_IN32')))
    expect(addresses).toEqual({
      1: { in: 0 },
      2: { in: 1 },
      3: { in: 33 },
      4: { in: 17 },
      5: { in: 25 },
    })
    expect(layout!.inputBytes).toBe(1 + 8 + 32 + 8 + 8)
  })

  test('an emptied subslot gives its bytes back', () => {
    const plan = start(set(3, ''))
    expect(view(plan).addresses[3]).toBeUndefined()
    expect(view(doAll(plan, shelfCatalog, set(3, 'U_IN8'))).addresses[3]).toEqual({ in: 9 })
  })

  // Octets of the 48 bits in the order in which they travel: level 2, temperature 2, quality 1,
  // switches 1; the file counts bits from the last octet.
  test('the device below a port gives its octets a meaning', () => {
    const channels = view(start(set(2, 'U_IN8', sensor))).layout!.channels.filter(
      ({ subslot }) => subslot === 2,
    )
    expect(channels.map(({ name, offsetBits, bits }) => [name, offsetBits, bits])).toEqual([
      ['Level in mm', 0, 16],
      ['Temperature in 0.1 degrees', 16, 16],
      ['Signal quality', 32, 8],
      ['Output 2', 41, 1],
      ['Output 1', 40, 1],
    ])
    expect(filesOfPlan(start(set(2, 'U_IN8', sensor)))).toEqual([gsdml, iodd])
  })

  // IODD specification 1.1, ProcessData with Condition (from memory): the variable that the
  // condition names picks the layout.
  test('its data follow from the value that picks their layout; what has no channel then waits for another', () => {
    const layout = (value: number | null): SingleCommand => ({
      type: 'setParameters',
      edits: [{ moduleId: 's1.5', record: '2p.64', parameter: 'V_Layout', value }],
    })
    const channelsOf = (plan: Plan) =>
      view(plan)
        .layout!.channels.filter(({ subslot }) => subslot === 2)
        .map(({ name, offsetBits, bits }) => [name, offsetBits, bits])
    const plan = start(set(2, 'U_IN8', sensor), tag(2, 16))
    const plain = doAll(plan, shelfCatalog, layout(0))
    expect(channelsOf(plain)).toEqual([
      ['Level in mm', 2, 14],
      ['Output 1', 8, 1],
    ])
    expect(plain.unplaced['x']).toMatchObject({ tag: 'X', place: null })
    expect(channelsOf(doAll(plain, shelfCatalog, layout(null)))).toEqual(channelsOf(plan))
    expect(
      subslotsOf(shelfCatalog, derive(plain, shelfCatalog).stations.get('s1')!, view(plain)).find(
        ({ subslot }) => subslot === 2,
      )!.data,
    ).toMatchObject({ inputBytes: 2 })
  })

  test('the cycle time of a port stays with its device and leaves with it', () => {
    const cycleOf = (plan: Plan) => view(plan).plugged[2]?.cycleUs
    const plan = start(set(2, 'U_IN8', { ...sensor, cycleUs: 6400 }))
    expect(cycleOf(plan)).toBe(6400)
    expect(cycleOf(doAll(plan, shelfCatalog, set(2, 'U_IN32', sensor)))).toBe(6400)
    expect(
      cycleOf(doAll(plan, shelfCatalog, set(2, 'U_IN8', { ...sensor, cycleUs: 0 }))),
    ).toBeUndefined()
    expect(
      cycleOf(doAll(plan, shelfCatalog, set(2, 'U_IN8'), set(2, 'U_IN8', sensor))),
    ).toBeUndefined()
  })

  test('a signal that loses its channel keeps its tag and waits for another', () => {
    const plan = start(set(2, 'U_IN8', sensor), tag(2, 16))
    const without = doAll(plan, shelfCatalog, set(2, 'U_IN8'))
    expect(without.unplaced['x']).toMatchObject({ tag: 'X', place: null })
    const applied = applyCommand(plan, shelfCatalog, set(2, 'U_IN8'))
    if (applied.ok) expect(applyChanges(applied.plan, invert(applied.changes))).toEqual(plan)
  })

  test('what stands in the subslots goes along with copies and with another type', () => {
    const plan = start(
      set(2, 'U_IN32', sensor),
      {
        type: 'copyStation',
        sourceId: 's1',
        networkId: 'n1',
        copies: [{ id: 's2', find: '', with: '' }],
      },
      { type: 'replaceModule', id: 's1.5', module: 'M_PORT' },
    )
    const wide = { submodule: 'U_IN32', file: iodd, device: '4098' }
    expect(plan.stations['s2']!.modules['s2.5']!.plugged[2]).toEqual(wide)
    expect(view(plan).plugged[2]).toEqual(wide)
  })

  test('an emptied subslot stays empty in a copy and with another type; subslots that are new get what is proposed', () => {
    const plan = start(set(3, ''), {
      type: 'copyStation',
      sourceId: 's1',
      networkId: 'n1',
      copies: [{ id: 's2', find: '', with: '' }],
    })
    expect(Object.keys(plan.stations['s2']!.modules['s2.5']!.plugged)).toEqual(['2', '4', '5'])
    expect(
      Object.keys(
        view(doAll(plan, shelfCatalog, { type: 'replaceModule', id: 's1.5', module: 'M_PORT' }))
          .plugged,
      ),
    ).toEqual(['2', '4', '5'])
    const fromOther = doAll(plan, shelfCatalog, insert('i', 6, 'M_FDI8'), {
      type: 'replaceModule',
      id: 'i',
      module: 'M_PORT',
    })
    expect(Object.keys(fromOther.stations['s1']!.modules['i']!.plugged)).toEqual([
      '2',
      '3',
      '4',
      '5',
    ])
  })

  test.each<[string, SingleCommand, string]>([
    [
      'a cycle time that no port has',
      set(2, 'U_IN8', { ...sensor, cycleUs: 6500 }),
      'the next is 6.8 ms',
    ],
    ['a subslot that is not there', set(9, 'U_IN8'), 'has no subslot 9; it has 2 3 4 5'],
    ['something else in the built-in one', set(1, 'U_IN8'), 'has no subslot 1'],
    ['a submodule not allowed there', set(2, 'S_PM'), 'does not take S_PM'],
    [
      'a file that is not there',
      set(2, 'U_IN8', { file: 'gone', device: '1' }),
      'is not on the Shelf',
    ],
    [
      'a device of another network',
      set(2, 'U_IN8', { file: gsdml, device: 'DAP_F' }),
      'speaks PROFINET; below a port stands an IO-Link device',
    ],
    ['an unknown device', set(2, 'U_IN8', { file: iodd, device: '1' }), 'no head module "1"'],
    [
      'a module that is gone',
      { ...set(2, ''), moduleId: 'gone' } as SingleCommand,
      'no longer in the plan',
    ],
  ])('refused: %s', (_, command, says) => {
    const applied = applyCommand(start(), shelfCatalog, command)
    expect(applied.ok ? '' : wordRefusal(applied.refusal)).toContain(says)
  })
})
