import { catalogFor } from '../catalog'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { applyChanges, type Command, type Plan, type RowChange } from '../plan'
import { demoPlan, doAll, insert, place, smallCatalog, smallPlan, wholeDemo } from '../test/plans'
import { planAddressRules, stationAddressRules } from './address-rules'
import { check, createChecker, rules, wordFinding } from './check'
import type { Finding } from './finding'
import { planDeviceRules, stationDeviceRules } from './device-rules'
import { powerRules } from './power-rules'
import { shareRules } from './share-rules'
import { segmentRules } from './segment-rules'
import { wireRules } from './wire-rules'
import { planLayoutRules, stationLayoutRules } from './layout-rules'
import { parameterRules } from './parameter-rules'
import { planSafetyRules, stationSafetyRules } from './safety-rules'
import { electricalRules } from './electrical-rules'
import { planSignalRules, stationSignalRules } from './signal-rules'
import { networkKindNames } from '../protocols'
import { applyCommand } from '../changing'

const second: Command = {
  type: 'addStation',
  id: 's2',
  networkId: 'n1',
  file: 'tv',
  device: 'DAP',
  comment: '',
}
const station = (set: object, id = 's1'): Command => ({ type: 'updateStation', id, set })
const good = [insert('a', 1, 'DI')]
const tag = (id: string, moduleId: string, offsetBits: number, text: string): Command => ({
  type: 'editSignals',
  edits: [{ id, place: place(moduleId, offsetBits), tag: text }],
})

/** Writes rows that no command would make, as an imported plan may hold them. */
function force(plan: Plan, ...rows: Omit<RowChange, 'before'>[]): Plan {
  return applyChanges(
    plan,
    rows.map((row) => ({ before: null, ...row }) as RowChange),
  )
}
const moduleRow = (id: string, slot: number, module: string, addresses = {}) => ({
  table: 'modules' as const,
  id,
  after: {
    id,
    stationId: 's1',
    slot,
    module,
    plugged: {},
    layouts: {},
    identity: null,
    feed: null,
    sendsEveryS: null,
    orders: {},
    values: {},
    iParameterSums: {},
    monitored: {},
    addresses,
  },
})

/** A plan for each rule that breaks it, the place the finding names, and a part of what it says. */
const cases: [code: string, plan: () => Plan, at: string, says: string][] = [
  [
    'project.empty',
    () => doAll(smallPlan(), smallCatalog, { type: 'removeStation', id: 's1' }),
    'P',
    'no station',
  ],
  [
    'file.missing',
    () =>
      force(smallPlan(...good), {
        table: 'stations',
        id: 's1',
        after: { ...smallPlan().stations['s1']!.station, file: 'gone' },
      }),
    'tv-1',
    'not on the Shelf',
  ],
  [
    'file.unknownKey',
    () => force(smallPlan(...good), moduleRow('b', 2, 'XX')),
    'tv-1 · slot 2',
    '"XX"',
  ],
  ['station.name', () => smallPlan(...good, station({ name: 'Pump House' })), 'Pump House', '"P"'],
  [
    'station.nameDuplicate',
    () => smallPlan(...good, second, insert('b', 1, 'DI', 's2'), station({ name: 'tv-1' }, 's2')),
    'tv-1',
    '2 stations',
  ],
  [
    'station.ip',
    () => smallPlan(...good, station({ settings: { ip: '10.0.1.5' } })),
    'tv-1',
    "outside the network's subnet",
  ],
  [
    'station.ip',
    () => smallPlan(...good, station({ settings: { ip: '10.0.0' } })),
    'tv-1',
    'is no IP address',
  ],
  [
    'station.ipDuplicate',
    () =>
      smallPlan(
        ...good,
        second,
        insert('b', 1, 'DI', 's2'),
        station({ settings: { ip: '10.0.0.2' } }, 's2'),
      ),
    'tv-2',
    'tv-1 already has',
  ],
  [
    'station.ipDuplicate',
    () => smallPlan(...good, station({ settings: { ip: '10.0.0.1' } })),
    'tv-1',
    'the controller on N1',
  ],
  [
    'station.deviceNumberDuplicate',
    () =>
      smallPlan(...good, second, insert('b', 1, 'DI', 's2'), station({ deviceNumber: 1 }, 's2')),
    'tv-2',
    'device number 1',
  ],
  [
    'station.number',
    () => smallPlan(...good, station({ deviceNumber: 5000 })),
    'tv-1',
    'device number 5000; on PROFINET it lies from 1 to 4096',
  ],
  [
    'network.controllerIpDuplicate',
    () =>
      smallPlan(
        ...good,
        {
          type: 'addController',
          id: 'k2',
          name: 'K2',
          inputBytes: 64,
          outputBytes: 64,
          aligned: true,
        },
        {
          type: 'addNetwork',
          id: 'n2',
          controllerId: 'k2',
          name: 'N2',
          kind: 'profinet',
          settings: { controllerIp: '10.0.0.1' },
        },
      ),
    'N2',
    'K2 has the IP address 10.0.0.1 on N2, which K1 has on N1',
  ],
  [
    'network.controllerIp',
    () =>
      smallPlan(...good, {
        type: 'updateNetwork',
        id: 'n1',
        set: { settings: { controllerIp: '10.0.0.255' } },
      }),
    'N1',
    '10.0.0.255',
  ],
  [
    'module.slot',
    () => force(smallPlan(...good), moduleRow('b', 4, 'DI')),
    'tv-1 · slot 4',
    'the description allows slots 1..3',
  ],
  [
    'module.slot',
    () => force(smallPlan(...good), moduleRow('b', 7, 'DI')),
    'tv-1 · slot 7',
    'no slot 7',
  ],
  ['station.empty', () => smallPlan(), 'tv-1', 'at least one'],
  [
    'station.dataLength',
    () => smallPlan(insert('a', 2, 'AO'), insert('b', 3, 'AO'), insert('c', 4, 'AO')),
    'tv-1',
    '12 bytes of output data; its head takes at most 8',
  ],
  [
    'controller.spare',
    () =>
      smallPlan(
        ...good,
        {
          type: 'editSignals',
          edits: Array.from({ length: 4 }, (_, i) => ({
            id: `x${i}`,
            place: place('a', i),
            tag: `X${i}`,
          })),
        },
        { type: 'setProject', set: { sparePercent: 90 } },
      ),
    'K1',
    '90 % are wanted',
  ],
  [
    'image.overlap',
    () =>
      smallPlan(insert('a', 1, 'DI'), insert('b', 2, 'DI'), {
        type: 'setAddress',
        moduleId: 'b',
        subslot: 1,
        direction: 'in',
        byte: 0,
      }),
    'tv-1 · slot 2',
    'share input byte 0',
  ],
  [
    'image.overrun',
    () =>
      smallPlan(...good, {
        type: 'setAddress',
        moduleId: 'a',
        subslot: 1,
        direction: 'in',
        byte: 64,
      }),
    'tv-1 · slot 1',
    'bytes 0 to 63',
  ],
  [
    'image.nearlyFull',
    () =>
      smallPlan(...good, insert('b', 2, 'DI'), {
        type: 'updateController',
        id: 'k1',
        set: { inputBytes: 2 },
      }),
    'K1',
    '2 of 2 input bytes',
  ],
  [
    'tag.illegal',
    () => smallPlan(...good, tag('x', 'a', 0, 'Pump 1')),
    'tv-1 · slot 1',
    '" " at position 5',
  ],
  [
    'tag.duplicate',
    () => smallPlan(...good, tag('x', 'a', 0, 'Pump'), tag('y', 'a', 1, 'PUMP')),
    'tv-1 · slot 1',
    'without regard to case',
  ],
  [
    'signal.noChannel',
    () =>
      force(smallPlan(...good), {
        table: 'signals',
        id: 'x',
        after: { id: 'x', place: place('a', 99), tag: 'X', comment: '', terminal: '', facts: {} },
      }),
    'tv-1 · slot 1',
    'no channel',
  ],
  [
    'signal.unplaced',
    () => smallPlan(...good, { type: 'editSignals', edits: [{ id: 'x', tag: 'X' }] }),
    'X',
    'no channel',
  ],
  ['channels.unnamed', () => smallPlan(...good), 'tv-1', '8 channels'],
]

const addressCodes = [
  ...stationAddressRules,
  ...planAddressRules,
  ...parameterRules,
  ...stationSafetyRules,
  ...planSafetyRules,
  ...stationSignalRules,
  ...planSignalRules,
  ...electricalRules,
].map(({ code }) => code)

/** Proved in the tests beside their lists. */
const placementRules = [
  'slot.gap',
  'station.userParameters',
  ...addressCodes,
  'station.fieldSupply',
  'module.order',
  'station.requires',
  'station.width',
  'module.subslot',
  'port.device',
  'port.cycle',
  'controller.image',
  'controller.interfaces',
  'network.stations',
  'network.packets',
]

describe('every rule', () => {
  test.each(cases)('%s', (code, plan, at, says) => {
    const found = check(derive(plan(), smallCatalog)).all.filter((finding) => finding.code === code)
    expect(found).toHaveLength(1)
    expect(found[0]!.at.words).toBe(at)
    expect(found[0]!.message).toContain(says)
  })

  test('slot.fixedEmpty, and its fix', () => {
    const { plan, catalog } = demoPlan()
    const row = plan.stations['screen-1']!.modules['screen-1.1']!
    const waiting = Object.values(plan.stations['screen-1']!.signals)
      .filter(({ place }) => place?.moduleId === row.id)
      .map((signal) => ({
        table: 'signals' as const,
        id: signal.id,
        before: signal,
        after: { ...signal, place: null },
      }))
    const emptied = applyChanges(plan, [
      { table: 'modules', id: row.id, before: row, after: null },
      ...waiting,
    ])
    const [finding] = check(derive(emptied, catalog)).all.filter(
      ({ code }) => code === 'slot.fixedEmpty',
    )
    expect(finding).toMatchObject({
      at: { words: 'Screen-1 · slot 1' },
      message: expect.stringContaining('fixes Station supply there'),
    })
    const mended = doAll(emptied, catalog, finding!.fixes()[0]!.command)
    expect(check(derive(mended, catalog)).all.map(({ code }) => code)).not.toContain(
      'slot.fixedEmpty',
    )
  })

  test('a description file with errors is told', () => {
    const file = smallCatalog.get('tv')!
    const catalog = new Map([
      [
        'tv',
        {
          ...file,
          problems: [
            {
              severity: 'error' as const,
              code: 'x',
              message: 'Something is wrong.',
              line: 7,
              column: 1,
            },
          ],
        },
      ],
    ])
    expect(check(derive(smallPlan(...good), catalog)).all).toContainEqual(
      expect.objectContaining({
        code: 'file.problems',
        message: expect.stringContaining('line 7: Something is wrong.'),
      }),
    )
  })

  // Limits that the small file does not state.
  test.each<
    [string, { currentMa?: number; modules?: number }, { currentMa?: number }, string, string]
  >([
    ['station.moduleCount', { modules: 1 }, {}, 'tv-1', '2 modules; its head takes at most 1'],
    [
      'station.supply',
      { currentMa: -100 },
      { currentMa: 60 },
      'tv-1 · slot 2',
      'gives 120 mA, but its supply only lasts for 100 mA',
    ],
  ])('%s, and its fix', (code, ofHead, ofModule, at, says) => {
    const file = smallCatalog.get('tv')!
    const devices = file.devices.map((device) => ({
      ...device,
      currentMa: ofHead.currentMa ?? null,
      limits: { ...device.limits, modules: ofHead.modules ?? null },
    }))
    const catalog = new Map([
      [
        'tv',
        { ...file, devices, modules: file.modules.map((module) => ({ ...module, ...ofModule })) },
      ],
    ])
    const plan = smallPlan(...good, insert('b', 2, 'DI'))
    const [finding, ...more] = check(derive(plan, catalog)).all.filter(
      (found) => found.code === code,
    )
    expect(more).toEqual([])
    expect(finding).toMatchObject({ at: { words: at }, message: expect.stringContaining(says) })
    expect(
      check(derive(doAll(plan, catalog, finding!.fixes()[0]!.command), catalog)).all.map(
        (found) => found.code,
      ),
    ).not.toContain(code)
  })

  test('each feed that does not last is told', () => {
    const file = smallCatalog.get('tv')!
    const currents: Record<string, number> = { DI: 120, AO: -100 }
    const catalog = new Map([
      [
        'tv',
        {
          ...file,
          devices: file.devices.map((device) => ({ ...device, currentMa: -100 })),
          modules: file.modules.map((module) => ({
            ...module,
            currentMa: currents[module.key] ?? 0,
          })),
        },
      ],
    ])
    const plan = smallPlan(insert('a', 1, 'DI'), insert('feed', 2, 'AO'), insert('b', 3, 'DI'))
    expect(
      check(derive(plan, catalog))
        .all.filter(({ code }) => code === 'station.supply')
        .map(({ at }) => at.words),
    ).toEqual(['tv-1 · slot 1', 'tv-1 · slot 3'])
  })

  test('stands in the table above', () => {
    expect(
      new Set([
        ...cases.map(([code]) => code),
        'file.problems',
        'slot.fixedEmpty',
        'station.moduleCount',
        'station.supply',
        'network.supply',
        ...placementRules,
        ...[
          ...stationLayoutRules,
          ...planLayoutRules,
          ...stationDeviceRules,
          ...planDeviceRules,
          ...wireRules,
          ...segmentRules,
          ...powerRules,
          ...shareRules,
        ].map(({ code }) => code),
      ]),
    ).toEqual(new Set(rules.map(({ code }) => code)))
  })

  // A fix that is offered must do away with its finding.
  test.each(cases)('what %s offers mends it', (code, plan) => {
    const broken = plan()
    for (const { code: found, at, fixes } of check(derive(broken, smallCatalog)).all) {
      if (found !== code) continue
      for (const { label, command } of fixes()) {
        const applied = applyCommand(broken, smallCatalog, command)
        expect(applied.ok, label).toBe(true)
        if (applied.ok)
          expect(
            check(derive(applied.plan, smallCatalog)).all.filter(
              (finding) => finding.code === code && finding.at.id === at.id,
            ),
            label,
          ).toEqual([])
      }
    }
  })

  test('a finding can be worded anew from its code, facts and place, also after a journey', () => {
    const { plan, catalog } = wholeDemo()
    const findings = check(derive(plan, catalog)).all
    expect(findings.length).toBeGreaterThan(30)
    for (const { code, facts, at, message } of findings) {
      expect(wordFinding({ code, facts, at })).toBe(message)
      const [told] = JSON.parse(JSON.stringify([{ code, facts, at }])) as Finding[]
      expect(wordFinding(told!)).toBe(message)
    }
  })

  test('the demo has five blockers and nine warnings', () => {
    const { plan, catalog } = wholeDemo()
    expect(new Set(Object.values(plan.networks).map(({ settings }) => settings.kind))).toEqual(
      new Set(networkKindNames),
    )
    const described = catalogFor(plan.project, catalog)
    expect(check(derive(plan, described))).toMatchObject({ blockers: 5, warnings: 9 })
  })
})

test('looking again only at what changed finds the same as looking at everything', () => {
  const names = fc.constantFrom('tv-1', 'tv-2', 'X')
  const step: fc.Arbitrary<Command> = fc.oneof(
    fc
      .record({
        id: fc.constantFrom('s1', 's2'),
        name: names,
        settings: fc.record({ ip: fc.constantFrom('10.0.0.2', '10.0.0.3', '10.0.0.1') }),
      })
      .map(({ id, name, settings }) => station({ name, settings }, id)),
    fc
      .record({
        id: fc.constantFrom('x', 'y'),
        offset: fc.nat(7),
        text: fc.constantFrom('', 'A', 'a', 'B b'),
      })
      .map(({ id, offset, text }) => tag(id, 'a', offset, text)),
    fc.constant<Command>({ type: 'removeModules', ids: ['a'] }),
    fc.constantFrom<Command>(insert('a', 1, 'DI'), insert('b', 2, 'AO'), second, {
      type: 'removeStation',
      id: 's2',
    }),
    fc.nat(70).map((byte): Command => ({
      type: 'setAddress',
      moduleId: 'a',
      subslot: 1,
      direction: 'in',
      byte,
    })),
    fc.constantFrom<Command>(
      { type: 'updateController', id: 'k1', set: { inputBytes: 8 } },
      { type: 'updateController', id: 'k1', set: { byteOrder: 'little' } },
      { type: 'updateNetwork', id: 'n1', set: { cable: 'c' } },
      { type: 'setProject', set: { packsBits: true } },
      { type: 'repack', controllerId: 'k1' },
      { type: 'updateNetwork', id: 'n1', set: { settings: { controllerIp: '10.0.0.7' } } },
    ),
  )
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
      const remembering = createChecker()
      let plan = smallPlan(...good)
      for (const command of steps) {
        const applied = applyCommand(plan, smallCatalog, command)
        if (applied.ok) plan = applied.plan
        const derived = derive(plan, smallCatalog)
        const sentences = (all: readonly { code: string; message: string }[]) =>
          all.map(({ code, message }) => `${code}: ${message}`).sort()
        expect(sentences(remembering(derived).all)).toEqual(sentences(check(derived).all))
      }
    }),
    { numRuns: 100 },
  )
})
