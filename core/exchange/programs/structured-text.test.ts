import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { derive, type Derived } from '../../derive'
import { doAll, wholeDemo } from '../../test/plans'
import { originOf } from '../origin'
import { writeDeclarations as write } from './structured-text'
import { listChannels } from '../io-list'

const writeDeclarations = (derived: Derived) => write(derived, originOf(derived, 3, 0))
const { plan, catalog } = wholeDemo()
const text = writeDeclarations(derive(plan, catalog))

// IEC 61131-3:2013: TYPE … STRUCT (6.4.4.6), VAR_GLOBAL with AT (6.5), comments (6.1.3).
describe('Structured Text', () => {
  test('every named signal is a member of its station’s type and a variable at its address', () => {
    const named = [...listChannels(derive(plan, catalog))].filter(
      ({ signal }) => signal && signal.tag !== '',
    )
    expect(text.match(/^ {4}\w+ AT %/gm)?.length).toBe(named.length)
    const members = [...text.matchAll(/^STRUCT\n([\s\S]*?)^END_STRUCT/gm)].flatMap(
      ([, inside]) => inside!.match(/^ {4}\w+ : /gm) ?? [],
    )
    expect(members.length).toBe(named.length)
    expect(text).toContain(
      'TYPE T_intake_a : (* intake-a, PROFINET, Seawater intake, pump hall, cabinet A1 *)\nSTRUCT\n    INT_P101_Run : BOOL; (* Intake pump 1: running *)',
    )
    expect(text).toContain('    INT_LT_101 AT %IW4 : INT; (* Intake basin level *)')
  })
  test('types are opened and closed, and have names of their own', () => {
    const names = [...text.matchAll(/^TYPE (\w+) :/gm)].map(([, name]) => name!.toUpperCase())
    expect(new Set(names).size).toBe(names.length)
    expect(text.match(/^END_TYPE$/gm)?.length).toBe(names.length)
  })
  test('an illegal tag is left out and named', () => {
    const broken = doAll(plan, catalog, {
      type: 'editSignals',
      edits: [{ id: 's041', tag: 'INT-LT' }],
    })
    expect(writeDeclarations(derive(broken, catalog))).toContain(
      '(* left out: INT-LT; "-" at position 4 is not a letter, digit or underscore *)',
    )
  })
  test('no comment ends early, whatever it says', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.constantFrom('*)', '(*', '**))', 'a\nb')), (comment) => {
        const line = writeDeclarations(
          derive(
            doAll(plan, catalog, { type: 'editSignals', edits: [{ id: 's041', comment }] }),
            catalog,
          ),
        )
          .split('\n')
          .find((one) => one.startsWith('    INT_LT_101 AT'))!
        const said = line.slice(line.indexOf(';') + 1)
        expect(said === '' || /^ \(\* (?:(?!\*\)|\(\*)[\s\S])* \*\)$/.test(said)).toBe(true)
      }),
      { numRuns: 40 },
    )
  })
})
