import { describe, expect, test } from 'vitest'
import { check } from '../../checks'
import { derive, signalOn } from '../../derive'
import { newPlan } from '../../exchange'
import { subslotsOf } from '../../placement'
import { wordRefusal, type Command, type Plan } from '../../plan'
import { doAll, shelfCatalog } from '../../test/plans'
import type { DataLayout } from '../../vocabulary'
import { applyCommand } from '../apply'

const file = 'Brackwater-BWEN.eds'
const sensor = 'TarnVey-LevelEye-20260301-IODD1.1.xml'
const catalog = new Map([
  ...shelfCatalog,
  // The same description once more, as a newer issue would be.
  ['newer', { ...shelfCatalog.get(file)! }],
])

const begin: Command[] = [
  { type: 'addController', id: 'k', name: 'K', inputBytes: 512, outputBytes: 512, aligned: true },
  { type: 'addNetwork', id: 'n', controllerId: 'k', name: 'N', kind: 'ethernet-ip' },
  ...['s', 't'].map((id): Command => ({
    type: 'addStation',
    id,
    networkId: 'n',
    file,
    device: 'BW-EN-1',
    name: id,
    connection: 'Connection4',
    comment: '',
  })),
]
const mailbox: DataLayout = {
  name: 'Mailbox',
  file,
  of: 'connection',
  key: 'Connection4',
  subslot: 1,
  direction: 'in',
  bytes: 32,
  everywhere: true,
  fields: [
    { name: 'Code', type: 'unsigned', offsetBits: 0, bits: 16 },
    { name: 'Active', type: 'bit', offsetBits: 0, bits: 1 },
    { name: 'Port 1', type: 'port', offsetBits: 64, bits: 64, port: 1 },
  ],
}
const set = (layout: DataLayout | null, id = 'l'): Command => ({
  type: 'setDataLayout',
  id,
  layout,
})
const use = (layout: string | null, moduleId = 's'): Command => ({
  type: 'useDataLayout',
  moduleId,
  subslot: 1,
  direction: 'in',
  layout,
})
const tag = (text: string, offsetBits: number, part?: true): Command => ({
  type: 'editSignals',
  edits: [
    {
      id: text,
      tag: text,
      place: { moduleId: 's', subslot: 1, direction: 'in', offsetBits, ...(part && { part }) },
    },
  ],
})
const planWith = (...commands: Command[]) =>
  doAll(newPlan('p', 'P'), catalog, ...begin, ...commands)
const names = (plan: Plan, id = 's') =>
  derive(plan, catalog)
    .stations.get(id)!
    .modules[0]!.layout!.channels.map(({ name }) => name)
const refusal = (...commands: Command[]) => {
  const applied = applyCommand(planWith(...commands.slice(0, -1)), catalog, commands.at(-1)!)
  return applied.ok ? 'done' : wordRefusal(applied.refusal)
}
const codes = (plan: Plan) => check(derive(plan, catalog)).all.map(({ code }) => code)

describe('a data layout of one’s own', () => {
  test('names what the description leaves unnamed, for all of the type', () => {
    expect(names(planWith())).toEqual([])
    for (const id of ['s', 't'])
      expect(names(planWith(set(mailbox)), id)).toEqual(['Code', 'Active', 'Port 1'])
  })
  test('is used for single ones where it is not for all', () => {
    const plan = planWith(set({ ...mailbox, everywhere: false }), use('l', 't'))
    expect([names(plan), names(plan, 't')]).toEqual([[], ['Code', 'Active', 'Port 1']])
  })
  test('gives way where one is to be as described', () =>
    expect(names(planWith(set(mailbox), use('')))).toEqual([]))
  test('takes a signal on the whole and one on its first bit', () => {
    const plan = planWith(set(mailbox), tag('Whole', 0), tag('First', 0, true))
    const [head] = derive(plan, catalog).stations.get('s')!.modules
    expect(head!.layout!.channels.map((channel) => signalOn(head!, channel)?.tag)).toEqual([
      'Whole',
      'First',
      undefined,
    ])
  })
  test('loses no signal when a field goes: it waits', () => {
    const plan = planWith(set(mailbox), tag('First', 0, true), set({ ...mailbox, fields: [] }))
    expect(Object.values(plan.unplaced).map((signal) => signal.tag)).toEqual(['First'])
  })
  test('is forgotten by those that asked for it when it goes', () => {
    const plan = planWith(set({ ...mailbox, everywhere: false }), use('l'), set(null))
    expect(plan.stations['s']!.station.layouts).toEqual({})
  })
  test('counts within the change that brings it', () =>
    expect(
      refusal({ type: 'batch', label: 'b', commands: [set(mailbox), tag('C', 0)] } as Command),
    ).toBe('done'))

  const field = (more: object) =>
    set({ ...mailbox, fields: [{ name: 'X', type: 'unsigned', offsetBits: 0, bits: 16, ...more }] })
  test.each<[string, Command[], string]>([
    ['leaves the block', [field({ offsetBits: 248 })], 'ends at bit 264; there are 32 octets'],
    [
      'overlaps',
      [
        set({
          ...mailbox,
          fields: [mailbox.fields[0]!, { name: 'Y', type: 'unsigned', offsetBits: 8, bits: 16 }],
        }),
      ],
      'field 2 "Y" at 1.0 overlaps "Code"',
    ],
    [
      'splits a described value',
      [
        set({
          ...mailbox,
          key: 'Connection2',
          bytes: 6,
          fields: [{ name: 'Y', type: 'unsigned', offsetBits: 24, bits: 16 }],
        }),
      ],
      'splits "Analog input 1"',
    ],
    ['another size', [set({ ...mailbox, bytes: 30 })], 'was made for 30 octets; the data have 32'],
    ['no such data', [set({ ...mailbox, key: 'Connection9' })], 'does not have'],
    ['a second one', [set(mailbox), set(mailbox, 'm')], 'holds for all of that type already'],
    ['no such file', [set({ ...mailbox, file: 'gone' })], 'not on the Shelf'],
    ['one that is not there', [use('zz')], 'no longer in the plan'],
  ])('%s: refused with the place', (_, commands, words) =>
    expect(refusal(...commands)).toContain(words),
  )
})

describe('on data that are not what it was made for', () => {
  const own = { ...mailbox, everywhere: false }
  test('the description holds and a blocker says why', () => {
    const plan = planWith(set(own), use('l'), {
      type: 'replaceHead',
      id: 's',
      file,
      device: 'BW-EN-1',
      connection: 'Connection3',
    })
    expect(names(plan)).toContain('Analog input 1')
    expect(codes(plan)).toContain('layout.unfit')
  })
  test('a description that changed is told', () => {
    const plan = planWith(set(mailbox))
    const changed = {
      ...plan,
      project: {
        ...plan.project,
        dataLayouts: { l: { ...mailbox, key: 'Connection2' } },
      },
    }
    expect(codes(changed)).toContain('layout.description')
  })
  test('a file that no station has any more is told, with the way to the new one', () => {
    const plan = planWith(
      set(mailbox),
      ...['s', 't'].map((id): Command => ({
        type: 'replaceHead',
        id,
        file: 'newer',
        device: 'BW-EN-1',
        connection: 'Connection4',
      })),
    )
    const found = check(derive(plan, catalog)).all.find(({ code }) => code === 'layout.file')!
    expect(names(doAll(plan, catalog, found.fixes()[0]!.command))).toEqual([
      'Code',
      'Active',
      'Port 1',
    ])
  })
})

describe('a device below a port among other data', () => {
  const below: Command = { type: 'setPort', moduleId: 's', port: 1, file: sensor, device: '4098' }
  test('gives the port’s octets its values, at their place', () => {
    const plan = planWith(set(mailbox), below)
    const { layout } = derive(plan, catalog).stations.get('s')!.modules[0]!
    const own = layout!.channels.filter(({ name }) => name.startsWith('Port 1 '))
    expect(own.length).toBeGreaterThan(0)
    expect(own.every(({ offsetBits, bits }) => offsetBits >= 64 && offsetBits + bits <= 128)).toBe(
      true,
    )
  })
  test('is one of the ports, with the place of its octets', () => {
    const derived = derive(planWith(set(mailbox), below), catalog)
    const view = derived.stations.get('s')!
    expect(subslotsOf(derived.catalog, view, view.modules[0]!)).toMatchObject([
      {
        key: 'p1',
        subslot: 1,
        size: { inputBytes: 8, outputBytes: 0 },
        within: { in: 64, out: null },
      },
    ])
  })
  test('that is larger than the port is told', () => {
    const narrow = {
      ...mailbox,
      fields: [{ name: 'P', type: 'port' as const, offsetBits: 64, bits: 8, port: 1 }],
    }
    expect(codes(planWith(set(narrow), below))).toContain('port.device')
  })
  test('stands below no port that nobody described', () =>
    expect(refusal({ ...below, port: 2 } as Command)).toContain('has no port 2'))
  test('whose port is gone is told', () => {
    const plan = planWith(set(mailbox), below, set(null))
    expect(codes(plan)).toContain('port.device')
  })
})
