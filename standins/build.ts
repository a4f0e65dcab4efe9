import { hexOctet, type PlannedStation, type RealModule } from '@kataxis/core'
import type { StandIn, Wire } from './wire'

/** Something that is not as planned. */
export type Difference =
  | { readonly kind: 'factoryNew'; readonly station: string }
  | {
      readonly kind: 'swapped'
      readonly station: string
      readonly slots: readonly [number, number]
    }

/** The planned stations on a wire, with two differences worth finding: the last station is
 *  factory-new, and in the first station with two different neighbours those two stand the wrong
 *  way round. */
export function buildWire(planned: readonly PlannedStation[]): {
  wire: Wire
  differences: Difference[]
} {
  const differences: Difference[] = []
  const newest = planned.at(-1)
  if (newest) differences.push({ kind: 'factoryNew', station: newest.name })
  const mixed = planned.find((station) => station !== newest && differentNeighbours(station))
  const pair = mixed && differentNeighbours(mixed)
  if (mixed && pair)
    differences.push({ kind: 'swapped', station: mixed.name, slots: [pair[0].slot, pair[1].slot] })

  const devices = planned.map((station, i): StandIn => ({
    mac: `02:4b:58:00:${hexOctet(i >> 8)}:${hexOctet(i & 0xff)}`,
    vendorId: station.vendorId,
    deviceId: station.deviceId,
    typeOfStation: station.type,
    name: station === newest ? '' : station.wireName,
    ip: station === newest ? '0.0.0.0' : station.ip,
    mask: station === newest ? '0.0.0.0' : station.mask,
    gateway: '0.0.0.0',
    modules: station === mixed && pair ? swap(station.modules, pair) : station.modules,
    blinks: 0,
  }))
  return { wire: { devices }, differences }
}

function differentNeighbours({ modules }: PlannedStation): [RealModule, RealModule] | null {
  for (const [i, module] of modules.entries()) {
    const next = modules[i + 1]
    if (module.slot > 0 && next && next.ident !== module.ident) return [module, next]
  }
  return null
}

function swap(modules: readonly RealModule[], [a, b]: [RealModule, RealModule]): RealModule[] {
  return modules
    .map((module) =>
      module === a ? { ...a, slot: b.slot } : module === b ? { ...b, slot: a.slot } : module,
    )
    .sort((x, y) => x.slot - y.slot)
}
