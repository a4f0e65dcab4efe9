import { ipOf } from '../protocols'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { begin, doAll, insert, place, smallCatalog, smallPlan } from '../test/plans'
import { newPlan } from '../exchange'
import {
  applyChanges,
  command,
  invert,
  planFromRows,
  replayChanges,
  rowsOfPlan,
  wordRefusal,
  type Command,
  type Plan,
  type SingleCommand,
} from './index'
import { applyCommand } from '../changing'

const slots = (plan: Plan, stationId = 's1') =>
  Object.fromEntries(
    Object.values(plan.stations[stationId]!.modules)
      .sort((a, b) => a.slot - b.slot)
      .map(({ slot, id }) => [slot, id]),
  )
const byte = (plan: Plan, moduleId: string) =>
  Object.values(plan.stations)
    .flatMap(({ modules }) => modules[moduleId] ?? [])
    .map(({ addresses }) => addresses[1]?.in ?? addresses[1]?.out)[0]
const refusalOf = (plan: Plan, wanted: Command) => {
  const applied = applyCommand(plan, smallCatalog, wanted)
  return applied.ok ? null : { code: applied.refusal.code, sentence: wordRefusal(applied.refusal) }
}
const signal = (id: string, moduleId: string, offsetBits: number, tag: string): Command => ({
  type: 'editSignals',
  edits: [
    { id, place: place(moduleId, offsetBits, moduleId.startsWith('ao') ? 'out' : 'in'), tag },
  ],
})

describe('commands', () => {
  test('a station gets the next free name, address and number', () => {
    const plan = smallPlan({
      type: 'addStation',
      id: 's2',
      networkId: 'n1',
      file: 'tv',
      device: 'DAP',
      comment: '',
    })
    expect(
      Object.values(plan.stations).map(({ station }) => [
        station.name,
        ipOf(station),
        station.deviceNumber,
        station.position,
      ]),
    ).toEqual([
      ['tv-1', '10.0.0.2', 1, 1],
      ['tv-2', '10.0.0.3', 2, 2],
    ])
  })

  test.each([
    [
      'inserting with shift',
      [insert('a', 1, 'DI'), insert('b', 2, 'DI'), insert('c', 1, 'DI', 's1', true)],
      { 1: 'c', 2: 'a', 3: 'b' },
    ],
    [
      'moving forward closes up',
      [
        insert('a', 1, 'DI'),
        insert('b', 2, 'DI'),
        insert('c', 3, 'DI'),
        { type: 'moveModule', id: 'a', stationId: 's1', slot: 3 },
      ],
      { 1: 'b', 2: 'c', 3: 'a' },
    ],
    [
      'moving back closes up',
      [
        insert('a', 1, 'DI'),
        insert('b', 2, 'DI'),
        insert('c', 3, 'DI'),
        { type: 'moveModule', id: 'c', stationId: 's1', slot: 1 },
      ],
      { 1: 'c', 2: 'a', 3: 'b' },
    ],
    [
      'moving to a free slot leaves the rest',
      [
        insert('a', 1, 'DI'),
        insert('b', 2, 'DI'),
        { type: 'moveModule', id: 'a', stationId: 's1', slot: 3 },
      ],
      { 2: 'b', 3: 'a' },
    ],
    [
      'a gap on the way takes the push',
      [
        insert('a', 1, 'DI'),
        insert('b', 3, 'DI'),
        { type: 'moveModule', id: 'a', stationId: 's1', slot: 3 },
      ],
      { 2: 'b', 3: 'a' },
    ],
  ] as [string, Command[], object][])('%s', (_, commands, expected) =>
    expect(slots(smallPlan(...commands))).toEqual(expected),
  )

  test.each([
    [
      'a taken slot',
      [insert('a', 1, 'DI')],
      insert('b', 1, 'DI'),
      'slot.taken',
      'Slot 1 of tv-1 already holds Name of DI.',
    ],
    [
      'a slot the file does not allow',
      [],
      insert('a', 4, 'DI'),
      'slot.notAllowed',
      'Slot 4 of tv-1 does not take Name of DI: the description allows slots 1..3.',
    ],
    [
      'a slot the head does not have',
      [],
      insert('a', 9, 'DI'),
      'slot.unknown',
      'tv-1 has no slot 9; it has slots 1..4.',
    ],
    [
      'a shift that pushes a module where it may not stand',
      [insert('a', 1, 'DI'), insert('b', 2, 'DI'), insert('c', 3, 'DI')],
      insert('d', 1, 'DI', 's1', true),
      'slot.notAllowed',
      '1..3',
    ],
    ['a module nobody knows', [], insert('a', 1, 'XX'), 'module.missing', '"XX"'],
    ['an id twice', [insert('a', 1, 'DI')], insert('a', 2, 'DI'), 'id.taken', 'a'],
    ['a station that is gone', [], insert('a', 1, 'DI', 's9'), 'row.missing', 'station'],
    [
      'a file that is not there',
      [],
      { type: 'addStation', id: 's2', networkId: 'n1', file: 'none', device: 'DAP', comment: '' },
      'file.missing',
      'Shelf',
    ],
    [
      'a full image',
      [{ type: 'updateController', id: 'k1', set: { outputBytes: 6 } }, insert('a', 2, 'AO')],
      insert('b', 3, 'AO'),
      'image.full',
      'no room for 4 more bytes',
    ],
    [
      'a channel that carries a signal',
      [insert('a', 1, 'DI'), signal('x', 'a', 0, 'X')],
      signal('y', 'a', 0, 'Y'),
      'channel.taken',
      'already carries X',
    ],
    [
      'a place that is no channel',
      [insert('a', 1, 'DI')],
      signal('x', 'a', 12, 'X'),
      'channel.missing',
      'input 1.4',
    ],
    [
      'data a module does not have',
      [insert('a', 1, 'DI')],
      { type: 'setAddress', moduleId: 'a', subslot: 1, direction: 'out', byte: 0 },
      'block.missing',
      'no output data',
    ],
  ] as [string, Command[], Command, string, string][])(
    'refuses %s',
    (_, before, wanted, code, part) => {
      const refusal = refusalOf(smallPlan(...before), wanted)
      expect(refusal?.code).toBe(code)
      expect(refusal?.sentence).toContain(part)
    },
  )

  test('a batch is done whole or not at all', () => {
    const plan = smallPlan()
    expect(
      refusalOf(plan, {
        type: 'batch',
        label: 'two',
        commands: [insert('a', 1, 'DI') as never, insert('b', 1, 'DI') as never],
      })?.code,
    ).toBe('slot.taken')
    expect(slots(plan)).toEqual({})
  })

  test('a removed module leaves its signals waiting, and undo puts them back', () => {
    const plan = smallPlan(insert('a', 1, 'DI'), signal('x', 'a', 0, 'X'))
    const applied = applyCommand(plan, smallCatalog, { type: 'removeModules', ids: ['a'] })
    if (!applied.ok) throw new Error('refused')
    expect(applied.plan.unplaced['x']).toMatchObject({ tag: 'X', place: null })
    expect(applyChanges(applied.plan, invert(applied.changes))).toEqual(plan)
  })

  test('a replacement of equal size keeps address and signals', () => {
    const plan = smallPlan(insert('a', 2, 'DI'), insert('b', 3, 'DI'), signal('x', 'a', 3, 'X'), {
      type: 'replaceModule',
      id: 'a',
      module: 'DI',
    })
    expect([byte(plan, 'a'), plan.stations['s1']!.signals['x']?.place?.offsetBits]).toEqual([0, 3])
    const smaller = doAll(plan, smallCatalog, { type: 'replaceModule', id: 'a', module: 'AO' })
    expect(smaller.unplaced['x']?.tag).toBe('X')
  })

  test('a module taken to another station keeps address and signals, there and back', () => {
    const plan = smallPlan(insert('a', 1, 'DI'), signal('x', 'a', 3, 'X'), {
      type: 'addStation',
      id: 's2',
      networkId: 'n1',
      file: 'tv',
      device: 'DAP',
      comment: '',
    })
    const applied = applyCommand(plan, smallCatalog, {
      type: 'moveModule',
      id: 'a',
      stationId: 's2',
      slot: 2,
    })
    if (!applied.ok) throw new Error('refused')
    expect([slots(applied.plan), slots(applied.plan, 's2'), byte(applied.plan, 'a')]).toEqual([
      {},
      { 2: 'a' },
      0,
    ])
    expect(Object.keys(applied.plan.stations['s2']!.signals)).toEqual(['x'])
    expect(applyChanges(plan, applied.changes)).toEqual(applied.plan)
    expect(applyChanges(applied.plan, invert(applied.changes))).toEqual(plan)
  })

  test('a signal that loses its last word is gone', () => {
    const plan = smallPlan(insert('a', 1, 'DI'), signal('x', 'a', 0, 'X'), {
      type: 'editSignals',
      edits: [{ id: 'x', tag: '' }],
    })
    expect(plan.stations['s1']!.signals).toEqual({})
  })

  test('the schema of a command refuses what it does not know', () => {
    expect(command.safeParse({ ...insert('a', 1, 'DI'), colour: 'red' }).success).toBe(false)
    expect(command.safeParse({ type: 'explode' }).success).toBe(false)
    expect(
      command.parse({ type: 'insertModule', id: 'a', stationId: 's1', slot: 1, module: 'DI' }),
    ).toMatchObject({ shift: false })
  })
})

/** Random edits of a plan with three stations; many of them are refused, which is part of it. */
const ids = fc.constantFrom('a', 'b', 'c', 'd')
const stations = fc.constantFrom('s1', 's2', 's3')
const slot = fc.integer({ min: 1, max: 5 })
const anyCommand: fc.Arbitrary<Command> = fc.oneof(
  fc.record({
    type: fc.constant('insertModule' as const),
    id: ids,
    stationId: stations,
    slot,
    module: fc.constantFrom('DI', 'AO'),
    shift: fc.boolean(),
  }),
  fc.record({ type: fc.constant('moveModule' as const), id: ids, stationId: stations, slot }),
  fc.record({
    type: fc.constant('replaceModule' as const),
    id: ids,
    module: fc.constantFrom('DI', 'AO'),
  }),
  ids.map((id) => ({ type: 'removeModules' as const, ids: [id] })),
  fc
    .record({
      moduleId: ids,
      offset: fc.nat(9),
      id: fc.constantFrom('x', 'y', 'z'),
      tag: fc.constantFrom('', 'T1', 'T2'),
    })
    .map(({ moduleId, offset, id, tag }) => ({
      type: 'editSignals' as const,
      edits: [{ id, place: place(moduleId, offset), tag }],
    })),
  stations.map((id) => ({ type: 'removeStation' as const, id })),
  stations.map((id) => ({
    type: 'addStation' as const,
    id,
    networkId: 'n1',
    file: 'tv',
    device: 'DAP',
    comment: '',
  })),
  fc.record({
    type: fc.constant('updateStation' as const),
    id: stations,
    set: fc.record({ name: fc.constantFrom('a', 'B'), ip: fc.constantFrom('10.0.0.9', 'x') }),
  }),
)

describe('any sequence of edits', () => {
  const start = doAll(newPlan('p', 'P'), smallCatalog, ...begin)

  test('undo after do is nothing, and the changes alone lead to the same plan', () => {
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 25 }), (commands) => {
        let plan = start
        for (const wanted of commands) {
          const applied = applyCommand(plan, smallCatalog, wanted)
          if (!applied.ok) continue
          expect(replayChanges(plan, applied.changes).obstacles).toEqual([])
          expect(applyChanges(plan, applied.changes)).toEqual(applied.plan)
          expect(applyChanges(applied.plan, invert(applied.changes))).toEqual(plan)
          plan = applied.plan
        }
        expect(planFromRows(plan.project, JSON.parse(JSON.stringify(rowsOfPlan(plan))))).toEqual(
          plan,
        )
      }),
      { numRuns: 150 },
    )
  })

  test('no two blocks overlap, and nothing that stays moves', () => {
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 25 }), (commands) => {
        let plan = start
        for (const wanted of commands) {
          const applied = applyCommand(plan, smallCatalog, wanted)
          if (!applied.ok) continue
          if (wanted.type !== 'replaceModule') {
            for (const id of ['a', 'b', 'c', 'd'])
              if (byte(plan, id) !== undefined && byte(applied.plan, id) !== undefined)
                expect(byte(applied.plan, id)).toBe(byte(plan, id))
          }
          plan = applied.plan
        }
        const taken = new Set<string>()
        for (const { blocks } of derive(plan, smallCatalog).stations.values()) {
          for (const { block, byte: first } of blocks) {
            for (let at = first; at < first + block.bytes; at++) {
              expect(taken.has(`${block.direction}${at}`)).toBe(false)
              taken.add(`${block.direction}${at}`)
            }
          }
        }
      }),
      { numRuns: 150 },
    )
  })
})

describe('a change that asks for very much', () => {
  const copies = (count: number, at: number): Command => ({
    type: 'copyStation',
    sourceId: 's1',
    networkId: 'n1',
    copies: Array.from({ length: count }, (_, i) => ({
      id: `c${at}-${i}`,
      name: `c${at}-${i}`,
      ip: '10.0.0.9',
      find: '',
      with: '',
    })),
  })
  const many = (count: number, make: (i: number) => SingleCommand): Command => ({
    type: 'batch',
    label: 'many',
    commands: Array.from({ length: count }, (_, i) => make(i)),
  })
  const full = smallPlan(insert('a', 1, 'DI'), {
    type: 'editSignals',
    edits: [{ id: 'x', tag: 'X', place: place('a', 0) }],
  })

  test.each<[string, Command]>([
    ['short commands for millions of rows', many(10_000, (i) => copies(1000, i) as SingleCommand)],
    [
      'so many steps that each look through all stations',
      {
        type: 'batch',
        label: 'x',
        commands: [
          copies(250, 0) as SingleCommand,
          ...Array.from({ length: 9000 }, (): SingleCommand => ({
            type: 'repack',
            controllerId: 'k1',
          })),
        ],
      },
    ],
  ])(
    '%s is refused within seconds',
    (_, command) => {
      const wide = doAll(
        full,
        smallCatalog,
        {
          type: 'updateNetwork',
          id: 'n1',
          set: { settings: { controllerIp: '10.0.0.1', prefixLength: 8 } },
        },
        { type: 'updateController', id: 'k1', set: { inputBytes: 100_000 } },
      )
      expect(applyCommand(wide, smallCatalog, command)).toMatchObject({
        ok: false,
        refusal: { code: 'change.tooLarge' },
      })
    },
    20_000,
  )
})
