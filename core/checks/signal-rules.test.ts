import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import type { Command, Plan } from '../plan'
import type { FactsEdit } from '../signals'
import { doAll, wholeDemo } from '../test/plans'
import { check } from './check'
import { planSignalRules, stationSignalRules } from './signal-rules'

const { plan: demo, catalog } = wholeDemo()
const facts = (id: string, set: FactsEdit): Command => ({
  type: 'editSignals',
  edits: [{ id, facts: set }],
})
const found = (plan: Plan, code: string, id?: string) =>
  check(derive(plan, catalog)).all.filter(
    (finding) => finding.code === code && (id === undefined || finding.at.id === id),
  )

/** A plan that breaks each rule, at which signal, and a part of what it says. */
const cases: [code: string, signal: string, broken: Command[], says: string][] = [
  [
    'signal.kind',
    's042',
    [facts('s042', { kind: 'DI' })],
    'INT_PT_102 needs a channel of the kind DI; at intake-a · slot 5 it sits on one of the kind AI',
  ],
  [
    'signal.kind',
    's001',
    [facts('s001', { low: 0, high: 8, unit: 'm' })],
    'INT_P101_Run needs a channel of the kind AI; at intake-a · slot 2 it sits on one of the kind DI',
  ],
  [
    'signal.mismatch',
    's042',
    [facts('s042', { transmitter: '0…10 V' })],
    'A voltage is connected to a channel for a current',
  ],
  [
    'signal.channelRange',
    'd124',
    [facts('d124', { transmitter: '0…10 V' })],
    'The range of the channel of CTL_TT_901 at k2-rack · slot 5 is not known, so 0…10 V cannot be compared with it.',
  ],
  [
    'signal.wider',
    's042',
    [facts('s042', { transmitter: '0…20 mA' })],
    'gives 0…20 mA, wider than the 4…20 mA its channel is set to',
  ],
  // 4 of 8 m too much at the bottom would be 25 %; at 4 mA a 0–20 mA channel stands at a fifth of
  // its counts.
  ['signal.scaling', 's041', [], 'at 0 m it shows 1.6, 1.6 too much. Right is 6000…30000 = 0…8'],
  [
    'signal.supplyUnknown',
    's042',
    [facts('s042', { wires: 2, supply: null })],
    'It is not known what feeds the two-wire loop of INT_PT_102 at intake-a · slot 5.',
  ],
  [
    'signal.readAs',
    's042',
    [facts('s042', { readAs: 'UINT' })],
    'is sent as INT and read as UINT: -16 shows as 65520',
  ],
  [
    'signal.readAs',
    's042',
    [facts('s042', { readAs: 'REAL' })],
    'other octets are read than are sent',
  ],
  ['signal.supply', 's044', [], 'drives its loop itself, and the channel feeds it too'],
  ['signal.supply', 's042', [facts('s042', { supply: 'device' })], 'has two wires and no supply'],
  ['signal.wireBreak', 's041', [], 'No channel that begins at 0 mA tells a broken wire'],
  [
    'signal.wireBreak',
    's042',
    [
      {
        type: 'setParameters',
        edits: [{ moduleId: 'intake-a.5', record: '1.1', parameter: 'Ch1WireBreak', value: 0 }],
      },
    ],
    'Wire-break diagnosis of INT_PT_102 at intake-a · slot 5 is off',
  ],
  [
    'signal.partner',
    's042',
    [facts('s042', { partner: 'NO_SUCH' })],
    'INT_PT_102 belongs to NO_SUCH, and there is no such signal',
  ],
]

describe('every rule', () => {
  test('is broken once', () =>
    expect(new Set(cases.map(([code]) => code))).toEqual(
      new Set([...stationSignalRules, ...planSignalRules].map(({ code }) => code)),
    ))

  test.each(cases)('%s at %s', (code, signal, broken, says) => {
    if (broken.length > 0) expect(found(demo, code, signal)).toEqual([])
    const [finding] = found(doAll(demo, catalog, ...broken), code, signal)
    expect(finding?.message).toContain(says)
  })
  test.each(cases)('what %s offers at %s mends it', (code, signal, broken) => {
    const before = doAll(demo, catalog, ...broken)
    for (const finding of found(before, code, signal)) {
      for (const { command } of finding.fixes())
        expect(found(doAll(before, catalog, command), code, signal)).toEqual([])
    }
  })
  test('how a module counts is not taken for granted', () => {
    const unsaid = doAll(
      demo,
      catalog,
      { type: 'setProject', set: { moduleFormats: {} } },
      facts('s042', { readAs: 'UINT' }),
    )
    expect([...found(unsaid, 'signal.scaling'), ...found(unsaid, 'signal.readAs')]).toEqual([])
  })
  test('what is right says nothing', () => {
    expect(
      check(derive(demo, catalog))
        .all.filter(({ code, severity }) => code.startsWith('signal.') && severity === 'blocker')
        .map(({ code, at }) => [code, at.id]),
    ).toEqual([
      ['signal.scaling', 's041'],
      ['signal.supply', 's044'],
    ])
  })
})
