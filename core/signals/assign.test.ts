import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import type { SignalFacts, SignalRow } from '../plan'
import { doAll, wholeDemo } from '../test/plans'
import { assignSignals } from './assign'

const { plan, catalog } = wholeDemo()
const derived = derive(plan, catalog)
const waiting = (id: string, facts: SignalFacts): SignalRow => ({
  id,
  place: null,
  tag: id,
  comment: '',
  terminal: '',
  facts,
})

describe('the next free channel that fits', () => {
  test('begins where somebody stands, in the Board’s order, and goes round', () => {
    const { placed, left } = assignSignals(
      derived,
      [waiting('a', { kind: 'AI' }), waiting('b', { kind: 'AI' }), waiting('c', { kind: 'DO' })],
      'intake-b.3',
    )
    expect(left).toEqual([])
    expect(placed.map(({ signal, words }) => [signal.id, words])).toEqual([
      ['a', 'intake-b · slot 3 · Channel 6'],
      ['b', 'intake-b · slot 3 · Channel 7'],
      ['c', 'Screen-1 · slot 3 · Output 4'],
    ])
    const again = doAll(plan, catalog, {
      type: 'editSignals',
      edits: placed.map(({ signal: { id, tag, facts }, place }) => ({ id, tag, facts, place })),
    })
    expect(again.stations['intake-b']!.signals['a']!.place).toMatchObject({
      moduleId: 'intake-b.3',
      offsetBits: 96,
    })
  })
  test('asks whether the channel can take what the transmitter gives', () => {
    const { placed, left } = assignSignals(
      derived,
      [
        waiting('v', { kind: 'AI', transmitter: '0…10 V' }),
        waiting('t', { kind: 'AI', transmitter: 'type K' }),
      ],
      'intake-b.3',
    )
    expect(placed.map(({ signal, words }) => [signal.id, words])).toEqual([
      ['v', 'intake-b · slot 3 · Channel 6'],
      ['t', 'k2-rack · slot 5 · Value 2'],
    ])
    expect(left).toEqual([])
    const ai = {
      ...derived,
      controllers: derived.controllers.map((one) => ({
        ...one,
        networks: one.networks.filter(({ network }) => network.name === 'Intake'),
      })),
    }
    expect(
      assignSignals(ai, [waiting('t', { kind: 'AI', transmitter: 'type K' })], null).left[0]!.why,
    ).toMatch(/^none of the \d+ free AI channels can be set to type K$/)
  })
  test.each<[SignalFacts, string]>([
    [{}, 'which kind of channel it needs is not known'],
    [{ kind: 'AI' }, 'no AI channel is free'],
  ])('%j: %s', (facts, says) => {
    const none = { ...derived, controllers: [] }
    expect(assignSignals(none, [waiting('x', facts)], null).left[0]!.why).toContain(says)
  })
  test('no channel is given twice, whatever waits', () => {
    const many = Array.from({ length: 700 }, (_, i) =>
      waiting(`w${i}`, { kind: (['DI', 'DO', 'AI', 'AO'] as const)[i % 4]! }),
    )
    const { placed, left } = assignSignals(derived, many, 'dosing-1')
    expect(new Set(placed.map(({ place }) => JSON.stringify(place))).size).toBe(placed.length)
    expect(placed.length + left.length).toBe(700)
  })
})
