import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { legalTag, tagFault, tagIdentity, type TagRules } from './identifier'
import { fillPattern, nextInSeries, seriesAt } from './pattern'

const rules: TagRules = { tagLength: 32, tagCase: 'any', reservedWords: [] }

// What a target takes beside the standard is the project's own decision.
describe('rules of a project', () => {
  test.each<[string, Partial<TagRules>, string | null]>([
    [
      'Pump_1',
      { tagCase: 'upper' },
      '"u" at position 2 is a small letter; this project writes capitals',
    ],
    ['PUMP_1', { tagCase: 'upper' }, null],
    ['pump_A', { tagCase: 'lower' }, '"A" at position 6 is a capital letter'],
    ['motor', { reservedWords: ['MOTOR'] }, 'MOTOR is reserved in this project'],
    ['Pump_1_Run', { tagLength: 8 }, 'its 10 characters are more than the 8'],
  ])('%s under %j', (tag, more, says) => {
    const fault = tagFault(tag, { ...rules, ...more })
    if (says === null) expect(fault).toBeNull()
    else expect(fault).toContain(says)
  })
  test('whatever is typed, what is proposed instead keeps them', () => {
    const some = fc.record({
      tagLength: fc.integer({ min: 8, max: 40 }),
      tagCase: fc.constantFrom('any', 'upper', 'lower'),
      reservedWords: fc.constantFrom([], ['MOTOR', 'a']),
    })
    fc.assert(
      fc.property(
        fc.oneof(fc.string(), fc.constantFrom('motor', 'A', 'END_CONFIGURATION')),
        some,
        (text, own) => {
          const legal = legalTag(text, own as TagRules)
          if (legal !== '') expect(tagFault(legal, own as TagRules)).toBeNull()
        },
      ),
    )
  })
})

// IEC 61131-3:2013, 6.1.2 identifiers.
describe('identifiers', () => {
  test.each(['A', '_x', 'Pump_1_Run', 'a1', 'ifx', 'P101'])('%s is legal', (tag) =>
    expect(tagFault(tag, rules)).toBeNull(),
  )
  test.each([
    ['1A', '"1"'],
    ['a b', '" " at position 2'],
    ['a-b', '"-"'],
    ['grün', '"ü"'],
    ['a__b', 'position 2'],
    ['a_', 'ends with'],
    ['if', 'keyword'],
    ['Real', 'keyword'],
    ['x'.repeat(33), '33 characters'],
    ['a.b', '"."'],
  ])('%s is not: %s', (tag, why) => expect(tagFault(tag, rules)).toContain(why))
  test('case makes no difference', () => expect(tagIdentity('Pump_A')).toBe(tagIdentity('PUMP_a')))
  test('what is proposed is legal, or nothing', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (text) => {
        const legal = legalTag(text, rules)
        if (legal !== '') expect(tagFault(legal, rules)).toBeNull()
      }),
    )
  })
})

describe('patterns', () => {
  const fields = {
    station: 'intake-a',
    network: 'Intake',
    slot: 3,
    subslot: 1,
    channel: 7,
    name: 'Channel 7',
    kind: 'DI',
    terminal: 'X1:7',
    tag: 'OLD',
    signal: 'Pump 1: running',
    area: 'Intake',
    designation: '=A1-P1',
  }
  test.each([
    ['{station}_{kind}{slot:02}_{channel}', { text: 'intake-a_DI03_7' }],
    ['{station:u}', { text: 'INTAKE-A' }],
    ['{kind:l}{n:03}', { text: 'di012' }],
    ['{tag}_x', { text: 'OLD_x' }],
    ['plain', { text: 'plain' }],
    ['{station:->_}', { text: 'intake_a' }],
    ['{station:->_:u}', { text: 'INTAKE_A' }],
    ['{name:Channel >C}', { text: 'C7' }],
    ['{signal: >_:l}', { text: 'pump_1:_running' }],
    ['{designation:=>:->_}', { text: 'A1_P1' }],
    ['{network}_{area}_{terminal}', { text: 'Intake_Intake_X1:7' }],
    [
      '{channel:>x}',
      {
        fault:
          '">x" does nothing to {channel}; u, l, a number of digits up to 30, such as 02, +1, *10 and old>new do.',
      },
    ],
    [
      '{name:upper}',
      {
        fault:
          '"upper" does nothing to {name}; u, l, a number of digits up to 30, such as 02, +1, *10 and old>new do.',
      },
    ],
  ])('%s', (pattern, result) => expect(fillPattern(pattern, fields, 12)).toEqual(result))
  test.each(['{nope}', 'a{', '{slot', 'x}'])('%s is told', (pattern) =>
    expect(fillPattern(pattern, fields, 1)).toHaveProperty('fault'),
  )

  test.each([
    ['{n:*10:+90}', '210'],
    ['{channel:+1:02}', '08'],
    ['{channel:-1}', '6'],
  ])('%s reckons', (pattern, text) => expect(fillPattern(pattern, fields, 12)).toEqual({ text }))

  // What a spreadsheet does with two start cells, and what names need besides: never the same one
  // twice.
  test.each<[string[], number[], (string | null)[]]>([
    [['P_101'], [1, 2], ['P_102', 'P_103']],
    [
      ['P_101', 'P_103'],
      [2, 3, -1],
      ['P_105', 'P_107', 'P_099'],
    ],
    [
      ['010', '009'],
      [2, 3, 10, 11],
      ['008', '007', '000', null],
    ],
    [['A1-X2:1', 'A1-X2:3'], [2], ['A1-X2:5']],
    [['P_101_LS2', 'P_102_LS2'], [2], ['P_103_LS2']],
    [
      ['P_101_Run', 'P_101_Rdy'],
      [2, 3, 4],
      ['P_102_Run', 'P_102_Rdy', 'P_103_Run'],
    ],
    [
      ['open', 'closed'],
      [2, 3],
      ['open', 'closed'],
    ],
    [
      ['V1', 'V5', 'V7'],
      [3, 4],
      ['V8', 'V12'],
    ],
    [['9', '10'], [2], ['11']],
    [[], [0], [null]],
  ])('%j goes on', (texts, at, expected) =>
    expect(at.map((index) => seriesAt(texts, index))).toEqual(expected),
  )

  test('a series begins with what it was given, and no number in it comes twice', () => {
    const text = fc
      .tuple(fc.constantFrom('P_', 'X2:', 'A'), fc.nat(300), fc.constantFrom('', '_Run', 'm'))
      .map(([before, number, behind]) => `${before}${number}${behind}`)
    fc.assert(
      fc.property(fc.uniqueArray(text, { minLength: 1, maxLength: 4 }), (texts) => {
        expect(texts.map((_, i) => seriesAt(texts, i))).toEqual(texts)
        const longer = Array.from({ length: 40 }, (_, i) => seriesAt(texts, i)).filter(
          (one) => one !== null,
        )
        expect(new Set(longer).size).toBe(longer.length)
      }),
    )
  })

  test.each([
    ['P_101_Run', 1, 'P_102_Run'],
    ['X2:09', 1, 'X2:10'],
    ['V099', 2, 'V101'],
    ['text', 1, 'text'],
    ['P1', -5, 'P0'],
  ])('after %s, %d on: %s', (text, step, next) => expect(nextInSeries(text, step)).toBe(next))
})
