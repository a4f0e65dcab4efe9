import type { DerivedModule, DerivedStation } from '../derive/derive'

/** A supply as it stands behind a module: what has been drawn since the last feed, and what that
 *  feed gives. */
export interface SupplyStep {
  readonly module: DerivedModule
  readonly drawnMa: number
  readonly suppliedMa: number
}

/** Running sum of the backplane current from the head on; a module that supplies begins anew
 *  (common practice). Empty where no description says what is supplied. */
export function supplySteps(modules: readonly DerivedModule[]): SupplyStep[] {
  return runningSum(modules, (module) => module.described?.currentMa ?? 0)
}

/** The same for the field supply of the potential groups: a module that feeds begins a new group
 *  (common practice). */
export function fieldSupplySteps(modules: readonly DerivedModule[]): SupplyStep[] {
  return runningSum(modules, ({ described }) => {
    const placement = described?.placement
    if (!placement) return 0
    return placement.fieldSupplyMa > 0
      ? -placement.fieldSupplyMa
      : 'fieldCurrentMa' in placement
        ? placement.fieldCurrentMa
        : 0
  })
}

/** `currentOf` is what a module draws; negative where it feeds. */
function runningSum(
  modules: readonly DerivedModule[],
  currentOf: (module: DerivedModule) => number,
): SupplyStep[] {
  const steps: SupplyStep[] = []
  let suppliedMa = 0
  let drawnMa = 0
  for (const module of modules) {
    const current = currentOf(module)
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

/** The first step beyond each feed; the ones behind it only repeat it. */
export function overdrawn(steps: readonly SupplyStep[]): SupplyStep[] {
  return steps.filter(
    ({ drawnMa, suppliedMa }, i) =>
      drawnMa > suppliedMa && !(i > 0 && steps[i - 1]!.drawnMa > steps[i - 1]!.suppliedMa),
  )
}

/** Millimetres that a station takes on its rail, as far as sheets say; 0 where none says. */
export function widthOf({ device, modules }: Pick<DerivedStation, 'device' | 'modules'>): number {
  return (
    (device?.placement?.widthMm ?? 0) +
    modules.reduce(
      (sum, { row, described }) => sum + (row ? (described?.placement?.widthMm ?? 0) : 0),
      0,
    )
  )
}
