import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { doAll, wholeDemo } from '../test/plans'
import { editFor, meaningOf, rangeOfChannel, readRange, settingsOf, unusedOff, wordRange } from './index'

// How makers write ranges, and how everybody does (common practice).
test.each([
  ['4 to 20 mA', '4…20 mA'], ['4-20mA', '4…20 mA'], ['4...20 mA (HART)', '4…20 mA'], ['Current 0..20 mA', '0…20 mA'], ['0 bis 10 V', '0…10 V'], ['±10 V', '±10 V'], ['+/- 10 V', '±10 V'],
  ['-10 to +10 V', '±10 V'], ['-5..5V', '±5 V'], ['1 – 5 V', '1…5 V'], ['0..50 mV', '0…50 mV'], ['0,5 to 4,5 V', '0.5…4.5 V'],
  ['Pt100', 'Pt100'], ['RTD PT 1000, 2-wire', 'Pt1000'], ['Ni100', 'Ni100'], ['Type K', 'type K'], ['Thermocouple J', 'type J'],
  ['channel off', 'off'], ['Disabled', 'off'], ['nicht belegt, aus', 'off'],
  ['weak', null], ['20 to 4 mA', null], ['16 bit', null],
])('%s → %s', (text, words) => {
  const range = readRange(text)
  expect(range && wordRange(range)).toBe(words)
})

test('a range comes back from everybody’s words', () => {
  fc.assert(fc.property(fc.integer({ min: -50, max: 49 }), fc.integer({ min: 1, max: 100 }), fc.constantFrom('mA', 'V', 'mV'), (low, width, unit) => {
    const range = { kind: unit === 'mA' ? 'current' : 'voltage', low, high: low + width, unit } as const
    expect(readRange(wordRange(range))).toEqual(range)
  }))
})

test.each([
  ['Diagnosis wire break', 'wireBreak'], ['Open circuit detection', 'wireBreak'], ['Measuring range', 'range'], ['Input filter', 'filter'], ['Smoothing', 'filter'], ['Input delay in 0.1 ms', 'filter'],
  ['Behaviour on failure', 'outputFailure'], ['Substitute value', 'substitute'], ['Diagnosis short circuit', 'shortCircuit'], ['Watchdog', null],
])('%s means %s', (name, meaning) => expect(meaningOf({ name })).toBe(meaning))

test('a project’s own words come first', () => {
  expect(meaningOf({ name: 'Betriebsart' }, [{ meaning: 'range', words: 'betriebsart' }])).toBe('range')
  expect(meaningOf({ name: 'Input filter' }, [{ meaning: 'wireBreak', words: 'filter' }])).toBe('wireBreak')
})

describe('settings of channels', () => {
  const { plan, catalog } = wholeDemo()
  const derived = derive(plan, catalog)
  const view = derived.stations.get('dosing-1')!
  const module = view.modules.find(({ id }) => id === 'dosing-1.4')!
  const settings = (channel: number) => settingsOf(catalog, view, module, module.layout!.channels[channel]!, [])

  test('are told by the number of the channel, and as they are set', () => {
    expect([0, 1, 6].map((channel) => rangeOfChannel(settings(channel)))).toEqual([{ kind: 'current', low: 4, high: 20, unit: 'mA' }, { kind: 'current', low: 4, high: 20, unit: 'mA' }, { kind: 'off' }])
    expect([0, 1].map((channel) => settings(channel).get('wireBreak')!.words)).toEqual(['on', 'off'])
    expect(settings(0).get('filter')!.words).toBe('strong')
  })

  test.each([
    ['0-10 V', { moduleId: 'dosing-1.4', record: '1.1', parameter: 'Ch0Range', value: 3 }],
    ['0 to 20 mA', { moduleId: 'dosing-1.4', record: '1.1', parameter: 'Ch0Range', value: 2 }],
    ['off', { moduleId: 'dosing-1.4', record: '1.1', parameter: 'Ch0Range', value: 0 }],
    ['0…5 V', expect.stringContaining('Signal range takes channel off, 4 to 20 mA, 0 to 20 mA, 0 to 10 V; "0…5 V" is none of these.')],
  ])('are set as everybody writes it: %s', (text, edit) => expect(editFor(module.id, settings(0).get('range')!, text)).toEqual(edit))

  test('what carries no signal can be switched off, and then is', () => {
    const edits = unusedOff(catalog, view, [])
    expect(edits.length).toBeGreaterThan(0)
    const after = derive(doAll(plan, catalog, { type: 'setParameters', edits }), catalog)
    expect(unusedOff(catalog, after.stations.get('dosing-1')!, [])).toEqual([])
  })
})
