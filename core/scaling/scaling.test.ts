import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  errorAt,
  ne43Marks,
  probe,
  resolution,
  rightScaling,
  scaled,
  uncompensated,
  usualScaling,
  worstError,
  mismatch,
  formatFault,
  type Chain,
} from './chain'
import { shareAt, tableFault, valueAt } from './characteristic'
import { inverse } from './curve'
import { commonFormats, quantised, readAs } from './raw-formats'
import type { RawFormat } from '../vocabulary/raw-format'
import { resistanceThermometer } from './resistance-thermometers'
import { thermocouple, thermocoupleTypes } from './thermocouples'
import { readRange } from '../vocabulary'

const chain = (
  transmitter: string,
  channel: string,
  format: keyof typeof commonFormats | RawFormat,
  low = 0,
  high = 100,
  more: Partial<Chain> = {},
): Chain => ({
  process: { low, high, unit: '%' },
  characteristic: { kind: 'linear' },
  transmitter: readRange(transmitter)!,
  channel: readRange(channel)!,
  format: typeof format === 'string' ? commonFormats[format]! : format,
  ...more,
})

describe('resistance thermometers', () => {
  // IEC 60751:2008, table 1; nickel from memory.
  test.each([
    ['Pt100', -200, 18.52],
    ['Pt100', -100, 60.26],
    ['Pt100', 0, 100],
    ['Pt100', 100, 138.51],
    ['Pt100', 200, 175.86],
    ['Pt100', 850, 390.48],
    ['Pt1000', 100, 1385.1],
    ['Ni100', 100, 161.8],
    ['Ni100', -60, 69.5],
  ])('%s at %i °C has %d Ω', (type, celsius, ohms) => {
    expect(resistanceThermometer(type)!.at(celsius)).toBeCloseTo(
      ohms,
      type === 'Pt1000' ? 0 : type.startsWith('Ni') ? 1 : 2,
    )
  })
  test('there and back over the whole range', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('Pt100', 'Pt500', 'Pt1000', 'Ni100', 'Ni1000'),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (type, share) => {
          const curve = resistanceThermometer(type)!
          const celsius = curve.from + share * (curve.to - curve.from)
          expect(inverse(curve, curve.at(celsius))).toBeCloseTo(celsius, 6)
        },
      ),
    )
    expect(inverse(resistanceThermometer('Pt100')!, 400)).toBeNull()
    expect(resistanceThermometer('Cu10')).toBeNull()
  })
})

describe('thermocouples', () => {
  // NIST ITS-90 Thermocouple Database (NIST Monograph 175; the same reference functions as IEC
  // 60584-1): every tenth degree of its printed tables.
  const tables = readFileSync(new URL('test/its-90.txt', import.meta.url), 'utf8')
    .trim()
    .split('\n')
    .map((line) => line.split(' '))
  test('all eight types are there', () =>
    expect(tables.map(([type]) => type)).toEqual(thermocoupleTypes))
  test.each(tables.map(([type, ...rows]) => [type!, rows] as const))(
    'type %s is as printed',
    (type, rows) => {
      const { at } = thermocouple(type)!
      for (const row of rows) {
        const [celsius, mv] = row.split(':').map(Number) as [number, number]
        expect(Math.abs(at(celsius) - mv), `${type} at ${celsius}`).toBeLessThan(0.00051)
      }
    },
  )
  // NIST ITS-90 tables of type K: 41.276 mV at 1000 °C, 1.000 mV at 25 °C; 40.276 mV lies between
  // the 40.101 of 970 °C and the 40.494 of 980.
  test('a cold end that is not at 0 °C takes its share of the voltage', () => {
    const warm = chain('type K', 'type K', 'tenths', 0, 1300, {
      channel: { kind: 'thermocouple', type: 'K', coldEnd: 25 },
    })
    expect(probe(warm, 'process', 1000)).toMatchObject({
      signal: expect.closeTo(40.276, 2),
      raw: 10_000,
      value: expect.closeTo(1000, 6),
    })
    expect(probe(warm, 'process', 25).signal).toBeCloseTo(0, 9)
    expect(uncompensated(warm, 1000)).toBeCloseTo(974.4, 1)
    expect(uncompensated(chain('type K', 'type K', 'tenths'), 1000)).toBeCloseTo(1000, 6)
    expect(uncompensated(chain('Pt100', 'Pt100', 'tenths'), 100)).toBeNull()
  })
  test('back to the temperature', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...thermocoupleTypes),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (type, share) => {
          const curve = thermocouple(type)!
          const celsius = curve.from + 5 + share * (curve.to - curve.from - 5)
          expect(inverse(curve, curve.at(celsius))).toBeCloseTo(celsius, 3)
        },
      ),
    )
  })
})

describe('counts', () => {
  // Common practice: 0–20 mA over 0…65535, a transmitter of 4–20 mA uses 13107…65535.
  const wide = chain('4-20 mA', '0-20 mA', 'u65535')
  test('the part of the raw range that the transmitter uses', () => {
    expect(rightScaling(wide)).toEqual({ rawLow: 13_107, rawHigh: 65_535, low: 0, high: 100 })
    expect(probe(wide, 'signal', 4)).toMatchObject({ raw: 13_107, process: 0, value: 0 })
    expect(probe(wide, 'process', 100)).toMatchObject({ signal: 20, raw: 65_535 })
    expect(probe(wide, 'raw', 65_521).signal).toBeCloseTo(19.9957, 4)
  })
  test('scaled over the whole raw range, 4 mA shows 20 and 12 mA 60', () => {
    const wrong = usualScaling(wide)!
    expect(
      [4, 12].map((ma) => scaled(wrong, probe(wide, 'signal', ma).raw!, wide.characteristic)),
    ).toEqual([expect.closeTo(20, 3), expect.closeTo(60, 2)])
    expect(errorAt(wide, wrong, 0)).toBeCloseTo(20, 3)
    expect(worstError(wide, wrong)).toEqual({ error: expect.closeTo(20, 3), process: 0 })
    expect(worstError(wide, rightScaling(wide)!)!.error).toBeLessThan(0.001)
  })
  // Common practice.
  test.each<[string, Chain, number, number]>([
    ['0–5 V over 0…64000 has room above', chain('0-5 V', '0-5 V', 'u64000'), 2.5, 32_000],
    ['12 mA on 4–20 mA over 0…32000', chain('4-20 mA', '4-20 mA', 'i32000'), 12, 16_000],
    ['4 mA on 4–20 mA over 0…32000', chain('4-20 mA', '4-20 mA', 'i32000'), 4, 0],
    ['±10 V over a signed format goes below zero', chain('±10 V', '±10 V', 'i32767'), -5, -16_383],
    ['±10 V over an unsigned one does not', chain('±10 V', '±10 V', 'u65535'), 0, 32_768],
    ['µA', chain('4-20 mA', '0-20 mA', 'microamps'), 4.0004, 4000],
    ['mV of a range in volts', chain('0-10 V', '0-10 V', 'millivolts'), 2.5, 2500],
    ['left-justified twelve bits', chain('0-20 mA', '0-20 mA', 'left12'), 10, 32_768],
    ['Pt100 in 0.1 °C', chain('Pt100', 'Pt100', 'tenths'), 138.5055, 1000],
    ['type K in 0.1 °C', chain('type K', 'type K', 'tenths'), 41.276, 10_000],
  ])('%s', (_, one, signal, raw) => expect(probe(one, 'signal', signal).raw).toBe(raw))

  test('beyond the bounds a value stops, or becomes its code', () => {
    expect(quantised(commonFormats['u65535']!, 67_173)).toEqual({ raw: 65_535, beyond: 'over' })
    const coded: RawFormat = {
      ...commonFormats['i30000']!,
      least: -1500,
      most: 31_500,
      underflow: -32_768,
      overflow: 32_767,
    }
    expect([quantised(coded, 31_501), quantised(coded, -1501), quantised(coded, -1500)]).toEqual([
      { raw: 32_767, beyond: 'over' },
      { raw: -32_768, beyond: 'under' },
      { raw: -1500, beyond: null },
    ])
  })
  test('types mixed up', () => {
    expect([
      readAs(65_520, 'UINT', 'INT'),
      readAs(-16, 'INT', 'UINT'),
      readAs(4_294_967_295, 'UDINT', 'DINT'),
      readAs(5, 'UINT', 'REAL'),
    ]).toEqual([-16, 65_520, -1, null])
    fc.assert(
      fc.property(fc.integer({ min: -32_768, max: 32_767 }), (raw) => {
        expect(readAs(readAs(raw, 'INT', 'UINT')!, 'UINT', 'INT')).toBe(raw)
      }),
    )
  })
  test('the smallest step', () => {
    expect(resolution(chain('4-20 mA', '4-20 mA', 'i32000', 0, 6))).toBeCloseTo(6 / 32_000, 12)
    expect(resolution(chain('0-20 mA', '0-20 mA', 'left12', 0, 100))).toBeCloseTo(
      (100 / 65_520) * 16,
      12,
    )
    expect(resolution(chain('Pt100', 'Pt100', 'tenths'))).toBeCloseTo(0.1, 9)
    expect(resolution(chain('4-20 mA', '0-20 mA', 'real'))).toBeNull()
  })
})

// NAMUR NE 43: measuring information 3.8…20.5 mA, failure at or below 3.6 and at or above 21.0 mA.
describe('the marks of NE 43', () => {
  test('on 0–20 mA over 0…65535 the upper two cannot be seen', () => {
    const marks = ne43Marks(chain('4-20 mA', '0-20 mA', 'u65535'))
    expect(marks.map(({ counts, isVisible }) => [Math.trunc(counts), isVisible])).toEqual([
      [11_796, true],
      [12_451, true],
      [67_173, false],
      [68_811, false],
    ])
    expect(marks[3]!.counts).toBeCloseTo(68_811.75, 6)
  })
  test('on 4–20 mA over 0…30000 with room on both sides', () => {
    expect(
      ne43Marks(chain('4-20 mA', '4-20 mA', 'i30000')).map(({ counts, isVisible }) => [
        counts,
        isVisible,
      ]),
    ).toEqual([
      [expect.closeTo(-750, 6), true],
      [expect.closeTo(-375, 6), true],
      [30_937.5, true],
      [31_875, true],
    ])
  })
  test('elsewhere there are none', () =>
    expect(ne43Marks(chain('0-10 V', '0-10 V', 'i32767'))).toEqual([]))
})

describe('characteristics', () => {
  test('a flow by differential pressure', () => {
    const flow = chain('4-20 mA', '4-20 mA', 'i32000', 0, 200, { characteristic: { kind: 'root' } })
    expect(probe(flow, 'signal', 8)).toMatchObject({ process: 100, value: 100 })
    expect(probe(flow, 'process', 50).signal).toBeCloseTo(5, 9)
    expect(probe(flow, 'signal', 3.9).process).toBeNull()
  })
  test('a table, and what is wrong with one', () => {
    const points = [
      [0, 0],
      [50, 10],
      [100, 100],
    ] as const
    expect(valueAt({ kind: 'table', points }, 0.75, 0, 0)).toBe(55)
    expect(tableFault(points)).toBeNull()
    expect(
      tableFault([
        [0, 0],
        [0, 1],
      ]),
    ).toContain('must be more than the 0 %')
    expect(
      tableFault([
        [0, 0],
        [50, 9],
        [60, 3],
      ]),
    ).toContain('must rise throughout')
    expect(tableFault([[0, 0]])).toContain('two points')
  })
  test('there and back', () => {
    const kinds = fc.constantFrom(
      { kind: 'linear' } as const,
      { kind: 'root' } as const,
      {
        kind: 'table',
        points: [
          [0, 100],
          [20, 60],
          [90, 30],
          [100, 0],
        ],
      } as const,
    )
    fc.assert(
      fc.property(kinds, fc.double({ min: 0, max: 1, noNaN: true }), (kind, share) => {
        const value = valueAt(kind, share, 0, 100)!
        expect(shareAt(kind, value, 0, 100)).toBeCloseTo(share, 6)
      }),
    )
  })
})

describe('a chain', () => {
  test('whatever link is given, the others are the same', () => {
    const chains = fc.constantFrom(
      chain('4-20 mA', '0-20 mA', 'u65535', -1, 5),
      chain('0-10 V', '±10 V', 'i32767', 20, -20),
      chain('Pt100', 'Pt100', 'hundredths'),
      chain('4-20 mA', '4-20 mA', 'i30000', 0, 1),
    )
    fc.assert(
      fc.property(chains, fc.double({ min: 0.02, max: 0.98, noNaN: true }), (one, share) => {
        const [low, high] =
          one.channel.kind === 'resistance' ? [-200, 320] : [one.process.low, one.process.high]
        const process = low + share * (high - low)
        const reading = probe(one, 'process', process)
        expect(probe(one, 'signal', reading.signal!).process).toBeCloseTo(process, 6)
        expect(probe(one, 'raw', reading.counts!).process).toBeCloseTo(process, 6)
        expect(Math.abs(reading.value! - process)).toBeLessThanOrEqual(resolution(one)! * 0.51)
      }),
    )
  })
  test.each([
    ['0-10 V', '4-20 mA', 'A voltage is connected to a channel for a current'],
    ['Pt100', 'Pt1000', 'is set to Pt1000'],
    ['4-20 mA', 'off', 'switched off'],
    ['4-20 mA', '0-20 mA', null],
  ])('%s on %s: %s', (transmitter, channel, says) => {
    const fault = mismatch({ transmitter: readRange(transmitter)!, channel: readRange(channel)! })
    if (says === null) expect(fault).toBeNull()
    else expect(fault).toContain(says)
  })
  test('a format in another quantity', () => {
    expect(formatFault({ channel: readRange('4-20 mA')!, format: commonFormats['tenths']! })).toBe(
      '0.1 °C as a whole number counts in °C; the channel measures mA.',
    )
    expect(probe(chain('4-20 mA', '4-20 mA', 'tenths'), 'signal', 12).raw).toBeNull()
  })
})
