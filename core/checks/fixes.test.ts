import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive } from '../derive'
import { type Command, type Plan } from '../plan'
import { doAll, wholeDemo } from '../test/plans'
import { check, createChecker } from './check'
import type { Finding } from './finding'
import { applyCommand } from '../changing'

const { plan: demo, catalog } = wholeDemo()
const keyOf = ({ code, at }: Finding) => `${code}/${at.kind}/${at.id}`

/** Looks only at what differs from what it saw last; “looking again” has a test of its own. */
const checkAgain = createChecker()

/** What is wrong with the fixes of findings, some of each rule: it is refused, leaves its finding,
 *  or brings a blocker. */
function badFixes(plan: Plan, ofEachRule = Infinity): string[] {
  const before = checkAgain(derive(plan, catalog)).all
  const known = new Set(before.map(keyOf))
  const looked = before.filter(
    ({ code }, i) => before.slice(0, i).filter((one) => one.code === code).length < ofEachRule,
  )
  // All are asked for before the first is tried: what is offered goes by the plan seen last.
  const offered = looked.map((finding) => [finding, finding.fixes()] as const)
  return offered.flatMap(([finding, fixes]) =>
    fixes.flatMap(({ label, command }) => {
      const applied = applyCommand(plan, catalog, command)
      if (!applied.ok) return [`${finding.message} → ${label}: refused`]
      const after = checkAgain(derive(applied.plan, catalog)).all
      const left = after.filter(
        (one) => keyOf(one) === keyOf(finding) && one.message === finding.message,
      )
      const added = after.filter((one) => one.severity === 'blocker' && !known.has(keyOf(one)))
      return [...left, ...added].map(({ message }) => `${finding.message} → ${label}: ${message}`)
    }),
  )
}

const jumper = (...values: number[]) =>
  ({
    style: 'jumper',
    positions: values.map((value) => ({ label: `J${value}`, value })),
    sets: 'number',
    offset: 0,
    first: null,
    last: null,
    powerCycle: true,
  }) as const
const rotary = {
  style: 'rotary-decimal',
  digits: 1,
  sets: 'lastOctet',
  offset: 0,
  first: 1,
  last: null,
  powerCycle: true,
} as const
const stations = Object.keys(demo.stations)
const modules = Object.values(demo.stations).flatMap((group) => Object.keys(group.modules))
const signals = Object.values(demo.stations).flatMap((group) => Object.keys(group.signals))
const networks = Object.keys(demo.networks)

/** Commands that are carried out and leave something wrong. */
const careless: fc.Arbitrary<Command> = fc.oneof(
  fc.record({
    type: fc.constant('updateStation' as const),
    id: fc.constantFrom(...stations),
    set: fc.oneof(
      fc.record({
        name: fc.constantFrom(
          'intake-a',
          'Intake-A',
          'müller',
          'xn--mller-kva',
          '',
          'a b',
          `${'x'.repeat(62)}9`,
        ),
      }),
      fc.record({
        settings: fc.record({
          ip: fc.constantFrom('192.168.10.11', '192.168.10.0', '10.9.9.9', 'x'),
        }),
      }),
      fc.record({ deviceNumber: fc.constantFrom(0, 1, 2, 5, 4097, 300) }),
      fc.record({ switches: fc.constantFrom(jumper(1, 2, 3, 4), jumper(300), rotary) }),
    ),
  }),
  fc.record({
    type: fc.constant('updateNetwork' as const),
    id: fc.constantFrom(...networks),
    set: fc.oneof(
      fc.record({
        tied: fc.boolean(),
        namePattern: fc.constantFrom('', 'same', 'x-{n:03}'),
      }),
      fc.record({
        settings: fc.record({ rolePattern: fc.constantFrom('', '{order}-{n}') }),
      }),
      fc.record({
        pool: fc.constantFrom(
          null,
          { first: 1, last: 4, step: 1, reserved: '2' },
          { first: 60, last: 90, step: 5, reserved: '' },
        ),
      }),
      fc.record({
        settings: fc.record({
          controllerIp: fc.constantFrom('192.168.10.1', '192.168.10.11', '192.168.10.0'),
        }),
      }),
      fc.record({ cable: fc.constantFrom('', 'ring 1') }),
    ),
  }),
  fc.record({
    type: fc.constant('updateController' as const),
    id: fc.constantFrom(...Object.keys(demo.controllers)),
    set: fc.oneof(
      fc.record({ inputBytes: fc.constantFrom(8, 64, 1_000_000) }),
      fc.record({ outputBytes: fc.constantFrom(8, 64) }),
      fc.record({ firstInput: fc.constantFrom(0, 200) }),
    ),
  }),
  fc.record({
    type: fc.constant('removeModules' as const),
    ids: fc.constantFrom(...modules).map((one) => [one]),
  }),
  fc.record({
    type: fc.constant('setAddress' as const),
    moduleId: fc.constantFrom(...modules),
    subslot: fc.constant(1),
    direction: fc.constantFrom('in' as const, 'out' as const),
    byte: fc.constantFrom(0, 3, 4000),
  }),
  fc.record({
    type: fc.constant('editSignals' as const),
    edits: fc
      .record({
        id: fc.constantFrom(...signals),
        tag: fc.constantFrom('INT_PT_102', 'int_pt_102', '9x', 'IF', `T${'a'.repeat(400)}`),
      })
      .map((one) => [one]),
  }),
  fc.record({
    type: fc.constant('editSignals' as const),
    edits: fc
      .record({
        id: fc.constantFrom(...signals),
        facts: fc.record({
          wires: fc.constantFrom(2 as const, 4 as const),
          supply: fc.constantFrom('channel' as const, 'external' as const, 'device' as const, null),
          transmitter: fc.constantFrom('4…20 mA', '0…10 V', 'Pt100'),
          switching: fc.constantFrom('npn' as const, null),
        }),
      })
      .map((one) => [one]),
  }),
  fc.record({
    type: fc.constant('setProject' as const),
    set: fc.record({
      railMm: fc.constantFrom(0, 60, 300),
      tagLength: fc.constantFrom(8, 24, 255),
      tagCase: fc.constantFrom('any' as const, 'upper' as const),
    }),
  }),
)

describe('what findings offer', () => {
  test('is right in the demo', () => expect(badFixes(demo)).toEqual([]))

  // Whatever went wrong: what is offered is carried out, removes its finding and brings no blocker.
  test('leads on, whatever was done carelessly', { timeout: 120_000 }, () => {
    fc.assert(
      fc.property(fc.array(careless, { minLength: 1, maxLength: 5 }), (commands) => {
        const plan = commands.reduce((now, command) => {
          const applied = applyCommand(now, catalog, command)
          return applied.ok ? applied.plan : now
        }, demo)
        expect(badFixes(plan, 2)).toEqual([])
      }),
      { numRuns: 60 },
    )
  })

  test('jumpers from 1 to 4: the fifth station is refused, and none is told to take what another has', () => {
    const head = Object.values(demo.stations).find(
      ({ station }) => station.networkId === 'n-intake',
    )!.station
    const set = Object.values(demo.stations)
      .filter(({ station }) => station.networkId === head.networkId)
      .slice(0, 4)
    const plan = doAll(
      demo,
      catalog,
      ...set.map(({ station }): Command => ({
        type: 'updateStation',
        id: station.id,
        set: { switches: jumper(1, 2, 3, 4) },
      })),
    )
    const wrong = check(derive(plan, catalog)).all.filter(({ code }) => code === 'station.switches')
    for (const finding of wrong)
      for (const { command } of finding.fixes()) {
        const after = check(derive(doAll(plan, catalog, command), catalog)).all
        expect(
          after.filter(
            ({ code, at }) =>
              /station\.(switches|deviceNumberDuplicate)/.test(code) && at.id === finding.at.id,
          ),
        ).toEqual([])
      }
  })
})
