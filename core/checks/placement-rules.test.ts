import { kindNamed } from '../protocols'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { newPlan } from '../exchange'
import { applyChanges, type Command, type Plan, type SingleCommand } from '../plan'
import { doAll, insert, shelfCatalog } from '../test/plans'
import { check } from './check'
import { applyCommand } from '../changing'

const rack: SingleCommand[] = [
  {
    type: 'addController',
    id: 'k1',
    name: 'K1',
    inputBytes: 1024,
    outputBytes: 256,
    aligned: true,
  },
  {
    type: 'addNetwork',
    id: 'n0',
    controllerId: 'k1',
    name: 'Rack',
    kind: 'local',
  },
  {
    type: 'addStation',
    id: 's1',
    networkId: 'n0',
    file: 'quillane-qc200.sheet.json',
    device: 'QC-201',
    name: 'rack',
    comment: '',
  },
]
/** The rack with these modules from slot 1 on. */
const standing = (...keys: string[]) =>
  doAll(
    newPlan('p', 'P'),
    shelfCatalog,
    ...rack,
    ...keys.map((key, i) => insert(`m${i + 1}`, i + 1, key)),
  )
const master: SingleCommand[] = [
  {
    type: 'addController',
    id: 'k1',
    name: 'K1',
    inputBytes: 1024,
    outputBytes: 256,
    aligned: true,
  },
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
    file: 'GSDML-V2.4-TarnVey-DoseGuard-20260210.xml',
    device: 'DAP_F',
    name: 'dosing',
    comment: '',
  },
]
const sensor = { file: 'TarnVey-LevelEye-20260301-IODD1.1.xml', device: '4098' }
const onPort = (...more: Command[]) => doAll(newPlan('p', 'P'), shelfCatalog, ...master, ...more)
/** Writes what no command would, as an imported plan may hold it. */
const plugged = (parts: object): Plan => {
  const plan = onPort()
  const row = plan.stations['s1']!.modules['s1.5']!
  return applyChanges(plan, [
    {
      table: 'modules',
      id: 's1.5',
      before: row,
      after: { ...row, plugged: { ...row.plugged, ...parts } },
    },
  ])
}
/** A PROFIBUS station with modules in slots. */
const bus = (...modules: [slot: number, module: string][]) =>
  doAll(
    newPlan('p', 'P'),
    shelfCatalog,
    {
      type: 'addController',
      id: 'k1',
      name: 'K1',
      inputBytes: 256,
      outputBytes: 256,
      aligned: false,
    },
    {
      type: 'addNetwork',
      id: 'dp',
      controllerId: 'k1',
      name: 'dp',
      kind: 'profibus',
    },
    {
      type: 'addStation',
      id: 's1',
      networkId: 'dp',
      file: 'BRCK0F31.gsd',
      device: 'BW-DP Head',
      name: 'bus',
      comment: '',
    },
    ...modules.map(([slot, module]) => insert(`s1.${slot}`, slot, module)),
  )
const network = (id: string, kind: 'profinet' | 'modbus-rtu' | 'ethernet-ip'): SingleCommand => ({
  type: 'addNetwork',
  id,
  controllerId: 'k1',
  name: id,
  kind,
  settings: kindNamed(kind).hasIp ? { controllerIp: '10.0.0.1' } : {},
})
const meter = (id: string): SingleCommand => ({
  type: 'addStation',
  id,
  networkId: 'rtu',
  file: 'ostrel-wellmeter.sheet.json',
  device: 'OD-WM3',
  comment: '',
})

/** A plan for each rule that breaks it, where the finding stands and a part of what it says. The
 *  rules are common practice of modular stations. */
const cases: [code: string, what: string, plan: () => Plan, at: string, says: string][] = [
  [
    'module.order',
    'inputs before any supply',
    () => standing('di16', 'supply', 'end'),
    'rack · slot 1',
    '16 digital inputs needs a module of the kind "supply" before it',
  ],
  [
    'module.order',
    'something behind the end module',
    () => standing('supply', 'end', 'di16'),
    'rack · slot 2',
    'End module has to stand behind 16 digital inputs',
  ],
  [
    'module.order',
    'communication away from the head',
    () => standing('supply', 'serial', 'end'),
    'rack · slot 2',
    'Serial interface has to stand next to the head; Supply 24 V, 3 A is between them',
  ],
  [
    'module.order',
    'one more than a station takes',
    () => standing('serial', 'serial', 'supply', 'end'),
    'rack · slot 2',
    'at most 1 of Serial interface',
  ],
  [
    'module.order',
    'a seventh module without an extension',
    () => standing('supply', 'di16', 'di16', 'di16', 'di16', 'di16', 'di16', 'end'),
    'rack · slot 7',
    '6 modules, then an extension',
  ],
  [
    'station.requires',
    'no end module',
    () => standing('supply', 'di16'),
    'rack',
    'no module of the kind "end"',
  ],
  [
    'station.fieldSupply',
    'too much in a potential group',
    () => standing('supply', 'do16', 'do16', 'end'),
    'rack · slot 3',
    'draws 3200 mA, but the field supply of the group lasts for 3000 mA',
  ],
  [
    'station.width',
    'a rail that is too short',
    () =>
      doAll(standing('supply', 'di16', 'end'), shelfCatalog, {
        type: 'updateStation',
        id: 's1',
        set: { railMm: 160 },
      }),
    'rack',
    '162 mm wide; its rail has 160 mm',
  ],
  [
    'station.width',
    'the rail of the project',
    () =>
      doAll(standing('supply', 'di16', 'end'), shelfCatalog, {
        type: 'setProject',
        set: { railMm: 100 },
      }),
    'rack',
    'its rail has 100 mm',
  ],
  [
    'controller.image',
    'more than the controller has',
    () =>
      doAll(standing('supply', 'di16', 'end'), shelfCatalog, {
        type: 'updateController',
        id: 'k1',
        set: { inputBytes: 5000 },
      }),
    'K1',
    '5000 input bytes; QC-200 has 4096',
  ],
  [
    'controller.interfaces',
    'two networks on one interface',
    () =>
      doAll(
        standing('supply', 'end'),
        shelfCatalog,
        network('a', 'profinet'),
        network('b', 'profinet'),
      ),
    'K1',
    '2 PROFINET networks; QC-200 has one interface',
  ],
  [
    'network.stations',
    'more stations than the interface takes',
    () =>
      doAll(
        standing('supply', 'end'),
        shelfCatalog,
        network('rtu', 'modbus-rtu'),
        ...Array.from({ length: 33 }, (_, i) => meter(`w${i}`)),
      ),
    'rtu',
    '33 stations; its interface of QC-200 takes at most 32',
  ],
  [
    'network.packets',
    'more packets than the interface takes',
    () =>
      doAll(
        standing('supply', 'end'),
        shelfCatalog,
        network('skid', 'ethernet-ip'),
        ...['e1', 'e2', 'e3'].map((id): SingleCommand => ({
          type: 'addStation',
          id,
          networkId: 'skid',
          file: 'Brackwater-BWEN.eds',
          device: 'BW-EN-1',
          connection: 'Connection2',
          comment: '',
          settings: { inputIntervalUs: 1000, outputIntervalUs: 1000 },
        })),
      ),
    'skid',
    'skid has 6000 packets a second; its interface of QC-200 takes 5000.',
  ],
  [
    'slot.gap',
    'an empty slot before a module',
    () => bus([1, '1'], [3, '2']),
    'bus · slot 2',
    'Slot 2 of bus is empty, and a module stands behind it in slot 3',
  ],
  [
    'slot.gap',
    'the first slot empty',
    () => bus([2, '1'], [3, '2']),
    'bus · slot 1',
    'Slot 1 of bus is empty',
  ],
  [
    'station.userParameters',
    'more than Max_User_Prm_Data_Len',
    () => bus(...Array.from({ length: 16 }, (_, i): [number, string] => [i + 1, '10'])),
    'bus',
    'octets of user parameters; its description allows (Max_User_Prm_Data_Len) at most 120',
  ],
  [
    'module.subslot',
    'what a subslot does not take',
    () => plugged({ 2: { submodule: 'U_NONE', file: '', device: '' } }),
    'dosing · slot 5',
    'Subslot 2 at dosing · slot 5 holds U_NONE',
  ],
  [
    'port.device',
    'a device whose file is gone',
    () => plugged({ 2: { submodule: 'U_IN8', file: 'gone', device: '1' } }),
    'dosing · slot 5',
    'its description file is not on the Shelf',
  ],
  [
    'port.cycle',
    'a cycle shorter than the device needs',
    () =>
      onPort({
        type: 'setSubslot',
        moduleId: 's1.5',
        subslot: 2,
        submodule: 'U_IN8',
        ...sensor,
        cycleUs: 2000,
      }),
    'dosing · slot 5',
    'is planned with a cycle of 2 ms; Level sensor LevelEye needs 3 ms at least',
  ],
  [
    'port.device',
    'a device wider than its port',
    () => plugged({ 1: { submodule: '', ...sensor } }),
    'dosing · slot 5',
    'LevelEye below subslot 1 at dosing · slot 5 does not work there: it has 6 bytes in, the port 1 byte in',
  ],
]

describe('placement rules', () => {
  test.each(cases)('%s: %s', (code, _what, plan, at, says) => {
    const [found, ...more] = check(derive(plan(), shelfCatalog)).all.filter(
      (finding) => finding.code === code,
    )
    expect(more).toEqual([])
    expect(found).toMatchObject({
      severity: 'blocker',
      at: { words: at },
      message: expect.stringContaining(says),
    })
  })

  test.each(cases)('what %s offers mends it: %s', (code, _what, plan) => {
    const broken = plan()
    const [found] = check(derive(broken, shelfCatalog)).all.filter(
      (finding) => finding.code === code,
    )
    for (const { label, command } of found!.fixes()) {
      const applied = applyCommand(broken, shelfCatalog, command)
      expect(applied.ok, label).toBe(true)
      if (applied.ok)
        expect(
          check(derive(applied.plan, shelfCatalog)).all.filter(
            (finding) => finding.code === code && finding.message === found!.message,
          ),
          label,
        ).toEqual([])
    }
  })

  test('a rack in order has none of them', () => {
    const codes = check(
      derive(standing('serial', 'supply', 'di16', 'do16', 'ai4', 'end'), shelfCatalog),
    ).all.map(({ code }) => code)
    expect(codes.filter((code) => cases.some(([one]) => one === code))).toEqual([])
  })

  test.each([
    [
      'an extension makes room',
      ['supply', 'di16', 'di16', 'di16', 'di16', 'extension', 'di16', 'di16', 'end'],
      [],
    ],
    ['a second feed begins a new group', ['supply', 'do16', 'supply', 'do16', 'end'], []],
  ] as const)('%s', (_, keys, expected) => {
    const found = check(derive(standing(...keys), shelfCatalog)).all.filter(
      ({ severity, code }) => severity === 'blocker' && code !== 'station.requires',
    )
    expect(found.map(({ code }) => code)).toEqual(expected)
  })
})
