import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Electrical } from '../catalog'
import type { SignalFacts } from '../plan'
import { entityCheck, type EntityParameters } from './entity'
import { wiringOf } from './wiring'

const ai = { kind: 'analog', direction: 'in' } as const
const di = { kind: 'digital', direction: 'in' } as const
const written = (channel: Parameters<typeof wiringOf>[0], facts: SignalFacts) =>
  wiringOf(channel, facts).conductors.map(
    ({ from, to }) => `${from.box} ${from.pin} > ${to.box} ${to.pin}`,
  )

// Common practice.
describe('circuits', () => {
  test.each<[string, Parameters<typeof wiringOf>[0], SignalFacts, string[]]>([
    [
      'two wires, fed by the channel',
      ai,
      { wires: 2, supply: 'channel' },
      ['channel supply + > device +', 'device − > channel in +'],
    ],
    [
      'two wires, supply in series',
      ai,
      { wires: 2, supply: 'external' },
      ['supply + > device +', 'device − > channel in +', 'channel in − > supply −'],
    ],
    [
      'four wires',
      ai,
      { wires: 4, supply: 'device' },
      ['device out + > channel in +', 'channel in − > device out −'],
    ],
    [
      'three wires have a common minus',
      ai,
      { wires: 3, supply: 'channel' },
      ['channel supply + > device +', 'device out > channel in +', 'device − > channel in −'],
    ],
    [
      'a Pt100 with four wires',
      ai,
      { transmitter: 'Pt100', wires: 4 },
      [
        'channel I + > device 1',
        'device 1 > channel U +',
        'device 2 > channel U −',
        'device 2 > channel I −',
      ],
    ],
    [
      'pnp',
      di,
      { switching: 'pnp' },
      ['supply + > device +', 'device out > channel in', 'device − > supply −'],
    ],
    [
      'npn',
      di,
      { switching: 'npn' },
      ['supply + > device +', 'channel in > device out', 'device − > supply −'],
    ],
  ])('%s', (_, channel, facts, expected) => expect(written(channel, facts)).toEqual(expected))

  // What nobody said is not drawn as if somebody had.
  test.each<[Electrical, SignalFacts, string[], string[]]>([
    [{}, { wires: 2 }, ['supply ? > device +'], []],
    [
      { feeds: false },
      { wires: 2 },
      ['supply ? > device +'],
      ['The channel feeds nothing; the loop needs a supply in series.'],
    ],
    [
      { feeds: true },
      { wires: 2 },
      [],
      ['Not entered what feeds it; assumed: the channel, which can.'],
    ],
    [{ feeds: false }, { wires: 2, supply: 'external' }, [], []],
    [
      { feeds: false },
      { wires: 3 },
      ['supply ? > device +'],
      ['The channel feeds nothing; the loop needs a supply in series.'],
    ],
    [{}, { wires: 4 }, [], ['Not entered what feeds it; assumed: the transmitter itself.']],
  ])('the gap in a loop of %j with %j', (electrical, facts, gap, assumed) => {
    const wiring = wiringOf(ai, facts, electrical)
    expect(
      wiring.conductors
        .filter(({ isOpen }) => isOpen)
        .map(({ from, to }) => `${from.box} ${from.pin} > ${to.box} ${to.pin}`),
    ).toEqual(gap)
    expect(wiring.assumed).toEqual(assumed)
  })

  test.each<[string, SignalFacts, string]>([
    ['no supply', { wires: 2, supply: 'device' }, 'no supply in the loop'],
    ['two supplies', { wires: 4, supply: 'external' }, 'two supplies'],
    ['HART over volts', { transmitter: '0…10 V', hart: true }, 'HART runs over 4…20 mA'],
  ])('%s', (_, facts, says) => expect(wiringOf(ai, facts).faults.join(' ')).toContain(says))

  test('what nobody said is said to be assumed', () => {
    expect(wiringOf(ai, {}, { feeds: true }).assumed).toHaveLength(2)
    expect(wiringOf(ai, { wires: 2, supply: 'channel' }).assumed).toEqual([])
  })
  test('in every loop, what goes to a device comes back from it', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(2, 3, 4),
        fc.constantFrom('channel', 'external', 'device'),
        (wires, supply) => {
          const { conductors } = wiringOf(ai, { wires: wires as 2, supply: supply as 'channel' })
          const touched = (box: string) =>
            conductors.filter(({ from, to }) => from.box === box || to.box === box).length
          expect(touched('device')).toBeGreaterThan(1)
          expect(touched('channel')).toBeGreaterThan(0)
          expect(touched('supply')).not.toBe(1)
        },
      ),
    )
  })
})

// IEC 60079-25: entity comparison, and the rule of halves.
describe('the entity check', () => {
  const good: EntityParameters = {
    u0: 25.2,
    i0: 93,
    p0: 587,
    c0: 107,
    l0: 4.1,
    ui: 30,
    ii: 100,
    pi: 800,
    ci: 1,
    li: 0.01,
    cableC: 60,
    cableL: 0.3,
  }
  const met = (ex: EntityParameters) => entityCheck(ex).lines.map(({ isMet }) => isMet)
  test('a circuit that is safe', () => {
    expect(entityCheck(good)).toMatchObject({ isHalved: false, missing: [] })
    expect(met(good)).toEqual([true, true, true, true, true])
  })
  test.each<[Partial<EntityParameters>, number]>([
    [{ ui: 24 }, 0],
    [{ ii: 90 }, 1],
    [{ pi: 500 }, 2],
    [{ cableC: 107 }, 3],
    [{ cableL: 4.1 }, 4],
  ])('%j breaks it', (more, line) => {
    expect(
      met({ ...good, ...more })
        .map((isMet, i) => (isMet ? null : i))
        .filter((i) => i !== null),
    ).toEqual([line])
  })
  test('where device capacitance and inductance are both more than a hundredth, they count half', () => {
    const halved = entityCheck({ ...good, ci: 2, li: 0.05 })
    expect(halved.isHalved).toBe(true)
    expect(halved.lines[3]).toEqual({ words: 'C₀ 107 nF ÷ 2 ≥ Cᵢ + cable 62 nF', isMet: false })
    expect(entityCheck({ ...good, ci: 2 }).isHalved).toBe(false)
  })
  test('what is missing is named, and not guessed', () => {
    expect(entityCheck({ u0: 20, ui: 30 })).toMatchObject({
      lines: [{ isMet: true }],
      missing: expect.arrayContaining(['I₀', 'L cable']),
    })
  })
})
