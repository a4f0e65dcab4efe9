import type { DerivedNetwork } from '../derive/derive'
import type { Id } from '../plan/model'
import { kindOf } from '../protocols/registry'

/** How the links of a network run, told from its stations' rows alone, without following any of
 *  them. Null where nothing is to be linked. */
export type WireShape = 'ring' | 'line' | 'tree' | 'not linked'

export function shapeOf({ network, stations }: DerivedNetwork): WireShape | null {
  if (!kindOf(network).wiring || stations.length === 0) return null
  if ('ring' in network.settings && network.settings.ring) return 'ring'
  const degrees = new Map<Id, number>()
  const count = (id: Id) => degrees.set(id, (degrees.get(id) ?? 0) + 1)
  for (const { id, station } of stations)
    for (const port in station.links) {
      count(id)
      count(station.links[port]!.to.node)
    }
  if (degrees.size === 0) return 'not linked'
  return [...degrees.values()].every((degree) => degree <= 2) ? 'line' : 'tree'
}
