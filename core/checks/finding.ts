import type { Catalog } from '../catalog/catalog'
import type { Derived, DerivedStation } from '../derive/derive'
import type { Command } from '../plan/commands'
import type { ControllerRow, Id, NetworkRow, ProjectRow } from '../plan/model'
import type { Indexes } from './indexes'

export type FindingSeverity = 'blocker' | 'warning' | 'note'

/** The place a finding is about. `words` reads like `intake-b · slot 3`. */
export interface FindingPlace {
  readonly kind: 'project' | 'controller' | 'network' | 'station' | 'module' | 'slot' | 'signal'
  readonly id: Id
  readonly words: string
  readonly stationId?: Id
  readonly station?: string
  readonly slot?: number
}

export interface Fix {
  readonly label: string
  readonly command: Command
}

export interface Finding {
  readonly code: string
  readonly severity: FindingSeverity
  /** What the rule found; its sentence is made of this and the place, see `wordFinding`. */
  readonly facts: unknown
  readonly message: string
  readonly at: FindingPlace
  /** Ways to mend it, computed when somebody asks. */
  readonly fixes: () => Fix[]
}

/** What a rule sees when it looks at one station. Rules of this kind run again only when the
 *  station changed. */
export interface StationScope {
  readonly view: DerivedStation
  readonly network: NetworkRow | null
  readonly controller: ControllerRow | null
  readonly project: ProjectRow
  readonly catalog: Catalog
}

/** What a rule sees that compares stations with each other. */
export interface PlanScope {
  readonly derived: Derived
  readonly indexes: Indexes
}

export interface Found<Facts> {
  readonly at: FindingPlace
  readonly facts: Facts
}

/** One entry of the table of rules: where to look, what to say, how to mend it. Nothing else knows
 *  that it exists. */
export interface Rule<Scope, Facts = unknown> {
  readonly code: string
  readonly severity: FindingSeverity
  readonly find: (scope: Scope) => Iterable<Found<Facts>>
  readonly say: (facts: Facts, at: FindingPlace) => string
  /** Ways that may lead on, with the plan as it is when somebody asks; those that make another
   *  blocker in a station are left out afterwards. */
  readonly fixes?: (facts: Facts, at: FindingPlace, scope: Scope, now: Derived) => Fix[]
}

export function stationRule<Facts>(rule: Rule<StationScope, Facts>): Rule<StationScope> {
  return rule as Rule<StationScope>
}

export function planRule<Facts>(rule: Rule<PlanScope, Facts>): Rule<PlanScope> {
  return rule as Rule<PlanScope>
}

/** The plan as it is when somebody asks, and whether a fix leads on there: it is not refused,
 *  removes its finding and adds no blocker. */
export interface Now {
  readonly derived: () => Derived
  readonly leadsOn: (code: string, at: FindingPlace, fix: Fix) => boolean
}

export function runRule<Scope>(rule: Rule<Scope>, scope: Scope, now: Now): Finding[] {
  const findings: Finding[] = []
  for (const { at, facts } of rule.find(scope)) {
    const fixes = () =>
      (rule.fixes?.(facts, at, scope, now.derived()) ?? []).filter((fix) =>
        now.leadsOn(rule.code, at, fix),
      )
    findings.push({
      code: rule.code,
      severity: rule.severity,
      facts,
      message: rule.say(facts, at),
      at,
      fixes,
    })
  }
  return findings
}

export function atStation({ id, station }: DerivedStation): FindingPlace {
  return { kind: 'station', id, words: nameOf(station.name), stationId: id, station: station.name }
}

export function atModule(view: DerivedStation, module: { id: Id; slot: number }): FindingPlace {
  return {
    kind: 'module',
    id: module.id,
    words: `${nameOf(view.station.name)} · slot ${module.slot}`,
    stationId: view.id,
    station: view.station.name,
    slot: module.slot,
  }
}

export function atSlot(view: DerivedStation, slot: number): FindingPlace {
  return { ...atModule(view, { id: `${view.id}:${slot}`, slot }), kind: 'slot' }
}

export function nameOf(name: string): string {
  return name === '' ? '(no name)' : name
}

/** The fix that takes a module away. */
export function removal(at: FindingPlace): Fix {
  return { label: 'Remove it', command: { type: 'removeModules', ids: [at.id] } }
}
