import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Chain } from './chain'
import { commonFormats } from './raw-formats'
import { scalingSnippet, type Arithmetic } from './snippet'
import { readRange } from '../vocabulary'

const chain = (more: Partial<Chain> = {}): Chain => ({
  process: { low: 0, high: 6, unit: 'bar' },
  characteristic: { kind: 'linear' },
  transmitter: readRange('4-20 mA')!,
  channel: readRange('0-20 mA')!,
  format: commonFormats['u65535']!,
  ...more,
})
const of = (one: Chain, arithmetic: Arithmetic, decimals = 2) =>
  scalingSnippet(one, { raw: 'PT_raw', target: 'PT', arithmetic, decimals })!

/** What a statement of the kind written here gives, computed by JavaScript with 64-bit numbers and
 *  cut as DINT cuts. */
function run(text: string, raw: number, whole: boolean): number {
  const body = text
    .replace(/\(\*.*\*\)/, '')
    .replace(/PT := /, '')
    .replace(';', '')
    .replace(/\w+_TO_\w+\(PT_raw\)|PT_raw/, String(raw))
    .replace('SQRT', 'Math.sqrt')
    .replace('MAX', 'Math.max')
  if (!whole) return Function(`return ${body}`)() as number
  const [, a, b, c, d] = /\((\d+) - (-?\d+)\) \* (-?\d+) \/ (-?\d+)/.exec(body)!
  return Math.trunc(((Number(a) - Number(b)) * Number(c)) / Number(d))
}

// IEC 61131-3, Structured Text: conversions and operators.
describe('Structured Text', () => {
  test('floating', () => {
    const { text, warning } = of(chain(), 'REAL')
    expect(text).toBe('PT := (UINT_TO_REAL(PT_raw) - 13107.0) / 52428.0 * 6.0;')
    expect(warning).toBeNull()
    expect([13_107, 65_535].map((raw) => run(text, raw, false))).toEqual([0, 6])
  })
  test('a sensor’s ends, which are found by halving, are written as REAL too', () => {
    const couple = of(
      chain({
        transmitter: readRange('type K')!,
        channel: { kind: 'thermocouple', type: 'K', coldEnd: 25 },
        format: commonFormats['tenths']!,
      }),
      'REAL',
    )
    expect(couple.text).toBe('PT := (INT_TO_REAL(PT_raw) + 2700.0) / 16420.0 * 1642.0 - 270.0;')
  })
  test('every number in a floating statement has a point', () => {
    const span = fc.record({
      low: fc.double({ min: -1e12, max: 1e12, noNaN: true }),
      width: fc.double({ min: 1e-7, max: 1e12, noNaN: true }),
    })
    fc.assert(
      fc.property(span, ({ low, width }) => {
        const { text } = of(chain({ process: { low, high: low + width, unit: '' } }), 'REAL')
        for (const [literal] of text.matchAll(/(?<![\w.])[\d.]+(E-?\d+)?/g))
          expect(literal).toMatch(/^\d+\.\d+(E-?\d+)?$/)
      }),
    )
  })
  test('whole numbers', () => {
    const { text, warning } = of(chain(), 'DINT', 3)
    expect(text).toBe(
      'PT := (UINT_TO_DINT(PT_raw) - 13107) * 6000 / 52428; (* in units of 0.001 *)',
    )
    expect(warning).toBeNull()
    expect(run(text, 39_321, true)).toBe(3000)
  })
  test.each<[string, Partial<Chain>, Arithmetic, number, string]>([
    [
      'a product too large',
      { process: { low: 0, high: 600, unit: 'mbar' } },
      'DINT',
      3,
      'it overflows',
    ],
    ['counts too large', {}, 'INT', 0, 'INT does not hold 65535 counts'],
    ['too coarse', {}, 'DINT', 0, 'resolution is lost'],
    ['a root', { characteristic: { kind: 'root' } }, 'DINT', 2, 'computed with REAL'],
    ['floating counts', { format: commonFormats['real']! }, 'DINT', 2, 'sends REAL'],
  ])('%s is warned of', (_, more, arithmetic, decimals, says) =>
    expect(of(chain(more), arithmetic, decimals).warning).toContain(says),
  )

  test('a root and a table', () => {
    const root = of(chain({ characteristic: { kind: 'root' } }), 'REAL').text
    expect(run(root, 13_107 + 52_428 / 4, false)).toBeCloseTo(3, 9)
    expect(
      of(
        chain({
          characteristic: {
            kind: 'table',
            points: [
              [0, 0],
              [50, 1],
              [100, 6],
            ],
          },
        }),
        'REAL',
      ).text,
    ).toBe(
      'share := (UINT_TO_REAL(PT_raw) - 13107.0) / 52428.0 * 100.0;\nIF share < 50.0 THEN PT := 0.0 + (share) * 0.02;\nELSE PT := 1.0 + (share - 50.0) * 0.1;\nEND_IF;',
    )
  })
})
