import type { DerivedModule } from '../derive/derive'

/** The backplane's current as it stands behind a module: what has been drawn since the last feed, and what that feed gives. */
export interface SupplyStep {
  readonly module: DerivedModule
  readonly drawnMa: number
  readonly suppliedMa: number
}

/** Running sum of the backplane current from the head on; a module that supplies begins anew (common practice). Empty
 *  where no description says what is supplied. */
export function supplySteps(modules: readonly DerivedModule[]): SupplyStep[] {
  const steps: SupplyStep[] = []
  let suppliedMa = 0
  let drawnMa = 0
  for (const module of modules) {
    const current = module.described?.currentMa ?? 0
    if (current < 0) {
      suppliedMa = -current
      drawnMa = 0
    } else {
      drawnMa += current
    }
    if (suppliedMa > 0) steps.push({ module, drawnMa, suppliedMa })
  }
  return steps
}
