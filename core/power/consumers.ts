import type { PowerNeed } from '../catalog/model'
import type { DerivedModule, DerivedStation } from '../derive/derive'
import type { SignalFacts } from '../plan/model'
import type { Consumer } from './model'

const known = new WeakMap<DerivedStation, readonly Consumer[]>()

/** 24 V DC devices that say nothing else: −15 % to +20 % (IEC 61131-2, from memory). */
const usualVolts = { minVolts: 20.4, maxVolts: 28.8 }

/** What of a station takes current: its head with the modules before the first feed, at both inputs
 *  where it has two, and each module that feeds a potential group with that group. */
export function consumersOf(view: DerivedStation): readonly Consumer[] {
  let found = known.get(view)
  if (!found) known.set(view, (found = consumersIn(view)))
  return found
}

function consumersIn(view: DerivedStation): Consumer[] {
  const [head, ...rest] = groupsOf(view.modules)
  if (!head) return []
  const { station } = view
  // A supply feeds others; what it takes itself is another wire.
  const power = view.device?.power
  const own = consumerOf(view, head, station.feed, power)
  return [
    own,
    ...(power?.second
      ? [{ ...own, at: { node: view.id, second: true as const }, feed: station.secondFeed }]
      : []),
    ...rest.map((group) => consumerOf(view, group, group[0]!.row!.feed, undefined)),
  ]
}

/** Modules in the order of their slots, cut before each one that feeds. The head begins the first. */
function groupsOf(modules: readonly DerivedModule[]): DerivedModule[][] {
  const groups: DerivedModule[][] = []
  for (const module of modules) {
    const feeds = (module.described?.placement?.fieldSupplyMa ?? 0) > 0
    if (groups.length === 0 || (module.row && feeds)) groups.push([module])
    else groups.at(-1)!.push(module)
  }
  return groups
}

function consumerOf(
  view: DerivedStation,
  group: readonly DerivedModule[],
  feed: Consumer['feed'],
  power: PowerNeed | undefined,
): Consumer {
  const first = group[0]!
  const isHead = first.row === null
  const drawn = drawnBy(group)
  const lasting = (power?.currentMa ?? 0) + drawn.lasting
  const starting = (power?.inrushMa ?? power?.currentMa ?? 0) + drawn.starting
  return {
    at: { node: first.id },
    view,
    module: first,
    group,
    feed,
    needMa: feed?.currentMa ?? lasting,
    inrushMa: Math.max(feed?.inrushMa ?? feed?.currentMa ?? starting, feed?.currentMa ?? 0),
    isUnsaid: feed?.currentMa == null && (isHead ? !power : drawn.lasting === 0),
    minVolts: power?.minVolts ?? usualVolts.minVolts,
    maxVolts: power?.maxVolts ?? usualVolts.maxVolts,
  }
}

/** What modules draw of their field supply, with the loads of their signals. */
function drawnBy(group: readonly DerivedModule[]): { lasting: number; starting: number } {
  const drawn = { lasting: 0, starting: 0 }
  for (const { described, signals } of group) {
    const placement = described?.placement
    const field = placement && 'fieldCurrentMa' in placement ? placement.fieldCurrentMa : 0
    drawn.lasting += field
    drawn.starting += field
    for (const { facts } of signals.values()) {
      const load = loadOf(facts)
      drawn.lasting += load
      drawn.starting += facts.inrushMa ?? load
    }
  }
  return drawn
}

/** What a signal takes over its channel: the load of an output; a loop that the channel feeds takes
 *  20 mA at its end (common practice). */
function loadOf({ loadMa, kind, supply }: SignalFacts): number {
  return loadMa ?? (kind === 'AI' && supply === 'channel' ? 20 : 0)
}
