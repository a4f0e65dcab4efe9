import type { FailSafeAddress, FoundDevice } from '../protocols/master'
import { protocolOf } from '../protocols/registry'
import type { RealModule, RealSubmodule } from '../protocols/wire'
import { commonOrder } from './common-order'
import type { PlannedStation } from './planned'

export type SlotState = 'same' | 'swapped' | 'wrong' | 'missing' | 'surplus'

export interface SlotComparison {
  readonly slot: number
  readonly state: SlotState
  readonly planned: string | null
  readonly found: string | null
  /** As the wire has it; null: nothing is plugged. */
  readonly foundIdent: string | null
  readonly submodules: readonly SubslotComparison[]
}

export interface SubslotComparison {
  readonly subslot: number
  readonly state: Exclude<SlotState, 'swapped' | 'same'>
}

/** Planned and real modules slot by slot, in slot order; two modules that took each other's place
 *  are told as swapped. Empty where the device does not say what stands in it. */
export function compareModules(station: PlannedStation, device: FoundDevice): SlotComparison[] {
  if (!device.modules) return []
  // The head in slot 0 counts only where its protocol tells of it.
  const tellsHead = device.modules.some(({ slot }) => slot === 0)
  const wanted = station.modules.filter(({ slot }) => tellsHead || slot > 0)
  const isGapless = station.view.device && protocolOf(station.view.device).isGapless
  const planned = bySlot(wanted)
  const real = bySlot(isGapless ? inPlannedSlots(wanted, device.modules) : device.modules)
  return [...new Set([...planned.keys(), ...real.keys()])]
    .sort((a, b) => a - b)
    .map((slot) => {
      const [want, have] = [planned.get(slot), real.get(slot)]
      const state = slotState(planned, real, slot)
      return {
        slot,
        state,
        planned: want ? nameOf(station, want) : null,
        found: have ? nameOf(station, have) : null,
        foundIdent: have?.ident ?? null,
        submodules: state === 'same' && want && have ? compareSubmodules(want, have) : [],
      }
    })
}

/** Modules that are told without their slots, each in that of the planned one that it is: those
 *  that agree in their order keep their slots, others take what is left between. */
function inPlannedSlots(planned: readonly RealModule[], real: readonly RealModule[]): RealModule[] {
  const wanted = planned.filter(({ ident }) => ident !== '')
  const pairs = commonOrder(wanted, real, (a, b) => a.ident === b.ident)
  const placed: RealModule[] = []
  let slot = wanted[0]?.slot ?? 1
  for (const { left, right, pair } of pairs) {
    for (const [i, module] of right.entries())
      placed.push({ ...module, slot: left[i]?.slot ?? slot + (i - left.length) })
    if (!pair) continue
    placed.push({ ...pair[1], slot: pair[0].slot })
    slot = pair[0].slot + 1
  }
  return placed
}

const bySlot = (modules: readonly RealModule[]) =>
  new Map(modules.map((module) => [module.slot, module]))

function nameOf({ moduleNames }: PlannedStation, { ident, slot }: RealModule): string {
  return moduleNames[ident] ?? (slot === 0 ? 'the head' : `unknown module ${ident}`)
}

function slotState(
  planned: ReadonlyMap<number, RealModule>,
  real: ReadonlyMap<number, RealModule>,
  slot: number,
): SlotState {
  const [want, have] = [planned.get(slot)?.ident, real.get(slot)?.ident]
  if (want === have) return 'same'
  if (want === undefined) return 'surplus'
  if (have === undefined) return 'missing'
  const isElsewhere = [...planned].some(
    ([other, { ident }]) => other !== slot && ident === have && real.get(other)?.ident === want,
  )
  return isElsewhere ? 'swapped' : 'wrong'
}

/** Subslots that differ within a module that is the planned one. */
function compareSubmodules(want: RealModule, have: RealModule): SubslotComparison[] {
  if (have.submodules.length === 0) return []
  const identOf = (all: readonly RealSubmodule[], subslot: number) =>
    all.find((one) => one.subslot === subslot)?.ident
  const subslots = [...want.submodules, ...have.submodules].map(({ subslot }) => subslot)
  return [...new Set(subslots)]
    .sort((a, b) => a - b)
    .flatMap((subslot) => {
      const [planned, real] = [identOf(want.submodules, subslot), identOf(have.submodules, subslot)]
      if (planned === real) return []
      const state = planned === undefined ? 'surplus' : real === undefined ? 'missing' : 'wrong'
      return [{ subslot, state } as const]
    })
}

/** Planned fail-safe addresses that the device has not, with what it has. */
export function differentFailSafe(
  planned: readonly FailSafeAddress[],
  { failSafe }: FoundDevice,
): (FailSafeAddress & { readonly real: number })[] {
  return planned.flatMap((one) => {
    const real = failSafe?.find(({ slot, subslot }) => slot === one.slot && subslot === one.subslot)
    return real && real.destination !== one.destination ? [{ ...one, real: real.destination }] : []
  })
}

/** How many slots agree, less those that do not: what tells devices of one type apart. */
export function agreement(station: PlannedStation, device: FoundDevice): number {
  return compareModules(station, device).reduce(
    (score, { state }) => score + (state === 'same' ? 1 : -1),
    0,
  )
}
