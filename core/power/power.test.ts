import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Catalog } from '../catalog'
import { applyCommand } from '../changing'
import { check } from '../checks'
import { derive } from '../derive'
import { newPlan } from '../exchange'
import { wordRefusal, type Command, type Feed, type Plan } from '../plan'
import { begin, doAll, readText, shelfCatalog, smallCatalog } from '../test/plans'
import {
  crossSections,
  ohmPerKm,
  powerReport,
  suppliesOf,
  voltageDrop,
  whatIfReport,
  wordConsumer,
} from '.'

/** A rack with a module that feeds a potential group, and a head with two inputs. */
const rack = JSON.stringify({
  kataxisSheet: 2,
  maker: 'TarnVey',
  name: 'Rack',
  orderNumber: 'R1',
  network: 'can-rack',
  slots: { count: 4 },
  power: { currentMa: 500, inrushMa: 1200, second: true },
  modules: [
    {
      key: 'feed',
      name: 'Feed',
      placement: { widthMm: 10, kind: 'supply', fieldSupplyMa: 6000 },
      inputs: [],
      outputs: [],
    },
    {
      key: 'do',
      name: 'DO 2',
      placement: { widthMm: 10, fieldCurrentMa: 30 },
      inputs: [],
      outputs: [0, 1].map((n) => ({ name: `Output ${n}`, type: 'bit' })),
    },
  ],
})
const rackFile = readText(rack, 'rack.sheet.json')
const catalog: Catalog = new Map([
  ...smallCatalog,
  ...shelfCatalog,
  ...(rackFile.file ? [['rack', rackFile.file] as const] : []),
])

const supply = (id: string): Command => ({
  type: 'addStation',
  id,
  networkId: 'sup',
  file: 'tarnvey-supply5.sheet.json',
  device: 'TV-PS5',
  name: id,
  comment: '',
})
const feed = (node: string, from: string, more: Partial<Feed> = {}, second?: true): Command => ({
  type: 'setFeeds',
  edits: [{ at: { node, ...(second && { second }) }, set: { from, ...more } }],
})
const base = doAll(
  newPlan('p', 'P'),
  catalog,
  ...begin,
  { type: 'addNetwork', id: 'sup', controllerId: 'k1', name: 'Supplies', kind: 'passive' },
  { type: 'addNetwork', id: 'can', controllerId: 'k1', name: 'Racks', kind: 'can-rack' },
  supply('g1'),
  supply('g2'),
  {
    type: 'addStation',
    id: 'r1',
    networkId: 'can',
    file: 'rack',
    device: 'R1',
    name: 'r1',
    comment: '',
  },
  { type: 'insertModule', id: 'r1.1', stationId: 'r1', slot: 1, module: 'feed', shift: false },
  { type: 'insertModule', id: 'r1.2', stationId: 'r1', slot: 2, module: 'do', shift: false },
  {
    type: 'editSignals',
    edits: [0, 1].map((i) => ({
      id: `v${i}`,
      place: { moduleId: 'r1.2', subslot: 1, direction: 'out' as const, offsetBits: i },
      tag: `VALVE_${i}`,
      facts: { kind: 'DO' as const, loadMa: 400, inrushMa: 900 },
    })),
  },
)
const after = (...commands: Command[]): Plan => doAll(base, catalog, ...commands)
const supplies = (plan: Plan) => suppliesOf(derive(plan, catalog))
const findings = (plan: Plan) =>
  check(derive(plan, catalog)).all.filter(({ code }) => /^(supply|feed)\./.test(code))

test('the sheet of the rack is read whole', () => expect(rackFile.problems).toEqual([]))

describe('voltage along a cable', () => {
  test('30 m of 1.5 mm², flexible, at 2 A take 1.60 V (hand-worked, 13.3 Ω/km by IEC 60228)', () =>
    expect(voltageDrop(30, ohmPerKm(1.5, true)!, 2000)).toBeCloseTo(1.596, 9))

  // IEC 60364-5-52, annex G: u = b · ρ1 · L / S · I with b = 2, from memory. ρ1 at 20 °C is
  // 0.018 Ω·mm²/m, at the temperature in service 0.0225.
  test.each(crossSections)('%s mm² lies where IEC 60364-5-52 has it', (mm2) => {
    const byRule = (resistivity: number) => (2 * resistivity * 30 * 2) / mm2
    const ours = voltageDrop(30, ohmPerKm(mm2, false)!, 2000)
    expect(ours).toBeGreaterThanOrEqual(byRule(0.018) * 0.999)
    expect(ours).toBeLessThan(byRule(0.0225))
  })

  // The best copper that is sold has 1/58 Ω·mm²/m (IEC 60028): no conductor can have less.
  test.each(crossSections.flatMap((mm2) => [true, false].map((flexible) => ({ mm2, flexible }))))(
    '$mm2 mm² (flexible: $flexible) resists more than pure copper does',
    ({ mm2, flexible }) => expect(ohmPerKm(mm2, flexible)!).toBeGreaterThan(1000 / 58 / mm2),
  )

  test('it grows with length and current alike, and falls with the cross-section', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 500, noNaN: true }),
        fc.integer({ min: 1, max: 20_000 }),
        fc.boolean(),
        (lengthM, currentMa, flexible) => {
          const drops = crossSections.map((mm2) =>
            voltageDrop(lengthM, ohmPerKm(mm2, flexible)!, currentMa),
          )
          expect(drops.toSorted((a, b) => b - a)).toEqual(drops)
          expect(voltageDrop(2 * lengthM, 10, currentMa)).toBeCloseTo(
            voltageDrop(lengthM, 10, 2 * currentMa),
            6,
          )
        },
      ),
    ))
})

describe('what hangs on a supply', () => {
  test.each<[string, Command[], number, number]>([
    ['a head', [feed('r1', 'g1')], 500, 1200],
    [
      'both inputs of a head, each with all of it',
      [feed('r1', 'g1'), feed('r1', 'g1', {}, true)],
      1000,
      2400,
    ],
    ['a group with its module and the loads of its outputs', [feed('r1.1', 'g1')], 830, 1830],
    ['a head and a group', [feed('r1', 'g1'), feed('r1.1', 'g1')], 1330, 3030],
    ['what somebody says instead', [feed('r1', 'g1', { currentMa: 700 })], 700, 700],
    [
      'with what it takes while it starts',
      [feed('r1', 'g1', { currentMa: 700, inrushMa: 900 })],
      700,
      900,
    ],
  ])('%s', (_, commands, usedMa, inrushMa) =>
    expect(supplies(after(...commands))[0]).toMatchObject({ usedMa, inrushMa }),
  )

  test('the weakest has the least voltage to spare while all start', () => {
    const [one] = supplies(
      after(
        feed('r1', 'g1', { lengthM: 10, mm2: 1.5 }),
        feed('r1.1', 'g1', { lengthM: 60, mm2: 1.5 }),
      ),
    )
    expect(wordConsumer(one!.weakest!)).toBe('group from slot 1')
    expect(one!.fed.map(({ volts }) => volts?.toFixed(3))).toEqual(['23.867', '22.675'])
  })

  test('a copy hangs where its original does, group and all', () => {
    const plan = after(feed('r1', 'g1'), feed('r1.1', 'g2'), {
      type: 'copyStation',
      sourceId: 'r1',
      networkId: 'can',
      copies: [{ id: 'r2', name: 'r2', find: 'VALVE', with: 'LAMP' }],
    })
    expect(
      powerReport(derive(plan, catalog)).map(({ stations, usedMa }) => [stations, usedMa]),
    ).toEqual([
      [['r1', 'r2'], 1000],
      [['r1', 'r2'], 1660],
    ])
  })
})

/** What is done, the codes that are found then, and the first fix of the first. */
describe('findings', () => {
  test.each<[string, Command[], string[], string | null]>([
    ['nothing on a supply', [], [], null],
    ['all well', [feed('r1', 'g1', { lengthM: 5, mm2: 1.5 })], [], null],
    ['more than it gives', [feed('r1', 'g1', { currentMa: 5200 })], ['supply.overload'], null],
    ['just what it gives', [feed('r1', 'g1', { currentMa: 5000 })], ['supply.reserve'], null],
    ['more while all start', [feed('r1', 'g1', { inrushMa: 7600 })], ['supply.start'], null],
    [
      'too long a cable',
      [feed('r1', 'g1', { currentMa: 3000, lengthM: 60, mm2: 1.5 })],
      ['feed.volts'],
      'Use 2.5 mm²',
    ],
    [
      'too long for its start',
      [feed('r1', 'g1', { lengthM: 150, mm2: 1.5 })],
      ['feed.startVolts'],
      'Use 2.5 mm²',
    ],
    [
      'no cross-section is enough',
      [feed('r1', 'g1', { currentMa: 4000, lengthM: 500, mm2: 6 })],
      ['feed.volts'],
      null,
    ],
    [
      'a supply that is set too high',
      [
        feed('r1', 'g1'),
        { type: 'updateStation', id: 'g1', set: { settings: { outputVolts: 29 } } },
      ],
      ['feed.tooHigh'],
      null,
    ],
    ['a head that says nothing', [feed('s1', 'g1')], ['feed.unsaid'], null],
    [
      'a supply that is gone',
      [feed('r1', 'g1'), { type: 'removeStation', id: 'g1' }],
      ['feed.lost'],
      'Hang it on none',
    ],
  ])('%s', (_, commands, codes, fix) => {
    const found = findings(after(...commands))
    expect(found.map(({ code }) => code)).toEqual(codes)
    expect(found[0]?.fixes()[0]?.label ?? null).toBe(fix)
    for (const one of found)
      for (const { command } of one.fixes())
        expect(
          findings(doAll(after(...commands), catalog, command)).map(({ code }) => code),
        ).not.toContain(one.code)
  })

  test('head and group of one station are told apart, and each has its way out', () => {
    const low = { currentMa: 3000, lengthM: 60, mm2: 1.5 }
    const found = findings(after(feed('r1', 'g1', low), feed('r1.1', 'g2', low)))
    expect(found.map(({ code, at }) => [code, at.id])).toEqual([
      ['feed.volts', 'r1'],
      ['feed.volts', 'r1.1'],
    ])
    for (const one of found) expect(one.fixes()[0]?.label).toBe('Use 2.5 mm²')
  })

  test('one of two on a network hangs on none', () => {
    const plan = after(
      feed('s1', 'g1', { currentMa: 100 }),
      {
        type: 'copyStation',
        sourceId: 's1',
        networkId: 'n1',
        copies: [{ id: 's2', name: 's2', find: '', with: '' }],
      },
      { type: 'setFeeds', edits: [{ at: { node: 's2' }, set: null }] },
    )
    const [found] = findings(plan)
    expect(found).toMatchObject({
      code: 'feed.none',
      message: '1 station of N1 hangs on no supply, while others do.',
    })
    expect(found!.fixes()[0]!.label).toBe('Hang it on g1')
  })
})

describe('terminators of a line', () => {
  const onLine = (id: string, file: string, device: string, networkId = 'dp'): Command => ({
    type: 'addStation',
    id,
    networkId,
    file,
    device,
    name: id,
    comment: '',
  })
  const line: Command[] = [
    { type: 'addNetwork', id: 'dp', controllerId: 'k1', name: 'DP', kind: 'profibus' },
    onLine('d1', 'BRCK0F31.gsd', 'BW-DP Head'),
    onLine('d2', 'BRCK0F31.gsd', 'BW-DP Head'),
    feed('d1', 'g1', { currentMa: 100 }),
  ]
  const about = (plan: Plan) =>
    check(derive(plan, catalog)).all.flatMap(({ code, at }) =>
      code.startsWith('segment.') ? [`${code} ${at.words}`] : [],
    )

  test('one that is on and hangs on no supply is found', () =>
    expect(about(after(...line))).toEqual(['segment.power d2']))

  test('a terminator with its own supply ends the line', () => {
    const plan = after(
      ...line,
      onLine('end', 'ostrel-terminator.sheet.json', 'OD-TR', 'sup'),
      {
        type: 'linkPorts',
        links: [{ from: { node: 'end', port: 1 }, to: { node: 'd2', port: 2 } }],
      },
      feed('end', 'g1'),
    )
    expect(about(plan)).toEqual([])
  })
})

describe('what is refused', () => {
  test.each<[string, Command, string]>([
    [
      'a station that is no supply',
      feed('r1', 's1'),
      'is no supply: its sheet says nothing of what it gives.',
    ],
    ['a supply that is not there', feed('r1', 'g9'), 'The supply is no longer in the plan'],
    [
      'a module without a group',
      feed('r1.2', 'g1'),
      'DO 2 feeds no potential group by its description.',
    ],
    [
      'a second input that is not there',
      feed('s1', 'g1', {}, true),
      'has no second supply input by its sheet.',
    ],
    ['itself', feed('g1', 'g1'), 'g1 would feed itself over other supplies.'],
    [
      'words about no supply',
      { type: 'setFeeds', edits: [{ at: { node: 'r1' }, set: { lengthM: 3 } }] },
      'r1 hangs on no supply yet; choose one first.',
    ],
  ])('%s', (_, command, sentence) => {
    const applied = applyCommand(base, catalog, command)
    expect(applied.ok ? '' : wordRefusal(applied.refusal)).toContain(sentence)
  })

  test('supplies that feed each other', () => {
    const applied = applyCommand(after(feed('g2', 'g1')), catalog, feed('g1', 'g2'))
    expect(applied.ok).toBe(false)
  })
})

describe('what if a supply is lost', () => {
  const lose = (plan: Plan, ...nodes: string[]) =>
    whatIfReport(derive(plan, catalog), { links: new Set(), nodes: new Set(nodes) })

  test.each<[string, Command[], string[], object]>([
    [
      'its stations go',
      [feed('r1', 'g1')],
      ['g1'],
      { unreachable: ['r1'], signals: ['VALVE_0', 'VALVE_1'] },
    ],
    [
      'the other one keeps them',
      [feed('r1', 'g1'), feed('r1', 'g2', {}, true)],
      ['g1'],
      { unreachable: [] },
    ],
    [
      'both are lost',
      [feed('r1', 'g1'), feed('r1', 'g2', {}, true)],
      ['g1', 'g2'],
      { unreachable: ['r1'] },
    ],
    [
      'only a group goes',
      [feed('r1', 'g2'), feed('r1.1', 'g1')],
      ['g1'],
      { unreachable: [], signals: [], unfed: ['VALVE_0', 'VALVE_1'] },
    ],
    [
      'a supply behind it goes too',
      [feed('g2', 'g1'), feed('r1', 'g2')],
      ['g1'],
      { unreachable: ['r1'] },
    ],
  ])('%s', (_, commands, lost, outcome) =>
    expect(lose(after(...commands), ...lost)).toMatchObject(outcome),
  )

  test('a rack with its controller takes all its networks along', () => {
    const plan = after(
      { type: 'addNetwork', id: 'own', controllerId: 'k1', name: 'Own rack', kind: 'local' },
      {
        type: 'addStation',
        id: 'k1-rack',
        networkId: 'own',
        file: 'quillane-qc200.sheet.json',
        device: 'QC-201',
        name: 'k1-rack',
        comment: '',
      },
      feed('k1-rack', 'g1'),
    )
    expect(lose(plan, 'g1').unreachable).toEqual(
      expect.arrayContaining(['r1', plan.stations['s1']!.station.name]),
    )
  })
})
