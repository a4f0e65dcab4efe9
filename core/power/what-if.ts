import type { Derived, DerivedModule, DerivedStation } from '../derive/derive'
import { tagsOf, whatIf, wiredNetworks, type Failures, type Outcome } from '../networks'
import type { Id } from '../plan/model'
import { kindOf } from '../protocols/registry'
import { consumersOf } from './consumers'
import { isFed, suppliesOf } from './supplies'

/** What becomes of a whole plan when links, nodes and supplies fail together. */
export interface PlanOutcome extends Outcome {
  /** Modules of stations that stay reachable, whose potential group has no supply left. */
  readonly unfed: readonly DerivedModule[]
}

/** Losing a node that is a supply takes along what hangs on it. */
export function whatIfInPlan(derived: Derived, failures: Failures): PlanOutcome {
  const off = withoutSupply(derived, failures.nodes)
  const all = { links: failures.links, nodes: off.nodes }
  const outcomes = wiredNetworks(derived).map((wired) => whatIf(wired, all))
  // Controllers' own racks hang on no wire.
  const unwired = [...off.nodes].flatMap((id) => {
    const view = derived.stations.get(id)
    const home = view && derived.plan.networks[view.station.networkId]
    return home && !kindOf(home).wiring && view.channels > 0 ? [view] : []
  })
  const unreachable = [...unwired, ...outcomes.flatMap((one) => one.unreachable)]
  const gone = new Set(unreachable.map(({ id }) => id))
  return {
    unreachable,
    drops: outcomes.flatMap(({ drops }) => drops),
    ridesThrough: outcomes.flatMap(({ ridesThrough }) => ridesThrough),
    unfed: off.groups.flatMap(({ view, modules }) => (gone.has(view.id) ? [] : modules)),
  }
}

interface WithoutSupply {
  /** Nodes that are lost: those given, and heads none of whose inputs is fed any more. */
  readonly nodes: ReadonlySet<Id>
  readonly groups: readonly { view: DerivedStation; modules: readonly DerivedModule[] }[]
}

function withoutSupply(derived: Derived, lost: ReadonlySet<Id>): WithoutSupply {
  const nodes = new Set<Id>()
  const dead = new Set<Id>()
  const lose = (id: Id) => {
    nodes.add(id)
    const view = derived.stations.get(id)
    if (view?.device?.source) dead.add(id)
    for (const networkId of view ? ownNetworks(derived, view) : []) nodes.add(networkId)
  }
  for (const id of lost) lose(id)
  if (suppliesOf(derived).length === 0 || dead.size === 0) return { nodes, groups: [] }
  const fed = [...derived.stations.values()].filter(isFed)
  const isDead = (id: Id | undefined) => id !== undefined && dead.has(id)
  // A supply that is fed by a lost one is lost too.
  for (let before = -1; before !== dead.size;) {
    before = dead.size
    for (const view of fed) {
      const feeds = consumersOf(view).flatMap(({ at, feed }) =>
        feed && at.node === view.id ? [feed] : [],
      )
      if (feeds.length > 0 && feeds.every(({ from }) => isDead(from))) lose(view.id)
    }
  }
  const groups = fed.flatMap((view) =>
    consumersOf(view)
      .filter(({ at, feed }) => at.node !== view.id && isDead(feed?.from))
      .map(({ group: modules }) => ({ view, modules })),
  )
  return { nodes, groups }
}

/** Interfaces of a controller that stand in its own rack. */
function ownNetworks({ plan }: Derived, { station }: DerivedStation): Id[] {
  const home = plan.networks[station.networkId]
  if (!home || !kindOf(home).isController) return []
  return Object.values(plan.networks).flatMap(({ id, controllerId }) =>
    controllerId === home.controllerId && id !== home.id ? [id] : [],
  )
}

/** Tags of the signals on modules. */
const tagsOn = (modules: readonly DerivedModule[]) =>
  modules.flatMap(({ signals }) =>
    [...signals.values()].flatMap(({ tag }) => (tag === '' ? [] : [tag])),
  )

/** Tags of all signals that are lost: of unreachable stations, and of groups without supply. */
export function tagsOfOutcome({ unreachable, unfed }: PlanOutcome): string[] {
  return [...unreachable.flatMap(tagsOf), ...tagsOn(unfed)]
}

/** How many named signals are lost. */
export function signalsLost({ unreachable, unfed }: PlanOutcome): number {
  return unreachable.reduce((sum, { named }) => sum + named, tagsOn(unfed).length)
}

/** What becomes of a plan, as `npx kataxis networks` prints it. `unfed`: signals of groups without
 *  supply, whose stations stay reachable. */
export function whatIfReport(derived: Derived, failures: Failures) {
  const { unreachable, drops, ridesThrough, unfed } = whatIfInPlan(derived, failures)
  const names = (views: readonly DerivedStation[]) => views.map(({ station }) => station.name)
  return {
    unreachable: names(unreachable),
    drops: names(drops),
    signals: unreachable.flatMap(tagsOf),
    ridesThrough: names(ridesThrough),
    unfed: tagsOn(unfed),
  }
}
