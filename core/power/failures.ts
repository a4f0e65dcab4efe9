import type { Derived } from '../derive/derive'
import type { SingleFailure } from '../networks'
import type { Supply } from './model'
import { suppliesOf } from './supplies'
import { signalsLost, whatIfInPlan } from './what-if'

/** What the loss of a supply alone costs, in all networks. */
export interface SupplyFailure extends Omit<SingleFailure, 'link' | 'node'> {
  readonly supply: Supply
}

/** What each supply that anything hangs on costs. */
export function supplyFailures(derived: Derived): SupplyFailure[] {
  return suppliesOf(derived)
    .filter(({ fed }) => fed.length > 0)
    .map((supply) => {
      const outcome = whatIfInPlan(derived, { links: new Set(), nodes: new Set([supply.view.id]) })
      const { unreachable, drops } = outcome
      return {
        supply,
        unreachable: unreachable.length,
        drops: drops.length,
        signals: signalsLost(outcome),
      }
    })
}
