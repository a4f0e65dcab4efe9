import { ipOf } from '../../protocols'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  begin,
  doAll,
  insert,
  place,
  shelfCatalog,
  smallCatalog,
  smallPlan,
} from '../../test/plans'
import { newPlan } from '../../exchange'
import { derive } from '../../derive'
import type { Catalog } from '../../catalog'
import {
  applyChanges,
  completed,
  invert,
  replayChanges,
  wordRefusal,
  type Command,
  type Plan,
  type Refusal,
  type RowChange,
} from '../../plan/index'
import { applyCommand } from '..'

const full = () =>
  smallPlan(
    insert('a', 1, 'DI'),
    { type: 'editSignals', edits: [{ id: 'x', place: place('a', 0), tag: 'X', comment: 'kept' }] },
    {
      type: 'addNetwork',
      id: 'n2',
      controllerId: 'k1',
      name: 'N2',
      kind: 'profinet',
      settings: { controllerIp: '10.0.9.1' },
    },
    { type: 'addStation', id: 's2', networkId: 'n2', file: 'tv', device: 'DAP', comment: '' },
  )
const shape = (plan: Plan) => [
  Object.keys(plan.controllers),
  Object.keys(plan.networks),
  Object.keys(plan.stations),
  Object.keys(plan.unplaced),
]
const both = [['k1'], ['n1', 'n2'], ['s1', 's2'], []]

describe('taking things out', () => {
  // What hangs on it goes too; signals never do.
  test.each([
    ['a station', { type: 'removeStation', id: 's1' }, [['k1'], ['n1', 'n2'], ['s2'], ['x']]],
    ['a network', { type: 'removeNetwork', id: 'n1' }, [['k1'], ['n2'], ['s2'], ['x']]],
    [
      'a network without signals',
      { type: 'removeNetwork', id: 'n2' },
      [['k1'], ['n1'], ['s1'], []],
    ],
    ['a controller', { type: 'removeController', id: 'k1' }, [[], [], [], ['x']]],
  ] as [string, Command, string[][]][])('%s, and back', (_, command, left) => {
    const plan = full()
    expect(shape(plan)).toEqual(both)
    const applied = applyCommand(plan, smallCatalog, command)
    if (!applied.ok) throw new Error(applied.refusal.code)
    expect(shape(applied.plan)).toEqual(left)
    if (left[3]!.length > 0)
      expect(applied.plan.unplaced['x']).toEqual({
        id: 'x',
        place: null,
        tag: 'X',
        comment: 'kept',
        terminal: '',
        facts: { kind: 'DI' },
      })
    expect(applyChanges(applied.plan, invert(applied.changes))).toEqual(plan)
  })

  test.each(['removeStation', 'removeNetwork', 'removeController'] as const)(
    '%s of what is gone is refused',
    (type) => {
      const applied = applyCommand(full(), smallCatalog, { type, id: 'gone' })
      expect(applied).toMatchObject({ ok: false, refusal: { code: 'row.missing' } })
    },
  )
})

describe('a renamed signal', () => {
  const named = () =>
    smallPlan(insert('a', 1, 'DI'), {
      type: 'editSignals',
      edits: [
        { id: 'x', place: place('a', 0), tag: 'P1_On' },
        { id: 'y', place: place('a', 1), tag: 'P1_Run', facts: { partner: 'P1_On' } },
        { id: 'w', tag: 'P1_Flt', facts: { partner: 'p1_on' } },
      ],
    })
  const partners = (plan: Plan) =>
    [
      ...Object.values(plan.stations).flatMap(({ signals }) => Object.values(signals)),
      ...Object.values(plan.unplaced),
    ].flatMap(({ id, facts }) => (facts.partner ? [`${id} ${facts.partner}`] : []))

  test.each<[string, Command[], string[]]>([
    [
      'is followed by who belongs to it, placed or not',
      [{ type: 'editSignals', edits: [{ id: 'x', tag: 'P9_On' }] }],
      ['y P9_On', 'w P9_On'],
    ],
    [
      'is not followed where the same edit says otherwise',
      [
        {
          type: 'editSignals',
          edits: [
            { id: 'x', tag: 'P9_On' },
            { id: 'y', facts: { partner: 'P1_Flt' } },
          ],
        },
      ],
      ['y P1_Flt', 'w P9_On'],
    ],
    [
      'changes names with another one',
      [
        {
          type: 'editSignals',
          edits: [
            { id: 'x', tag: 'P1_Flt' },
            { id: 'w', tag: 'P1_On' },
          ],
        },
      ],
      ['y P1_Flt', 'w P1_Flt'],
    ],
    [
      'that loses its name is not followed',
      [{ type: 'editSignals', edits: [{ id: 'x', tag: '', comment: 'c' }] }],
      ['y P1_On', 'w p1_on'],
    ],
    [
      'is followed within one change of several',
      [
        {
          type: 'batch',
          label: 'b',
          commands: [
            {
              type: 'editSignals',
              edits: [
                { id: 'y', facts: { partner: null } },
                { id: 'x', tag: 'A1' },
              ],
            },
            { type: 'editSignals', edits: [{ id: 'y', facts: { partner: 'A1' } }] },
            { type: 'editSignals', edits: [{ id: 'x', tag: 'A2' }] },
          ],
        },
      ],
      ['y A2', 'w A2'],
    ],
    [
      'in a copy has the copy of its partner',
      [
        {
          type: 'copyStation',
          sourceId: 's1',
          networkId: 'n1',
          copies: [{ id: 'c', find: 'P1', with: 'P2' }],
        },
      ],
      ['y P1_On', 'c-s2 P2_On', 'w p1_on'],
    ],
  ])('%s', (_, commands, expected) => {
    const before = named()
    const after = doAll(before, smallCatalog, ...commands)
    expect(partners(after).sort()).toEqual(expected.sort())
  })
  test('comes back with those that follow it', () => {
    const plan = named()
    const applied = applyCommand(plan, smallCatalog, {
      type: 'editSignals',
      edits: [{ id: 'x', tag: 'P9_On' }],
    })
    expect(applied.ok && applyChanges(applied.plan, invert(applied.changes))).toEqual(plan)
  })
})

// A place alone is no channel: a measured value must not come to stand on a bit.
test.each<[string, string, boolean]>([
  ['ai4', 'di16', false],
  ['ai4', 'ai4', true],
  ['di16', 'ai4', false],
])('a signal of a module %s that becomes %s keeps its channel: %s', (from, to, keeps) => {
  const plan = doAll(
    newPlan('p', 'P'),
    shelfCatalog,
    begin[0]!,
    { ...begin[1]!, kind: 'local', settings: {} } as Command,
    { ...begin[2]!, file: 'quillane-qc200.sheet.json', device: 'QC-201', name: 'rack' } as Command,
    insert('m', 5, from),
    { type: 'editSignals', edits: [{ id: 'x', tag: 'X', place: place('m', 0) }] },
  )
  const after = doAll(plan, shelfCatalog, { type: 'replaceModule', id: 'm', module: to })
  expect(Object.keys(keeps ? after.stations['s1']!.signals : after.unplaced)).toEqual(['x'])
})

test('a station that has just gone takes no signals', () => {
  const head = (id: string): Command => ({
    type: 'editSignals',
    edits: [{ id, place: { moduleId: 's1', subslot: 1, direction: 'in', offsetBits: 0 }, tag: id }],
  })
  const applied = applyCommand(full(), smallCatalog, {
    type: 'batch',
    label: 'b',
    commands: [
      { type: 'editSignals', edits: [{ id: 'x', comment: 'touched' }] },
      { type: 'removeStation', id: 's1' },
      head('y') as never,
    ],
  })
  expect(applied).toMatchObject({
    ok: false,
    refusal: { code: 'row.missing', what: 'module', id: 's1' },
  })
})

// From two hundred edits on signals are not searched for; nothing else may be different.
test('many edits at once give what they give one by one', () => {
  const start = doAll(full(), smallCatalog, {
    type: 'insertModule',
    id: 'b',
    stationId: 's2',
    slot: 1,
    module: 'DI',
    shift: false,
  })
  const edit = fc.record({
    bit: fc.integer({ min: 1, max: 7 }),
    module: fc.constantFrom('a', 'b', null),
    tag: fc.constantFrom('', 'T', undefined),
    comment: fc.constantFrom('', 'c'),
  })
  fc.assert(
    fc.property(fc.array(edit, { minLength: 200, maxLength: 260 }), (wanted) => {
      const edits = wanted.map(({ bit, module, tag, comment }) => ({
        id: `s${bit}`,
        place: module === null ? null : place(module, bit),
        comment,
        ...(tag !== undefined && { tag: tag && `${tag}${bit}` }),
      }))
      const at = (plan: Plan) => [plan.stations, plan.unplaced]
      expect(at(doAll(start, smallCatalog, { type: 'editSignals', edits }))).toEqual(
        at(
          doAll(
            start,
            smallCatalog,
            ...edits.map((one): Command => ({ type: 'editSignals', edits: [one] })),
          ),
        ),
      )
    }),
    { numRuns: 20 },
  )
})

describe('changing things', () => {
  test.each([
    [
      'a controller',
      { type: 'updateController', id: 'k1', set: { inputBytes: 9 } },
      (plan: Plan) => plan.controllers['k1']!.inputBytes,
      9,
    ],
    [
      'a network',
      { type: 'updateNetwork', id: 'n1', set: { name: 'Intake' } },
      (plan: Plan) => plan.networks['n1']!.name,
      'Intake',
    ],
    [
      'a station',
      { type: 'updateStation', id: 's1', set: { settings: { ip: 'anything typed' } } },
      (plan: Plan) => ipOf(plan.stations['s1']!.station),
      'anything typed',
    ],
    [
      'the project',
      { type: 'setProject', set: { tagLength: 24 } },
      (plan: Plan) => plan.project.tagLength,
      24,
    ],
    [
      'an address by hand, even onto another',
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 40 },
      (plan: Plan) => plan.stations['s1']!.modules['a']!.addresses,
      { 1: { in: 40, inFixed: true } },
    ],
    [
      'an address by hand that may be moved again',
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 40, fixed: false },
      (plan: Plan) => plan.stations['s1']!.modules['a']!.addresses,
      { 1: { in: 40 } },
    ],
  ] as [string, Command, (plan: Plan) => unknown, unknown][])('%s', (_, command, read, value) => {
    expect(read(doAll(full(), smallCatalog, command))).toEqual(value)
  })

  test('an address found anew is the lowest free one, not its own old place', () => {
    const moved = doAll(
      full(),
      smallCatalog,
      insert('b', 2, 'DI'),
      { type: 'setAddress', moduleId: 'b', subslot: 1, direction: 'in', byte: 0 },
      { type: 'readdress', moduleId: 'b' },
    )
    expect(moved.stations['s1']!.modules['b']!.addresses).toEqual({ 1: { in: 1 } })
  })

  test('alignment counts for new values only', () => {
    const odd = doAll(
      full(),
      smallCatalog,
      { type: 'updateController', id: 'k1', set: { aligned: false } },
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 3 },
      insert('ao', 2, 'AO'),
    )
    expect(odd.stations['s1']!.modules['ao']!.addresses).toEqual({ 1: { out: 0 } })
    const aligned = doAll(
      odd,
      smallCatalog,
      { type: 'setAddress', moduleId: 'ao', subslot: 1, direction: 'out', byte: 1 },
      { type: 'updateController', id: 'k1', set: { aligned: true } },
      insert('ao2', 3, 'AO'),
    )
    expect(aligned.stations['s1']!.modules).toMatchObject({
      ao: { addresses: { 1: { out: 1 } } },
      ao2: { addresses: { 1: { out: 6 } } },
    })
  })
})

describe('addresses and octets', () => {
  const rack = (...more: Command[]) =>
    doAll(
      newPlan('p', 'P'),
      shelfCatalog,
      begin[0]!,
      { ...begin[1]!, kind: 'can-rack', settings: {} } as Command,
      { ...begin[2]!, file: 'quillane-qx64.sheet.json', device: 'QX-64', name: 'rack' } as Command,
      insert('m', 2, 'di16'),
      ...more,
    )
  const analog = () => smallPlan(insert('ao', 2, 'AO'))
  const turned = (offsetBits: number, turn: 'DCBA' | '') => ({
    type: 'setByteOrder' as const,
    moduleId: 'ao',
    values: [{ subslot: 1, direction: 'out' as const, offsetBits }],
    turn,
  })

  test.each<[string, Plan, Catalog, Command, string]>([
    [
      'a slot with a fixed place',
      rack(),
      shelfCatalog,
      { type: 'setAddress', moduleId: 'm', subslot: 1, direction: 'in', byte: 3 },
      'address.slot',
    ],
    [
      'new bytes for one',
      rack(),
      shelfCatalog,
      { type: 'readdress', moduleId: 'm' },
      'address.slot',
    ],
    [
      'whole bytes in the middle of one',
      analog(),
      smallCatalog,
      { type: 'setAddress', moduleId: 'ao', subslot: 1, direction: 'out', byte: 3, bit: 4 },
      'address.bits',
    ],
    ['octets of what is no number', analog(), smallCatalog, turned(3, 'DCBA'), 'channel.missing'],
    [
      'repacking what is gone',
      analog(),
      smallCatalog,
      { type: 'repack', controllerId: 'gone' },
      'row.missing',
    ],
  ])('%s is refused', (_, plan, catalog, command, code) =>
    expect(applyCommand(plan, catalog, command)).toMatchObject({ ok: false, refusal: { code } }),
  )

  test('a module in a fixed place has no address of its own and moves with the head', () => {
    const plan = rack({ type: 'setAddress', moduleId: 's1', subslot: 1, direction: 'in', byte: 20 })
    expect(plan.stations['s1']!.modules['m']!.addresses).toEqual({})
    expect(derive(plan, shelfCatalog).stations.get('s1')!.inside).toMatchObject([
      { byte: 28, bit: 0 },
    ])
  })

  // Stable: replaced by what takes as much, it stays; only where bits are packed does their number
  // count.
  test.each([
    [false, 5],
    [true, 0],
  ])(
    'a byte with fewer bits in use keeps its place unless bits are packed (%s)',
    (packsBits, byte) => {
      const file = smallCatalog.get('tv')!
      const [di] = file.modules
      const few = {
        ...di!,
        key: 'DI3',
        submodules: di!.submodules.map((one) => ({
          ...one,
          inputs: one.inputs.map((item) => ({ ...item, channels: item.channels.slice(0, 3) })),
        })),
      }
      const catalog = new Map([
        [
          'tv',
          {
            ...file,
            modules: [...file.modules, few],
            devices: file.devices.map((device) => ({
              ...device,
              slots: device.slots.map((slot) => ({ ...slot, allowed: [...slot.allowed, 'DI3'] })),
            })),
          },
        ],
      ])
      const plan = doAll(
        smallPlan(),
        catalog,
        { type: 'setProject', set: { packsBits } },
        insert('a', 1, 'DI'),
        { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'in', byte: 5 },
        { type: 'replaceModule', id: 'a', module: 'DI3' },
      )
      expect(plan.stations['s1']!.modules['a']!.addresses[1]).toMatchObject({ in: byte })
    },
  )

  test('octets are turned value by value, and back', () => {
    const plan = doAll(analog(), smallCatalog, turned(16, 'DCBA'))
    expect(plan.stations['s1']!.modules['ao']!.orders).toEqual({ '1.out.16': 'DCBA' })
    expect(doAll(plan, smallCatalog, turned(16, '')).stations['s1']!.modules['ao']!.orders).toEqual(
      {},
    )
  })

  test('changes written down before rows had a field are the same changes', () => {
    const plan = smallPlan()
    const { packsBits: _packs, orders: _orders, ...old } = plan.stations['s1']!.station
    const change = {
      table: 'stations',
      id: 's1',
      before: { ...old, name: 'was' },
      after: old,
    } as unknown as RowChange
    expect(replayChanges(plan, invert(completed([change]))).obstacles).toEqual([])
  })
})

test('a subnet without a free address is told', () => {
  const tiny = doAll(
    newPlan('p', 'P'),
    smallCatalog,
    begin[0]!,
    { ...begin[1]!, settings: { controllerIp: '10.0.0.1', prefixLength: 30 } } as Command,
    begin[2]!,
  )
  expect(applyCommand(tiny, smallCatalog, { ...begin[2]!, id: 's2' } as Command)).toMatchObject({
    ok: false,
    refusal: { code: 'subnet.full' },
  })
})

// Every refusal is a sentence with its facts, and none says merely that something is invalid.
const refusals: Refusal[] = [
  { code: 'row.missing', what: 'station', id: 's' },
  { code: 'id.taken', id: 's' },
  { code: 'slot.taken', station: 's', slot: 1, by: 'DI' },
  { code: 'slot.unknown', station: 's', slot: 1, slots: '1..4' },
  { code: 'slot.notAllowed', station: 's', slot: 1, module: 'DI', slots: '' },
  { code: 'slot.fixed', station: 's', slot: 1, module: 'PS' },
  { code: 'slots.full', station: 's' },
  { code: 'file.missing', file: 'f'.repeat(64) },
  { code: 'device.missing', device: 'd' },
  { code: 'module.missing', module: 'm' },
  { code: 'block.missing', subslot: 1, direction: 'in' },
  { code: 'image.full', controller: 'K', direction: 'out', bytes: 2, from: 0, to: 63 },
  { code: 'image.full', controller: 'K', direction: 'in', bytes: 1, from: 0, to: -1 },
  { code: 'address.bits', module: 'DI' },
  { code: 'address.slot', station: 's' },
  { code: 'channel.taken', tag: '', place: 'Subslot 1' },
  { code: 'channel.missing', place: 'Subslot 1' },
  { code: 'subnet.full', network: 'N' },
  { code: 'row.changed', what: 'the station', by: 'A' },
  { code: 'undo.nothing' },
  { code: 'redo.nothing' },
]
test.each(refusals)('$code is worded', (refusal) => {
  const sentence = wordRefusal(refusal)
  expect(sentence).toMatch(/^\S.*\.$/)
  expect(sentence).not.toMatch(/invalid|undefined|null|\bNaN\b/i)
})
