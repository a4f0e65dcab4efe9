import { describe, expect, test } from 'vitest'
import type { Electrical } from '../catalog'
import { derive } from '../derive'
import { readDeviceFile } from '../device-files'
import type { Command, Plan, SignalFacts } from '../plan'
import { commonFormats } from '../scaling'
import { assignSignals, chainOf } from '../signals'
import { supplemented } from '../catalog'
import { doAll, wholeDemo } from '../test/plans'
import { check } from './check'
import { electricalRules } from './electrical-rules'

const { plan: demo, catalog } = wholeDemo()
const facts = (id: string, set: SignalFacts): Command => ({
  type: 'editSignals',
  edits: [{ id, facts: set }],
})
/** The demo with a sheet that says what a type of module is electrically; `derivedOf` gives what
 *  follows from a plan with it. */
function saying(orderNumber: string, electrical: Electrical, ...commands: Command[]) {
  const maker = orderNumber.startsWith('QC') ? 'Quillane Controls' : 'Quillane'
  const text = JSON.stringify({
    kataxisSheet: 1,
    maker,
    name: 'n',
    adds: [{ orderNumber, electrical }],
  })
  const own = new Map([
    ...catalog,
    [text, readDeviceFile(new TextEncoder().encode(text), 'said.json').file!],
  ])
  const derivedOf = (plan: Plan) => derive(plan, supplemented(own, [text]))
  const plan = doAll(demo, own, { type: 'setProject', set: { supplements: [text] } }, ...commands)
  return { plan, own, derived: derivedOf(plan), derivedOf }
}
const found = (derived: ReturnType<typeof derive>, code: string) =>
  check(derived).all.filter((finding) => finding.code === code)
const [input, output, current] = ['QM-1116', 'QM-2116', 'QM-3104']

/** s002 stands on a digital input, s032 on an output, s041 to s044 on analog inputs that share a
 *  module. */
const cases: [
  code: string,
  at: string,
  orderNumber: string,
  electrical: Electrical,
  broken: Command,
  says: string,
][] = [
  [
    'signal.switching',
    's002',
    input!,
    { takes: 'pnp' },
    facts('s002', { switching: 'npn' }),
    'comes from a sensor that sinks (npn), and its input takes sensors that source (pnp) only',
  ],
  [
    'signal.switching',
    's002',
    input!,
    { takes: 'npn' },
    facts('s002', { switching: 'pnp' }),
    'comes from a sensor that sources (pnp)',
  ],
  // The description's filter is set to 3 ms.
  [
    'signal.filter',
    's002',
    input!,
    {},
    facts('s002', { pulseMs: 2 }),
    'has pulses of 2 ms, and its input counts only what holds for 3 ms',
  ],
  [
    'signal.load',
    's032',
    output!,
    { loadMa: 500 },
    facts('s032', { loadMa: 700 }),
    'takes 700 mA; its output gives 500 mA at most',
  ],
  [
    'signal.load',
    's032',
    output!,
    { loadMa: 500, inrushMa: 2000 },
    facts('s032', { loadMa: 400, inrushMa: 2500 }),
    'takes 2500 mA while it starts; its output gives 2000 mA at most',
  ],
  [
    'signal.fed',
    's042',
    current!,
    { feeds: false },
    facts('s042', { supply: 'channel' }),
    'is to be fed by its channel, and that feeds nothing',
  ],
  [
    'signal.hart',
    's042',
    current!,
    { hart: false },
    facts('s042', { hart: true }),
    'speaks HART, and its channel carries none',
  ],
  [
    'signal.intrinsic',
    's042',
    current!,
    { intrinsicallySafe: false },
    facts('s042', { ex: { ui: 30 } }),
    'is to be intrinsically safe, and the channel at intake-a · slot 5 is not',
  ],
  // What the description says of the channel's side counts where nothing else was entered.
  [
    'signal.entity',
    's042',
    current!,
    { entity: { u0: 28 } },
    facts('s042', { ex: { ui: 24 } }),
    'U₀ 28 V ≤ Uᵢ 24 V',
  ],
  [
    'signal.apart',
    'intake-a.5',
    current!,
    {},
    facts('s042', { ex: { ui: 30 } }),
    'has intrinsically safe circuits (INT_PT_102) beside ordinary ones (INT_LT_101)',
  ],
]

describe('what channels are electrically', () => {
  test('every rule is broken once', () =>
    expect(new Set(cases.map(([code]) => code))).toEqual(
      new Set(electricalRules.map(({ code }) => code)),
    ))

  test.each(cases)('%s at %s: %s %j', (code, at, orderNumber, electrical, broken, says) => {
    const { plan, own, derived, derivedOf } = saying(orderNumber, electrical, broken)
    const finding = found(derived, code).find((one) => one.at.id === at)
    expect(finding?.message).toContain(says)
    for (const { command } of finding!.fixes()) {
      expect(
        found(derivedOf(doAll(plan, own, command)), code).filter((one) => one.at.id === at),
      ).toEqual([])
    }
  })

  test.each<[string, string, Electrical, Command]>([
    ['signal.switching', input!, { takes: 'both' }, facts('s002', { switching: 'npn' })],
    ['signal.switching', input!, { takes: 'pnp' }, facts('s002', { switching: 'contact' })],
    ['signal.switching', input!, {}, facts('s002', { switching: 'npn' })],
    ['signal.filter', input!, {}, facts('s002', { pulseMs: 4 })],
    ['signal.load', output!, { loadMa: 500 }, facts('s032', { loadMa: 500, inrushMa: 500 })],
    ['signal.load', output!, {}, facts('s032', { loadMa: 5000 })],
    ['signal.hart', current!, {}, facts('s042', { hart: true })],
    ['signal.entity', current!, { entity: { u0: 28 } }, facts('s042', { ex: { u0: 20, ui: 24 } })],
  ])('%s is silent: %s %j', (code, orderNumber, electrical, command) =>
    expect(found(saying(orderNumber, electrical, command).derived, code)).toEqual([]),
  )

  test('a delay of the sheet counts where no parameter sets one', () => {
    const signal = Object.values(demo.stations['k2-rack']!.signals).find(
      ({ place }) => place!.moduleId === 'k2-rack.3',
    )!
    const of = (pulseMs: number) =>
      found(
        saying('QC-DI16', { delayMs: 6 }, facts(signal.id, { pulseMs })).derived,
        'signal.filter',
      ).map(({ message }) => message)
    expect(of(6)).toEqual([expect.stringContaining('counts only what holds for 6 ms')])
    expect(of(7)).toEqual([])
  })

  test('a module counts as its sheet says, unless the project says otherwise', () => {
    const own = { ...commonFormats['u64000']!, name: '0…27000', most: 30_000, high: 27_000 }
    const unsaid: Command = { type: 'setProject', set: { moduleFormats: {} } }
    const high = ({ plan, derived }: ReturnType<typeof saying>) => {
      const station = derived.stations.get('intake-a')!
      const module = station.modules.find(({ id }) => id === 'intake-a.5')!
      const chain = chainOf(
        derived.catalog,
        plan.project,
        station,
        module,
        module.layout!.channels[1]!,
        plan.stations['intake-a']!.signals['s042']!,
      )
      return typeof chain === 'string' ? chain : [chain.chain.format.high, chain.knowsFormat]
    }
    expect(high(saying(current!, { counts: 'u65535' }, unsaid))).toEqual([65_535, true])
    expect(high(saying(current!, { counts: own }, unsaid))).toEqual([27_000, true])
    expect(high(saying(current!, { counts: 'u65535' }))).toEqual([30_000, true])
    expect(high(saying(current!, {}, unsaid))).toEqual([32_767, false])
  })

  test('a range that a sheet fixes counts where no parameter sets one; what nobody says is not taken from the transmitter', () => {
    const codes = (electrical: Electrical, channelRange?: string) => {
      const { derived } = saying(
        'QC-AI4',
        electrical,
        facts('d124', { transmitter: '0…10 V', ...(channelRange && { channelRange }) }),
      )
      return check(derived)
        .all.filter(({ at }) => at.id === 'd124')
        .map(({ code }) => code)
    }
    expect(codes({})).toEqual(['signal.channelRange'])
    expect(codes({ range: '4…20 mA' })).toEqual(['signal.mismatch'])
    expect(codes({ range: '0…10 V' })).toEqual([])
    expect(codes({}, '4…20 mA')).toEqual(['signal.mismatch'])
    expect(codes({}, '0…10 V')).toEqual([])
  })

  test('waiting signals pass channels by that cannot take them', () => {
    const waiting: Command = {
      type: 'editSignals',
      edits: [{ id: 'w', tag: 'W', facts: { kind: 'DI', switching: 'npn' } }],
    }
    const place = (electrical: Electrical) => {
      const { plan, derived } = saying(input!, electrical, waiting)
      return assignSignals(derived, [plan.unplaced['w']!], 'intake-a').placed[0]?.place.moduleId
    }
    expect([place({}), place({ takes: 'both' })]).toEqual(['intake-a.3', 'intake-a.3'])
    expect(place({ takes: 'pnp' })).not.toMatch(
      /^(intake-a|intake-b|membrane|dosing-1|train|clean)/,
    )
  })
})
