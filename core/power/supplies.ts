import type { Derived, DerivedStation } from '../derive/derive'
import type { Id } from '../plan/model'
import { ohmPerKm, voltageDrop } from '../vocabulary/conductor'
import { consumersOf } from './consumers'
import type { Consumer, Fed, Supply } from './model'

const ofPlan = new WeakMap<Derived, readonly Supply[]>()

/** All supplies of a plan with what hangs on them, in the order of their list. */
export function suppliesOf(derived: Derived): readonly Supply[] {
  let found = ofPlan.get(derived)
  if (!found) ofPlan.set(derived, (found = work(derived)))
  return found
}

function work({ stations }: Derived): Supply[] {
  const sources = [...stations.values()].filter(({ device }) => device?.source)
  if (sources.length === 0) return []
  const byId = new Map<Id, Consumer[]>(sources.map(({ id }) => [id, []]))
  for (const view of stations.values())
    if (isFed(view))
      for (const consumer of consumersOf(view))
        if (consumer.feed) byId.get(consumer.feed.from)?.push(consumer)
  return sources
    .sort((a, b) => a.station.position - b.station.position || (a.id < b.id ? -1 : 1))
    .map((view) => supplyOf(view, byId.get(view.id)!))
}

/** Whether anything of a station was hung on a supply. */
export function isFed({ station, group }: DerivedStation): boolean {
  if (station.feed || station.secondFeed) return true
  for (const id in group.modules) if (group.modules[id]!.feed) return true
  return false
}

function supplyOf(view: DerivedStation, consumers: readonly Consumer[]): Supply {
  const source = view.device!.source!
  const settings = view.station.settings as { outputVolts?: number | null }
  const volts = settings.outputVolts ?? source.volts
  const fed = consumers.map((consumer) => fedOf(consumer, volts))
  const spare = (one: Fed) => (one.startVolts ?? Infinity) - one.minVolts
  return {
    view,
    source,
    volts,
    peakMa: source.peakMa ?? source.currentMa,
    fed,
    usedMa: fed.reduce((sum, { needMa }) => sum + needMa, 0),
    inrushMa: fed.reduce((sum, { inrushMa }) => sum + inrushMa, 0),
    weakest: fed.reduce<Fed | null>(
      (weakest, one) => (weakest && spare(weakest) <= spare(one) ? weakest : one),
      null,
    ),
  }
}

function fedOf(consumer: Consumer, volts: number): Fed {
  const feed = consumer.feed!
  const ohms = feed.mm2 === null ? null : ohmPerKm(feed.mm2, feed.flexible)
  const voltsAt = (currentMa: number) =>
    feed.lengthM === null || ohms === null
      ? null
      : volts - voltageDrop(feed.lengthM, ohms, currentMa)
  return {
    ...consumer,
    feed,
    volts: voltsAt(consumer.needMa),
    startVolts: voltsAt(consumer.inrushMa),
  }
}
