import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive, signalOn } from '../derive'
import { readDeviceFile } from '../device-files'
import type { Electrical } from '../catalog'
import type { WrittenSheet } from '../device-files/sheet/schema'
import { channelsOfStation, newPlan } from '../exchange'
import type { Plan, SignalFacts } from '../plan'
import { doAll, insert, wholeDemo } from '../test/plans'
import { editFor, isSwitchedOff, rangeOfChannel, settingsOf, unusedOff } from './index'
import { wordRange, meaningOf, readRange } from '../vocabulary'

// How makers write ranges, and how everybody does (common practice).
test.each([
  ['4 to 20 mA', '4…20 mA'],
  ['4-20mA', '4…20 mA'],
  ['4...20 mA (HART)', '4…20 mA'],
  ['Current 0..20 mA', '0…20 mA'],
  ['0 bis 10 V', '0…10 V'],
  ['±10 V', '±10 V'],
  ['+/- 10 V', '±10 V'],
  ['-10 to +10 V', '±10 V'],
  ['-5..5V', '±5 V'],
  ['1 – 5 V', '1…5 V'],
  ['0..50 mV', '0…50 mV'],
  ['0,5 to 4,5 V', '0.5…4.5 V'],
  ['Pt100', 'Pt100'],
  ['RTD PT 1000, 2-wire', 'Pt1000'],
  ['Ni100', 'Ni100'],
  ['Type K', 'type K'],
  ['Thermocouple J', 'type J'],
  ['channel off', 'off'],
  ['Disabled', 'off'],
  ['nicht belegt, aus', 'off'],
  ['weak', null],
  ['20 to 4 mA', null],
  ['16 bit', null],
])('%s → %s', (text, words) => {
  const range = readRange(text)
  expect(range && wordRange(range)).toBe(words)
})

test('a range comes back from everybody’s words', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -50, max: 49 }),
      fc.integer({ min: 1, max: 100 }),
      fc.constantFrom('mA', 'V', 'mV'),
      (low, width, unit) => {
        const range = {
          kind: unit === 'mA' ? 'current' : 'voltage',
          low,
          high: low + width,
          unit,
        } as const
        expect(readRange(wordRange(range))).toEqual(range)
      },
    ),
  )
})

test.each([
  ['Diagnosis wire break', 'wireBreak'],
  ['Open circuit detection', 'wireBreak'],
  ['Measuring range', 'range'],
  ['Input filter', 'filter'],
  ['Smoothing', 'filter'],
  ['Input delay in 0.1 ms', 'filter'],
  ['Behaviour on failure', 'outputFailure'],
  ['Substitute value', 'substitute'],
  ['Diagnosis short circuit', 'shortCircuit'],
  ['Watchdog', null],
])('%s means %s', (name, meaning) => expect(meaningOf({ name })).toBe(meaning))

test('a project’s own words come first', () => {
  expect(meaningOf({ name: 'Betriebsart' }, [{ meaning: 'range', words: 'betriebsart' }])).toBe(
    'range',
  )
  expect(meaningOf({ name: 'Input filter' }, [{ meaning: 'wireBreak', words: 'filter' }])).toBe(
    'wireBreak',
  )
})

describe('settings of channels', () => {
  const { plan, catalog } = wholeDemo()
  const derived = derive(plan, catalog)
  const view = derived.stations.get('dosing-1')!
  const module = view.modules.find(({ id }) => id === 'dosing-1.4')!
  const settings = (channel: number) =>
    settingsOf(catalog, view, module, module.layout!.channels[channel]!, [])

  test('are told by the number of the channel, and as they are set', () => {
    expect([0, 1, 6].map((channel) => rangeOfChannel(settings(channel), {}, {})?.range)).toEqual([
      { kind: 'current', low: 4, high: 20, unit: 'mA' },
      { kind: 'current', low: 4, high: 20, unit: 'mA' },
      { kind: 'off' },
    ])
    expect([0, 1].map((channel) => settings(channel).get('wireBreak')!.words)).toEqual([
      'on',
      'off',
    ])
    expect(settings(0).get('filter')!.words).toBe('strong')
  })

  // First what sets it, then what fixes it, then what somebody entered; what the transmitter gives
  // is no reason.
  test.each<[string, Electrical, SignalFacts, [string, string] | null]>([
    ['a parameter', { range: '0…10 V' }, { channelRange: '0…20 mA' }, ['4…20 mA', 'parameter']],
    ['a sheet', { range: '0…10 V' }, { channelRange: '0…20 mA' }, ['0…10 V', 'sheet']],
    ['somebody in the plan', {}, { channelRange: '0…20 mA' }, ['0…20 mA', 'plan']],
    ['nobody', {}, { transmitter: '4…20 mA' }, null],
  ])('a range is said by %s', (who, electrical, facts, expected) => {
    const found = rangeOfChannel(who === 'a parameter' ? settings(0) : new Map(), electrical, facts)
    expect(found && [wordRange(found.range), found.source]).toEqual(expected)
  })

  test.each([
    ['0-10 V', { moduleId: 'dosing-1.4', record: '1.1', parameter: 'Ch0Range', value: 3 }],
    ['0 to 20 mA', { moduleId: 'dosing-1.4', record: '1.1', parameter: 'Ch0Range', value: 2 }],
    ['off', { moduleId: 'dosing-1.4', record: '1.1', parameter: 'Ch0Range', value: 0 }],
    [
      '0…5 V',
      expect.stringContaining(
        'Signal range takes channel off, 4 to 20 mA, 0 to 20 mA, 0 to 10 V; "0…5 V" is none of these.',
      ),
    ],
  ])('are set as everybody writes it: %s', (text, edit) =>
    expect(editFor(module.id, settings(0).get('range')!, text)).toEqual(edit),
  )

  test('what carries no signal can be switched off, and then is', () => {
    const edits = unusedOff(catalog, view, [])
    expect(edits.length).toBeGreaterThan(0)
    const after = derive(doAll(plan, catalog, { type: 'setParameters', edits }), catalog)
    const switched = after.stations.get('dosing-1')!
    expect(unusedOff(catalog, switched, [])).toEqual([])
    const areOff = (from: typeof view) =>
      [...channelsOfStation(from)].filter((one) =>
        isSwitchedOff(catalog, from, one.module, one.channel, []),
      )
    expect(areOff(switched).length - areOff(view).length).toBe(edits.length)
    expect(
      areOff(switched).every(({ module: carrier, channel }) => !signalOn(carrier, channel)),
    ).toBe(true)
  })
})

describe('ranges of a device sheet', () => {
  const range = (key: string, byte: number, group = '', name = 'Measuring range') => ({
    key,
    name,
    group,
    type: 'uint8' as const,
    byte,
    default: 1,
    texts: { 0: 'off', 1: '4 to 20 mA', 2: '0 to 10 V' },
  })
  const analog = (parameters: ReturnType<typeof range>[]): WrittenSheet => ({
    kataxisSheet: 1,
    maker: 'Tarn & Vey',
    name: 'Node',
    network: 'ring',
    slots: { count: 2 },
    modules: [
      {
        key: 'ai',
        name: '4 AI',
        inputs: [{ name: 'Level', type: 'int16', count: 4 }],
        parameters: [{ index: 1, length: 4, parameters }],
      },
    ],
  })
  /** Ranges of the four channels before and after the second one was set to 0 to 10 V. */
  const rangesAfter = (sheet: WrittenSheet) => {
    const { file } = readDeviceFile(new TextEncoder().encode(JSON.stringify(sheet)), 'node.json')
    const catalog = new Map([['sheet', file!]])
    const plan = doAll(
      newPlan('p', 'P'),
      catalog,
      {
        type: 'addController',
        id: 'k1',
        name: 'K1',
        inputBytes: 100,
        outputBytes: 100,
        aligned: true,
      },
      {
        type: 'addNetwork',
        id: 'n1',
        controllerId: 'k1',
        name: 'N1',
        kind: 'ring',
      },
      {
        type: 'addStation',
        id: 's1',
        networkId: 'n1',
        file: 'sheet',
        device: 'Node',
        name: 's1',
        comment: '',
      },
      insert('m1', 1, 'ai'),
    )
    const ranges = (now: Plan) => {
      const view = derive(now, catalog).stations.get('s1')!
      const module = view.modules.find(({ id }) => id === 'm1')!
      return module.layout!.channels.map((channel) =>
        settingsOf(catalog, view, module, channel, []).get('range')!,
      )
    }
    const edit = editFor('m1', ranges(plan)[1]!, '0 to 10 V')
    if (typeof edit === 'string') throw new Error(edit)
    return ranges(doAll(plan, catalog, { type: 'setParameters', edits: [edit] })).map(
      ({ words, isOfModule }) => (isOfModule ? `all ${words}` : words),
    )
  }

  test.each([
    [
      'told apart by the headings that they stand under',
      [0, 1, 2, 3].map((i) => range(`r${i}`, i, `Channel ${i + 1}`)),
      ['4…20 mA', '0…10 V', '4…20 mA', '4…20 mA'],
    ],
    [
      'told apart by the numbers in their names, whatever their order',
      [3, 2, 1, 0].map((i) => range(`r${i}`, i, '', `Range of input ${i}`)),
      ['4…20 mA', '0…10 V', '4…20 mA', '4…20 mA'],
    ],
    [
      'told apart by their order, one for each channel',
      [0, 1, 2, 3].map((i) => range(`r${i}`, i)),
      ['4…20 mA', '0…10 V', '4…20 mA', '4…20 mA'],
    ],
    ['one for the whole module', [range('r', 0)], Array<string>(4).fill('all 0…10 V')],
  ])('%s', (_, parameters, expected) => expect(rangesAfter(analog(parameters))).toEqual(expected))
})
