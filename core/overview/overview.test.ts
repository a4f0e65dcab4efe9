import { expect, test } from 'vitest'
import { check, rules } from '../checks/check'
import { derive } from '../derive'
import { smallCatalog, smallPlan, wholeDemo } from '../test/plans'
import { countKinds } from './kinds'
import { overviewOf, stepOf, type StepKey } from './overview'

const at = (codes: readonly string[]) => codes.map((code) => stepOf({ code }))

test('every rule belongs to a step', () => {
  const homeless = rules.map(({ code }) => code).filter((code) => stepOf({ code }) === null)
  expect(homeless).toEqual([])
})

test.each<[StepKey, string[]]>([
  ['identities', ['station.name', 'station.ipDuplicate', 'network.pool']],
  ['place', ['station.supply', 'slot.gap', 'module.order', 'project.empty']],
  ['networks', ['network.cable', 'station.baud', 'modbus.twoWriters']],
  ['ranges', ['signal.scaling', 'signal.fed']],
  ['names', ['signal.unplaced', 'tag.duplicate', 'channels.unnamed']],
  ['parameters', ['safety.watchdog', 'channels.unusedOn']],
])('%s', (step, codes) => expect(at(codes)).toEqual(codes.map(() => step)))

test('an empty project has everything before it', () => {
  const derived = derive({ ...smallPlan(), stations: {} }, smallCatalog)
  const { steps, kinds } = overviewOf(derived, check(derived), { files: 0, rehearsed: false })
  expect([steps.every(({ state }) => state === 'open'), kinds]).toEqual([true, []])
})

test('the demo is begun: its kinds add up, its blockers stand at their steps', () => {
  const { plan, catalog } = wholeDemo()
  const derived = derive(plan, catalog)
  const findings = check(derived)
  const { steps, kinds } = overviewOf(derived, findings, { files: 23, rehearsed: false })
  const sum = (of: 'channels' | 'named') => kinds.reduce((total, one) => total + one[of], 0)
  expect([sum('channels'), sum('named')]).toEqual([derived.totals.channels, derived.totals.named])
  expect(steps.reduce((total, { blockers }) => total + blockers, 0)).toBe(findings.blockers)
  expect(Object.fromEntries(steps.map(({ key, state }) => [key, state]))).toMatchObject({
    files: 'done',
    identities: 'begun',
    ranges: 'begun',
    names: 'begun',
    rehearse: 'open',
    handover: 'begun',
  })
})

test('kinds stand in the order in which everybody says them', () => {
  const { plan, catalog } = wholeDemo()
  const [first, second] = countKinds(derive(plan, catalog))
  expect([first?.kind, second?.kind]).toEqual(['DI', 'DO'])
})
