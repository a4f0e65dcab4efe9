import type { Derived } from '../derive/derive'
import type { Fed } from './model'
import { suppliesOf } from './supplies'

/** Supplies of a plan, as `npx kataxis networks` prints them. */
export function powerReport(derived: Derived) {
  return suppliesOf(derived).map(({ view, source, volts, peakMa, fed, usedMa, inrushMa }) => ({
    id: view.id,
    supply: view.station.name,
    volts,
    capacityMa: source.currentMa,
    peakMa,
    usedMa,
    inrushMa,
    stations: [...new Set(fed.map((one) => one.view.station.name))],
    feeds: fed.map((one) => ({
      station: one.view.station.name,
      at: wordConsumer(one),
      lengthM: one.feed.lengthM,
      mm2: one.feed.mm2,
      needMa: one.needMa,
      inrushMa: one.inrushMa,
      volts: one.volts,
      startVolts: one.startVolts,
      minVolts: one.minVolts,
    })),
  }))
}

/** Which part of its station it is. */
export function wordConsumer({ at, module }: Pick<Fed, 'at' | 'module'>): string {
  if (module.row) return `group from slot ${module.slot}`
  return at.second ? 'head, second input' : 'head'
}
