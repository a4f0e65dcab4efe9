import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { insert, place, smallCatalog, smallPlan } from '../test/plans'
import {
  applyChanges,
  faultsOfChange,
  faultsOfRows,
  id,
  invert,
  mend,
  missingOwners,
  planFromRows,
  replayChanges,
  rowOf,
  rowsAfter,
  rowsOfPlan,
  wordFault,
  type Command,
  type MendWishes,
  type Plan,
  type PlanRows,
  type RowChange,
  type RowOf,
  type TableName,
} from './index'
import { applyCommand } from '../changing'

const named = (signalId: string, moduleId: string, bit: number): Command => ({
  type: 'editSignals',
  edits: [{ id: signalId, place: place(moduleId, bit), tag: signalId }],
})
const full = smallPlan(
  insert('a', 1, 'DI'),
  insert('b', 2, 'DI'),
  named('x', 'a', 0),
  named('y', 'a', 1),
)
const rows = rowsOfPlan(full)
const without = <T extends TableName>(table: T, gone: string): PlanRows => ({
  ...rows,
  [table]: (rows[table] as readonly { id: string }[]).filter((row) => row.id !== gone),
})
const changed = <T extends TableName>(
  table: T,
  which: string,
  set: Partial<RowOf[T]>,
): PlanRows => ({
  ...rows,
  [table]: (rows[table] as readonly { id: string }[]).map((row) =>
    row.id === which ? { ...row, ...set } : row,
  ),
})
const codes = (of: PlanRows) =>
  faultsOfRows(of).map(({ code, table, id: which }) => `${code} ${table}/${which}`)

describe('a valid plan', () => {
  test('has no faults', () => expect(faultsOfRows(rows)).toEqual([]))

  test.each<[string, PlanRows, string[]]>([
    [
      'a network without its controller',
      without('controllers', 'k1'),
      ['owner.missing networks/n1'],
    ],
    ['a station without its network', without('networks', 'n1'), ['owner.missing stations/s1']],
    [
      'modules without their station',
      without('stations', 's1'),
      ['owner.missing modules/a', 'owner.missing modules/b'],
    ],
    [
      'signals without their module',
      without('modules', 'a'),
      ['owner.missing signals/x', 'owner.missing signals/y'],
    ],
    ['two modules in one slot', changed('modules', 'b', { slot: 1 }), ['slot.twice modules/b']],
    [
      'two signals on one channel',
      changed('signals', 'y', { place: place('a', 0) }),
      ['channel.twice signals/y'],
    ],
    [
      'an id twice',
      { ...rows, networks: [...rows.networks, rows.networks[0]!] },
      ['id.twice networks/n1'],
    ],
    [
      'a module that is called like a station',
      changed('modules', 'b', { id: 's1' }),
      ['id.twice modules/s1'],
    ],
  ])('has not %s', (_, damaged, expected) => {
    expect(codes(damaged)).toEqual(expected)
    for (const fault of faultsOfRows(damaged)) expect(wordFault(fault)).toMatch(/^[A-Z].*\.$/)
    expect(faultsOfRows(mend(damaged).rows)).toEqual([])
  })

  test.each(['constructor', '__proto__', 'toString', 'hasOwnProperty'])('has no id "%s"', (word) =>
    expect(id.safeParse(word).success).toBe(false),
  )

  test('a command that would break it is refused, whoever wrote it', () => {
    const clash: Command = {
      type: 'insertModule',
      id: 's1',
      stationId: 's1',
      slot: 3,
      module: 'DI',
      shift: false,
    }
    expect(applyCommand(full, smallCatalog, clash)).toMatchObject({
      ok: false,
      refusal: { code: 'plan.invalid', fault: { code: 'id.twice' } },
    })
  })
})

describe('mending', () => {
  test('brings owners back that are remembered, one above the other', () => {
    const damaged: PlanRows = { ...without('stations', 's1'), networks: [], controllers: [] }
    const remembered = new Map<string, RowOf[TableName]>()
    const asked: string[][] = []
    for (
      let missing = missingOwners(damaged, { remembered });
      missing.length > 0;
      missing = missingOwners(damaged, { remembered })
    ) {
      asked.push(missing)
      for (const key of missing)
        remembered.set(key, rowOf(full, ...(key.split('/') as ['stations', string]))!)
    }
    expect(asked).toEqual([['stations/s1'], ['networks/n1'], ['controllers/k1']])
    expect(mend(damaged, { remembered }).rows).toEqual(rows)
  })

  test('lets what belonged to a row follow it where it is meant to be gone; signals wait', () => {
    const mended = mend(without('stations', 's1'), {
      gone: new Set(['stations/s1']),
      remembered: new Map([['stations/s1', rows.stations[0]!]]),
    })
    expect([
      mended.rows.modules,
      mended.rows.signals.map((signal) => [signal.tag, signal.place]),
    ]).toEqual([
      [],
      [
        ['x', null],
        ['y', null],
      ],
    ])
    expect(mended.changes.map(({ table, id: which }) => `${table}/${which}`).sort()).toEqual([
      'modules/a',
      'modules/b',
      'signals/x',
      'signals/y',
    ])
  })

  test('of two that contend the wanted one stays', () => {
    const damaged = changed('modules', 'b', { slot: 1 })
    expect(mend(damaged).rows.modules.map(({ id: which }) => which)).toEqual(['a'])
    expect(
      mend(damaged, { kept: new Set(['modules/b']) }).rows.modules.map(({ id: which }) => which),
    ).toEqual(['b'])
  })

  test('makes any rows a valid plan, and its changes say how', () => {
    const damage = fc.array(
      fc.oneof(
        fc.record({
          drop: fc.constantFrom(
            'controllers/k1',
            'networks/n1',
            'stations/s1',
            'modules/a',
            'modules/b',
          ),
        }),
        fc.record({ slot: fc.integer({ min: 1, max: 3 }), of: fc.constantFrom('a', 'b') }),
        fc.record({ bit: fc.integer({ min: 0, max: 1 }), of: fc.constantFrom('x', 'y') }),
      ),
      { maxLength: 6 },
    )
    fc.assert(
      fc.property(damage, fc.boolean(), (steps, remembers) => {
        let damaged = rows
        for (const step of steps) {
          if ('drop' in step)
            damaged = rowsAfter(damaged, [
              {
                table: step.drop.split('/')[0],
                id: step.drop.split('/')[1],
                before: null,
                after: null,
              } as unknown as RowChange,
            ])
          else if ('slot' in step)
            damaged = {
              ...damaged,
              modules: damaged.modules.map((row) =>
                row.id === step.of ? { ...row, slot: step.slot } : row,
              ),
            }
          else
            damaged = {
              ...damaged,
              signals: damaged.signals.map((row) =>
                row.id === step.of ? { ...row, place: place('a', step.bit) } : row,
              ),
            }
        }
        const wishes: MendWishes = remembers
          ? {
              remembered: new Map(
                ['controllers', 'networks', 'stations'].map((table) => [
                  `${table}/${rows[table as 'stations'][0]!.id}`,
                  rows[table as 'stations'][0]!,
                ]),
              ),
            }
          : {}
        const mended = mend(damaged, wishes)
        expect(faultsOfRows(mended.rows)).toEqual([])
        expect(mended.rows.signals).toHaveLength(rows.signals.length)
        const byId = (of: PlanRows) =>
          Object.fromEntries(
            Object.entries(of).map(([table, all]) => [
              table,
              [...(all as unknown as { id: string }[])].sort((a, b) => (a.id < b.id ? -1 : 1)),
            ]),
          )
        expect(byId(rowsAfter(damaged, mended.changes))).toEqual(byId(mended.rows))
      }),
    )
  })
})

/** Edits of several people on three slots, so that they meet all the time. */
const edit = fc.oneof(
  fc
    .record({ module: fc.integer({ min: 0, max: 5 }), slot: fc.integer({ min: 1, max: 3 }) })
    .map(({ module, slot }) => insert(`m${module}`, slot, 'DI')),
  fc
    .integer({ min: 0, max: 5 })
    .map((module): Command => ({ type: 'removeModules', ids: [`m${module}`] })),
  fc
    .record({
      module: fc.integer({ min: 0, max: 5 }),
      bit: fc.integer({ min: 0, max: 2 }),
      signal: fc.integer({ min: 0, max: 4 }),
    })
    .map(({ module, bit, signal }) => named(`g${signal}`, `m${module}`, bit)),
  fc.constant<Command>({ type: 'removeStation', id: 's1' }),
  fc.constant<Command>({
    type: 'addStation',
    id: 's1',
    networkId: 'n1',
    file: 'tv',
    device: 'DAP',
    comment: '',
  }),
  fc.constant<Command>({ type: 'updateStation', id: 's1', set: { comment: 'more' } }),
)

describe('taking back', () => {
  test('whatever is done and taken back in whatever order, what the rules let pass is a valid plan', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(edit, fc.integer({ min: 0, max: 20 })), { maxLength: 25 }),
        (steps) => {
          let plan: Plan = smallPlan()
          const done: RowChange[][] = []
          for (const step of steps) {
            if (typeof step !== 'number') {
              const applied = applyCommand(plan, smallCatalog, step)
              if (!applied.ok) continue
              done.push(applied.changes)
              plan = applied.plan
            } else if (done[step]) {
              const { changes } = replayChanges(plan, invert(done[step]))
              // What the incremental look says is what a look at all rows says.
              const after = rowsAfter(rowsOfPlan(plan), changes)
              const faults = faultsOfChange(plan, changes)
              expect(new Set(faults.map(wordFault))).toEqual(
                new Set(faultsOfRows(after).map(wordFault)),
              )
              if (faults.length === 0) plan = applyChanges(plan, changes)
              else plan = planFromRows(plan.project, mend(after).rows)
            }
            expect(faultsOfRows(rowsOfPlan(plan))).toEqual([])
          }
        },
      ),
      { numRuns: 300 },
    )
  })

  test('keeps what others did to other fields of the same row, and tells what they did to the same one', () => {
    const station = full.stations['s1']!.station
    const renamed = {
      table: 'stations',
      id: 's1',
      before: { ...station, name: 'old' },
      after: station,
    } as RowChange
    const now = applyChanges(full, [
      {
        table: 'stations',
        id: 's1',
        before: station,
        after: { ...station, comment: 'by another' },
      },
    ])
    const { changes, obstacles } = replayChanges(now, invert([renamed]))
    expect([changes[0]!.after, obstacles]).toMatchObject([
      { name: 'old', comment: 'by another' },
      [],
    ])
    const again = applyChanges(full, [
      { table: 'stations', id: 's1', before: station, after: { ...station, name: 'theirs' } },
    ])
    expect(replayChanges(again, invert([renamed]))).toMatchObject({
      changes: [],
      obstacles: [{ how: 'changed', name: 'theirs' }],
    })
  })
})
