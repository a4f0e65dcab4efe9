import { derive, type Derived, type DerivedStation } from '../derive/derive'
import { applyCommand } from '../changing/apply'
import { stationIdOf, type RowChange } from '../plan/draft'
import type { Id } from '../plan/model'
import {
  runRule,
  type Finding,
  type FindingPlace,
  type FindingSeverity,
  type Fix,
  type Now,
  type StationScope,
} from './finding'
import { planAddressRules, stationAddressRules } from './address-rules'
import { electricalRules } from './electrical-rules'
import { Indexes } from './indexes'
import { planDeviceRules, stationDeviceRules } from './device-rules'
import { planLayoutRules, stationLayoutRules } from './layout-rules'
import { parameterRules } from './parameter-rules'
import { planSafetyRules, stationSafetyRules } from './safety-rules'
import { shareRules } from './share-rules'
import { planSignalRules, stationSignalRules } from './signal-rules'
import { planRules } from './plan-rules'
import { powerRules } from './power-rules'
import { stationRules } from './station-rules'
import { segmentRules } from './segment-rules'
import { wireRules } from './wire-rules'

export interface Findings {
  readonly all: readonly Finding[]
  readonly blockers: number
  readonly warnings: number
  readonly notes: number
}

/** The one table of rules: a new rule is an entry in one of the lists, by how far it looks. */
const forStations = [
  ...stationRules,
  ...stationAddressRules,
  ...stationLayoutRules,
  ...stationDeviceRules,
  ...parameterRules,
  ...stationSafetyRules,
  ...stationSignalRules,
  ...electricalRules,
]
const forPlans = [
  ...planRules,
  ...planAddressRules,
  ...planLayoutRules,
  ...planDeviceRules,
  ...planSafetyRules,
  ...planSignalRules,
  ...wireRules,
  ...segmentRules,
  ...powerRules,
  ...shareRules,
]
export const rules = [...forStations, ...forPlans]

/** What is said of supplies. */
export const powerCodes: ReadonlySet<string> = new Set(powerRules.map(({ code }) => code))
/** What is said of links, times on the wire and supplies. */
export const wireCodes: ReadonlySet<string> = new Set([
  ...[...wireRules, ...segmentRules, ...shareRules].map(({ code }) => code),
  ...powerCodes,
])

const sayings = new Map(rules.map(({ code, say }) => [code, say]))

/** The sentence of a finding, made anew of its code, its facts and its place; no rule runs again. */
export function wordFinding({ code, facts, at }: Pick<Finding, 'code' | 'facts' | 'at'>): string {
  return sayings.get(code)!(facts, at)
}

interface Checked {
  readonly view: DerivedStation
  readonly scope: StationScope
  readonly findings: Finding[]
}

const order: Record<FindingSeverity, number> = { blocker: 0, warning: 1, note: 2 }

/** A checker that remembers: it looks again only at stations that changed since its last call and
 *  keeps the indexes of what must be unique up to date. Gives the same findings as a fresh one. */
export function createChecker(): (derived: Derived) => Findings {
  const checked = new Map<Id, Checked>()
  const indexes = new Indexes()
  let last: Derived | null = null
  const now: Now = {
    derived: () => last!,
    leadsOn: (code, at, fix) => leadsOn(last!, code, at, fix),
  }

  return (derived) => {
    // A signal may leave a station for the unplaced ones or come back: everything leaves before
    // anything enters.
    const leaving = last?.plan.unplaced ?? {}
    const entering = derived.plan.unplaced
    for (const id in leaving) if (leaving[id] !== entering[id]) indexes.dropSignal(leaving[id]!)
    for (const [id, { view }] of checked) {
      if (derived.stations.get(id) === view && sameWire(view, last!, derived)) continue
      indexes.drop(view, last!)
      if (!derived.stations.has(id)) checked.delete(id)
    }
    for (const id in entering)
      if (leaving[id] !== entering[id]) indexes.addSignal(entering[id]!, null)
    for (const [id, view] of derived.stations) {
      const before = checked.get(id)
      if (before?.view !== view || !sameWire(view, last!, derived)) indexes.add(view, derived)
      const scope = scopeOf(derived, view)
      const known = before?.scope
      if (
        known &&
        known.view === view &&
        known.network === scope.network &&
        known.controller === scope.controller &&
        known.project === scope.project
      )
        continue
      checked.set(id, { view, scope, findings: lookAt(scope, now) })
    }
    last = derived

    const all: Finding[] = []
    for (const { stations } of derived.controllers.flatMap(({ networks }) => networks)) {
      for (const { id } of stations) all.push(...checked.get(id)!.findings)
    }
    for (const rule of forPlans) all.push(...runRule(rule, { derived, indexes }, now))
    all.sort((a, b) => order[a.severity] - order[b.severity])
    const count = (severity: FindingSeverity) =>
      all.filter((finding) => finding.severity === severity).length
    return { all, blockers: count('blocker'), warnings: count('warning'), notes: count('note') }
  }
}

/** What the rules that look at one station find there. */
export function stationFindings(derived: Derived, stationId: Id): Finding[] {
  const view = derived.stations.get(stationId)
  return view ? lookAt(scopeOf(derived, view), nowOf(derived)) : []
}

function scopeOf({ plan, catalog }: Derived, view: DerivedStation): StationScope {
  const network = plan.networks[view.station.networkId] ?? null
  return {
    view,
    network,
    controller: (network && plan.controllers[network.controllerId]) ?? null,
    project: plan.project,
    catalog,
  }
}

function lookAt(scope: StationScope, now: Now): Finding[] {
  return forStations.flatMap((rule) => runRule(rule, scope, now))
}

/** All findings of a plan, once. */
export function check(derived: Derived): Findings {
  return createChecker()(derived)
}

/** Whether a station is unique among the same others as before: same controller, same cable. */
function sameWire(
  { station: { networkId } }: DerivedStation,
  before: Derived,
  now: Derived,
): boolean {
  const [old, next] = [before.plan.networks[networkId], now.plan.networks[networkId]]
  return old === next || (old?.controllerId === next?.controllerId && old?.cable === next?.cable)
}

const nowOf = (derived: Derived): Now => ({
  derived: () => derived,
  leadsOn: (code, at, fix) => leadsOn(derived, code, at, fix),
})

/** Tries a fix: whether it is carried out, and the stations it changes have no blocker then that
 *  they had not before, nor the finding itself. What stations have in common is kept apart by the
 *  rules that compare them. */
function leadsOn(derived: Derived, code: string, at: FindingPlace, { command }: Fix): boolean {
  const applied = applyCommand(derived.plan, derived.catalog, command)
  if (!applied.ok) return false
  const next = derive(applied.plan, derived.catalog)
  const stationIds = new Set(applied.changes.flatMap((change) => stationsOf(derived, next, change)))
  const before = new Set(wrongIn(derived, stationIds).map(keyOf))
  const own = keyOf({ code, at })
  return wrongIn(next, stationIds).every(
    (finding) =>
      keyOf(finding) !== own && (finding.severity !== 'blocker' || before.has(keyOf(finding))),
  )
}

const keyOf = ({ code, at }: Pick<Finding, 'code' | 'at'>) => `${code}/${at.kind}/${at.id}`
const wrongIn = (derived: Derived, stationIds: ReadonlySet<Id>) =>
  [...stationIds].flatMap((id) => stationFindings(derived, id))

function stationsOf(
  before: Derived,
  after: Derived,
  { table, id, before: old, after: row }: RowChange,
): Id[] {
  if (table === 'stations') return [id]
  if (table === 'modules') return [old, row].flatMap((one) => (one ? [one.stationId] : []))
  if (table === 'signals')
    return [before.plan, after.plan].flatMap((plan, i) =>
      [(i === 0 ? old : row)?.place].flatMap((place) =>
        place ? (stationIdOf(plan, place.moduleId) ?? []) : [],
      ),
    )
  return []
}
