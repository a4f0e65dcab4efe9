import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { commonFormats, readRange, usualScaling, type Chain } from '@kataxis/core'
import { frameOf, heightsOf, roundNumbers, scalesOf, signalAtHeight } from './scales'

const chain = (
  transmitter: string,
  channel: string,
  format: string,
  more: Partial<Chain> = {},
): Chain => ({
  process: { low: 0, high: 8, unit: 'm' },
  characteristic: { kind: 'linear' },
  transmitter: readRange(transmitter)!,
  channel: readRange(channel)!,
  format: commonFormats[format]!,
  ...more,
})
const wide = chain('4-20 mA', '0-20 mA', 'u65535')

describe('aligned scales', () => {
  test('what belongs together stands at the same height', () => {
    const at = (scale: string, words: string) =>
      scalesOf(wide)
        .find(({ name }) => name === scale)!
        .ticks.find((tick) => tick.words === words)?.at
    expect(at('process', '8')).toBeCloseTo(at('signal', '20')!, 9)
    expect(at('channel', '10')).toBeCloseTo(10 / 22, 9)
    expect(at('raw', '0')).toBeCloseTo(0, 9)
  })
  test('with the bands of NE 43, and what the counts cannot tell', () => {
    const kinds = (scale: string) =>
      scalesOf(wide)
        .find(({ name }) => name === scale)!
        .bands.map(({ kind }) => kind)
    expect(kinds('signal')).toEqual(['range', 'failure', 'margin', 'margin', 'failure'])
    expect(kinds('raw')).toEqual(['blind'])
    expect(
      scalesOf(chain('0-10 V', '0-10 V', 'i32000'))
        .find(({ name }) => name === 'signal')!
        .bands.map(({ kind }) => kind),
    ).toEqual(['range'])
  })
  test('the wrong scaling leaves the line: at 4 mA it shows a fifth of the range', () => {
    const { at, wrong, wrongValue } = heightsOf(wide, 4, usualScaling(wide))
    expect(wrongValue).toBeCloseTo(1.6, 3)
    expect(wrong! - at).toBeCloseTo((0.2 * 16) / 22, 3)
  })
  test('a root spreads the process scale below', () => {
    const ticks = scalesOf(
      chain('4-20 mA', '4-20 mA', 'i32000', { characteristic: { kind: 'root' } }),
    )[0]!.ticks.map(({ at }) => at)
    const gaps = ticks.slice(1).map((at, i) => at - ticks[i]!)
    expect(gaps.at(-1)!).toBeGreaterThan(gaps[0]!)
  })
  test('a height gives its signal, also for sensors', () => {
    const chains = fc.constantFrom(
      wide,
      chain('Pt100', 'Pt100', 'tenths'),
      chain('type K', 'type K', 'tenths'),
      chain('±10 V', '±10 V', 'i32767'),
    )
    fc.assert(
      fc.property(chains, fc.double({ min: 0.02, max: 0.98, noNaN: true }), (one, height) => {
        expect(heightsOf(one, signalAtHeight(one, height), null).at).toBeCloseTo(height, 6)
      }),
    )
    expect(frameOf(wide)).toEqual({ low: 0, high: 22 })
  })
  test.each([
    [0, 10, 9, [0, 2, 4, 6, 8, 10]],
    [-1, 1, 4, [-1, -0.5, 0, 0.5, 1]],
    [3, 3, 5, []],
  ])('round numbers from %d to %d', (low, high, about, expected) =>
    expect(roundNumbers(low, high, about)).toEqual(expected),
  )
})
