import { describe, expect, test } from 'vitest'
import { check } from '../checks'
import { derive } from '../derive'
import { readReportedTable } from '../exchange'
import type { Plan } from '../plan'
import { doAll, wholeDemo } from '../test/plans'
import { radioLoad } from './radio'
import { bindCommand, nodeRows, reconcile, swapCommand, unbindCommand } from './reconcile'

const { plan, catalog } = wholeDemo()
const viewOf = (now: Plan, id = 'air-gate') => derive(now, catalog).stations.get(id)!
const states = (now: Plan) =>
  reconcile(viewOf(now)).map(({ module, state }) => [module?.slot ?? null, state])
const moduleOf = (now: Plan, slot: number) =>
  viewOf(now).modules.find((module) => module.slot === slot)!
const codes = (now: Plan) =>
  check(derive(now, catalog))
    .all.filter(({ code }) => code.startsWith('device.'))
    .map(({ code, at }) => [code, at.words])

describe('devices below a gateway', () => {
  test('are bound, bound to another, missing, open, or planned nowhere', () =>
    expect(states(plan)).toEqual([
      [1, 'bound'],
      [2, 'elsewhere'],
      [3, 'missing'],
      [4, 'planned'],
      [null, 'surplus'],
    ]))
  test('each of which is told', () =>
    expect(codes(plan)).toEqual([
      ['device.elsewhere', 'air-gate · slot 2'],
      ['device.missing', 'air-gate · slot 3'],
      ['device.surplus', 'air-gate'],
      ['device.open', 'air-gate · slot 4'],
    ]))
  test('are only planned while nobody asked the gateway', () => {
    const now = doAll(plan, catalog, { type: 'setReported', id: 'air-gate', reported: null })
    expect(states(now).map(([, state]) => state)).toEqual(Array(4).fill('planned'))
    expect(codes(now)).toEqual([])
  })
  test('bind to what answers at their place, and keep their tag', () => {
    const open = reconcile(viewOf(plan)).find(({ module }) => module?.slot === 4)!
    const now = doAll(plan, catalog, bindCommand(open.module!, open.reported!))
    expect(moduleOf(now, 4).row!.identity).toEqual({
      tag: 'LT-804',
      address: '00:0F:01:00:00:00:21:C7',
      serial: 'AL2-20455',
    })
    expect(states(now)[3]).toEqual([4, 'bound'])
  })
  test('swap twice and all is as before; signals stay with the place', () => {
    const [a, b] = [moduleOf(plan, 1), moduleOf(plan, 2)]
    const once = doAll(plan, catalog, swapCommand(a, b))
    expect(moduleOf(once, 1).row!.identity).toMatchObject({ tag: 'LT-801', serial: 'AL2-20422' })
    expect([...moduleOf(once, 1).signals.values()].map(({ tag }) => tag)).toEqual(['RWB_LT_801'])
    const twice = doAll(once, catalog, swapCommand(moduleOf(once, 1), moduleOf(once, 2)))
    expect(moduleOf(twice, 1).row!.identity).toEqual(a.row!.identity)
  })
  test('move to another node with all their signals in one step', () => {
    const now = doAll(plan, catalog, {
      type: 'moveModule',
      id: 'air-gate.1',
      stationId: 'air-gate',
      slot: 6,
    })
    expect([...moduleOf(now, 6).signals.values()].map(({ tag }) => tag)).toEqual(['RWB_LT_801'])
    expect(moduleOf(now, 6).row!.identity!.tag).toBe('LT-801')
    expect(states(now).find(([slot]) => slot === 6)).toEqual([6, 'elsewhere'])
  })
  test('two of one address are a blocker, and unbinding mends it', () => {
    const double = doAll(plan, catalog, {
      type: 'setDeviceIdentities',
      edits: [
        {
          moduleId: 'air-gate.4',
          identity: { ...moduleOf(plan, 1).row!.identity!, tag: 'X', serial: '' },
        },
      ],
    })
    const found = check(derive(double, catalog)).all.find(({ code }) => code === 'device.twice')!
    expect(found.message).toContain(
      'has the address 00:0F:01:00:00:00:21:A4, which the one of air-gate · slot 1 has too',
    )
    expect(
      codes(doAll(double, catalog, unbindCommand(moduleOf(double, 4)))).map(([code]) => code),
    ).not.toContain('device.twice')
  })
})

test('a list of a gateway is read by its headings or in the usual order', () => {
  const device = { slot: 1, tag: 'LT-1', address: 'AA:BB', serial: '7' }
  expect(readReportedTable('1\tLT-1\tAA:BB\t7').devices).toEqual([device])
  expect(readReportedTable('Serial number;Name;MAC;Node\n7;LT-1;AA:BB;1').devices).toEqual([device])
  expect(readReportedTable('Node,Tag,Address\nN12,A,AA\nx,B,BB\n3,C,').faults).toEqual([
    { line: 3, sentence: 'Line 3: "x" is no number of a node.' },
    { line: 4, sentence: 'Line 4 has neither address nor serial number.' },
  ])
})

// Four bits a node, four nodes a word, the first nibble flags: node 10 stands in word 2, bits 8 to 11
// (common practice, no source).
test('a table of nibbles has every node at its word and bits', () => {
  const rows = nodeRows(viewOf(plan, 'sorter-gate')).filter(({ direction }) => direction === 'in')
  const header = rows[0]!.word * 16 + rows[0]!.firstBit - 4
  expect(
    rows
      .filter(({ slot }) => slot <= 31)
      .map(({ slot, word, firstBit }) => word * 16 + firstBit - header === slot * 4),
  ).not.toContain(false)
  if (header === 0)
    expect(rows.find(({ slot }) => slot === 10)).toMatchObject({ word: 2, firstBit: 8, bits: 4 })
})

// The demo's gateway takes two devices that send every second, or eight that send every eight.
describe('the radio of a gateway', () => {
  const paces = (...seconds: (number | null)[]) =>
    doAll(plan, catalog, {
      type: 'setSendTimes',
      edits: seconds.map((one, i) => ({ moduleId: `air-gate.${i + 1}`, seconds: one })),
    })
  test.each<[(number | null)[], number, string[]]>([
    [[8, 8, 8, 8], 0.5, []],
    [[8, 8, 8, 1], 0.875, []],
    [[8, 8, 1, 2], 1.25, ['device.radioFull']],
    [[null, 60, 8, 8], 0.5, []],
    [[0.5, 8, 8, 8], 0.375, ['device.tooFast']],
  ])('devices that send every %j s use %s of it', (seconds, share, expected) => {
    const now = paces(...seconds)
    expect(radioLoad(viewOf(now))!.share).toBeCloseTo(share, 12)
    const found = check(derive(now, catalog)).all.filter(({ code }) =>
      /^device\.(radio|too)/.test(code),
    )
    expect(found.map(({ code }) => code)).toEqual(expected)
    for (const { command } of found[0]?.fixes() ?? [])
      expect(codes(doAll(now, catalog, command)).map(([code]) => code)).not.toContain(
        'device.tooFast',
      )
  })
  test('other stations have none', () => expect(radioLoad(viewOf(plan, 'intake-a'))).toBeNull())
})
