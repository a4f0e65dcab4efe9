import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { SignalFacts } from '../plan'
import { factColumns, factNames, type FactName } from './facts'

const read = (name: FactName, text: string) => factColumns[name].read(text)

describe('facts as text', () => {
  test.each<[FactName, string, unknown]>([
    ['measures', '0..6 bar', { low: 0, high: 6, unit: 'bar' }],
    ['measures', '-1,5 to 2 m3/h', { low: -1.5, high: 2, unit: 'm³/h' }],
    ['measures', '', { low: null, high: null, unit: null }],
    ['transmitter', '4-20mA', { transmitter: '4…20 mA' }],
    ['transmitter', 'pt 100', { transmitter: 'Pt100' }],
    [
      'characteristic',
      '0=0 50=12,5 100=60',
      {
        characteristic: {
          kind: 'table',
          points: [
            [0, 0],
            [50, 12.5],
            [100, 60],
          ],
        },
      },
    ],
    [
      'scaling',
      '13107…65535 = 0…6',
      { scaling: { rawLow: 13_107, rawHigh: 65_535, low: 0, high: 6 } },
    ],
    ['readAs', 'uint', { readAs: 'UINT' }],
    ['wires', '2-wire', { wires: 2 }],
    ['supply', 'active', { supply: 'channel' }],
    ['hart', 'x', { hart: true }],
    ['switching', 'sourcing', { switching: 'pnp' }],
    ['pulse', '5 ms', { pulseMs: 5 }],
    ['pulse', '200µs', { pulseMs: 0.2 }],
    ['pulse', '0,3', { pulseMs: 0.3 }],
    ['load', '0.4 A', { loadMa: 400 }],
    ['inrush', '2000mA', { inrushMa: 2000 }],
    ['load', '', { loadMa: null }],
    ['coldEnd', '25 °C', { coldEnd: 25 }],
    ['coldEnd', '-5', { coldEnd: -5 }],
    ['needs', 'ai', { kind: 'AI' }],
    ['area', 'Intake', { area: 'Intake' }],
  ])('%s "%s"', (name, text, facts) => expect(read(name, text)).toEqual(facts))

  test.each<[FactName, string, string]>([
    ['measures', '6 bar', 'is no measuring range'],
    ['measures', '5…5 bar', 'measures nothing'],
    ['transmitter', 'some', 'is no range'],
    ['wires', '5', 'is none of 2, 3, 4'],
    ['scaling', '0…10', 'is no scaling'],
    ['area', 'x'.repeat(101), '101 characters are more than the 100 that its area holds'],
    ['measures', `0…5 ${'m'.repeat(21)}`, 'that its unit holds'],
    [
      'characteristic',
      Array.from({ length: 201 }, (_, i) => `${i}=${i}`).join(' '),
      '201 points are more than the 200',
    ],
    ['pulse', '0 ms', '5 ms is one'],
    ['load', '-2 A', '5 mA is one'],
    ['inrush', '3 V', '5 mA is one'],
    ['coldEnd', '300', '25 °C is one'],
    ['characteristic', 'curved', 'neither linear, root'],
    ['characteristic', '0=0 50=9 60=3', 'the values must rise throughout'],
  ])('%s "%s" is refused', (name, text, says) => expect(read(name, text)).toContain(says))

  test('what is written is read again', () => {
    const known = fc.record<SignalFacts>(
      {
        low: fc.integer({ min: -500, max: 0 }),
        high: fc.integer({ min: 1, max: 9999 }),
        unit: fc.constantFrom('bar', 'm³/h', '°C'),
        transmitter: fc.constantFrom('4…20 mA', '±10 V', 'Pt100', 'type K'),
        characteristic: fc.constantFrom(
          { kind: 'root' } as const,
          { kind: 'linear' } as const,
          {
            kind: 'table',
            points: [
              [0, 1],
              [50, 3],
              [100, 9],
            ] as [number, number][],
          } as const,
        ),
        scaling: fc.constant({ rawLow: -100, rawHigh: 27_000, low: 0, high: 6.5 }),
        readAs: fc.constantFrom('INT', 'REAL'),
        wires: fc.constantFrom(2, 3, 4),
        supply: fc.constantFrom('channel', 'external', 'device'),
        hart: fc.boolean(),
        switching: fc.constantFrom('pnp', 'npn', 'contact'),
        pulseMs: fc.constantFrom(0.1, 0.005, 20),
        loadMa: fc.integer({ min: 0, max: 9000 }),
        inrushMa: fc.constantFrom(0.5, 2500),
        coldEnd: fc.integer({ min: -40, max: 90 }),
        kind: fc.constantFrom('DI', 'AO'),
        area: fc.constant('Intake'),
        designation: fc.constant('=A1+B2-K3'),
        partner: fc.constant('P1_Run'),
      },
      { requiredKeys: ['low', 'high'] },
    )
    fc.assert(
      fc.property(known, (facts) => {
        const again = Object.assign(
          {},
          ...factNames.map((name) => read(name, factColumns[name].word(facts))),
        ) as Record<string, unknown>
        expect(
          Object.fromEntries(Object.entries(again).filter(([, value]) => value !== null)),
        ).toEqual(facts)
      }),
    )
  })
})
