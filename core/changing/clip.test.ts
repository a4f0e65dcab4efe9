import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { derive } from '../derive'
import { doAll, insert, place, smallCatalog, smallPlan } from '../test/plans'
import { type Command, type Plan } from '../plan/index'
import { planPaste, parseClip, applyCommand, effectOf, planFill, copyModules } from '.'

const second: Command = {
  type: 'addStation',
  id: 's2',
  networkId: 'n1',
  file: 'tv',
  device: 'DAP',
  comment: '',
}
const tag = (id: string, moduleId: string, offsetBits: number, text: string): Command => ({
  type: 'editSignals',
  edits: [{ id, place: place(moduleId, offsetBits), tag: text, comment: `about ${text}` }],
})
const full = () =>
  smallPlan(
    insert('a', 1, 'DI'),
    insert('b', 2, 'AO'),
    insert('c', 3, 'DI'),
    tag('x', 'a', 0, 'X'),
    second,
  )
const lane = (plan: Plan, id: string) =>
  Object.fromEntries(
    Object.values(plan.stations[id]!.modules).map(({ slot, module }) => [slot, module]),
  )
const paste = (plan: Plan, ids: string[], stationId: string, slot: number) =>
  planPaste(plan, smallCatalog, copyModules(plan, smallCatalog, new Set(ids))!, stationId, slot)

// The small head: DI in slots 1..3, AO in 2..4.
describe('pasting modules', () => {
  test.each([
    ['a whole lane into an empty one', ['a', 'b', 'c'], 's2', 1, { 1: 'DI', 2: 'AO', 3: 'DI' }, []],
    ['with its gaps', ['a', 'c'], 's2', 1, { 1: 'DI', 3: 'DI' }, []],
    [
      'what is not allowed there goes to the next slot that takes it',
      ['b'],
      's2',
      1,
      { 2: 'AO' },
      [],
    ],
    [
      'what fits is placed and the rest listed',
      ['a', 'b', 'c'],
      's2',
      3,
      { 3: 'DI', 4: 'AO' },
      ['no slot 5'],
    ],
    ['behind what stands already', ['b'], 's1', 1, { 1: 'DI', 2: 'AO', 3: 'DI', 4: 'AO' }, []],
  ] as [string, string[], string, number, object, string[]][])(
    '%s',
    (_, ids, stationId, slot, expected, whys) => {
      const plan = full()
      const { commands, left } = paste(plan, ids, stationId, slot)
      expect(
        lane(
          doAll(plan, smallCatalog, { type: 'batch', label: 'Paste', commands: [...commands] }),
          stationId,
        ),
      ).toEqual(expected)
      expect(left).toHaveLength(whys.length)
      for (const [i, why] of whys.entries()) expect(left[i]!.why).toContain(why)
    },
  )

  test('a tag that stands already stays where it is; comments go along', () => {
    const plan = full()
    const pasted = doAll(plan, smallCatalog, ...paste(plan, ['a'], 's2', 1).commands)
    expect(Object.values(pasted.stations['s2']!.signals)).toMatchObject([
      { tag: '', comment: 'about X' },
    ])
    expect(check(derive(pasted, smallCatalog)).all.map(({ code }) => code)).not.toContain(
      'tag.duplicate',
    )
  })

  test('after cutting, tags go along', () => {
    const plan = full()
    const taken = copyModules(plan, smallCatalog, new Set(['a']))!
    const cut = doAll(
      plan,
      smallCatalog,
      { type: 'removeModules', ids: ['a'] },
      { type: 'editSignals', edits: [{ id: 'x', tag: '', comment: '' }] },
    )
    expect(
      Object.values(
        doAll(cut, smallCatalog, ...planPaste(cut, smallCatalog, taken, 's2', 1).commands).stations[
          's2'
        ]!.signals,
      ),
    ).toMatchObject([{ tag: 'X' }])
  })

  test('a station on another file takes nothing, and says so', () => {
    const plan = full()
    const odd = {
      ...copyModules(plan, smallCatalog, new Set(['a']))!,
      modules: [
        {
          file: 'elsewhere',
          module: 'DI',
          slot: 1,
          plugged: {},
          layouts: {},
          orders: {},
          values: {},
          signals: [],
        },
      ],
    }
    expect(planPaste(plan, smallCatalog, odd, 's2', 1)).toEqual({
      commands: [],
      placed: [],
      left: [{ words: 'DI', why: 'the station stands on another description file' }],
    })
  })

  test.each([
    ['not json', null],
    ['{"kataxisClip":1,"modules":[]}', null],
    ['{"kataxisClip":2}', null],
    [JSON.stringify(copyModules(full(), smallCatalog, new Set(['a']))), 1],
  ])('the clipboard may hold anything: %s', (text, modules) => {
    expect(parseClip(text)?.modules.length ?? null).toBe(modules)
  })
})

test('filling free slots takes those that the description allows', () => {
  const plan = full()
  expect(
    planFill(plan, smallCatalog, 's1', 1, 'AO').map((command) => 'slot' in command && command.slot),
  ).toEqual([4])
  expect(
    planFill(plan, smallCatalog, 's2', 2, 'DI').map((command) => 'slot' in command && command.slot),
  ).toEqual([2, 3])
  expect(planFill(plan, smallCatalog, 'gone', 1, 'DI')).toEqual([])
})

test('the effect of a replacement: what stays, goes and loses its place', () => {
  const plan = full()
  const applied = applyCommand(plan, smallCatalog, { type: 'replaceModule', id: 'b', module: 'AO' })
  const swapped = applyCommand(plan, smallCatalog, { type: 'removeModules', ids: ['a'] })
  if (!applied.ok || !swapped.ok) throw new Error('refused')
  expect(effectOf(applied.changes, 3)).toMatchObject({
    kept: 3,
    removed: [],
    unplaced: [],
    readdressed: [],
  })
  expect(effectOf(swapped.changes, 3)).toMatchObject({
    kept: 2,
    removed: [{ id: 'a' }],
    unplaced: [{ tag: 'X' }],
  })
})
