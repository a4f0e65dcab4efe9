import { kindOf } from '@kataxis/core'
import type { Database } from '../db/connect'
import { setWired, unwiredProjects } from '../repositories/plans'
import type { Changing } from './changing'
import type { Plans } from './plans'
import { Refused } from './refused'

/** Links the stations of projects from before there were links: each network as a line in the order
 *  of its list, as one change of its own that stands in the history. Where the ports do not do for a
 *  line, the network stays as it is, and its findings say so. Gives how many networks it linked. */
export async function linkOldProjects(
  db: Database,
  plans: Plans,
  changing: Changing,
): Promise<number> {
  let linked = 0
  for (const projectId of await unwiredProjects(db)) {
    const { plan, damage } = await plans.load(projectId)
    // Nothing changes a damaged one but a repair; it is linked at a later start.
    if (damage.length > 0) continue
    const occupied = new Set(Object.values(plan.stations).map(({ station }) => station.networkId))
    for (const network of Object.values(plan.networks)) {
      if (!kindOf(network).wiring || !occupied.has(network.id)) continue
      const order = {
        commandId: `links-${projectId}-${network.id}`,
        baseRevision: 0,
        userId: null,
        author: 'Kataxis',
        mayChangeSafety: true,
      }
      try {
        await changing.execute(projectId, order, { type: 'lineUp', networkId: network.id })
        linked++
      } catch (error) {
        if (!(error instanceof Refused)) throw error
      }
    }
    await setWired(db, projectId)
  }
  return linked
}
