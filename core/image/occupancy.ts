import type { Catalog } from '../catalog/catalog'
import type { DeviceFile } from '../catalog/model'
import type { ControllerRow, Id, Plan, StationGroup } from '../plan/model'
import {
  bitsTaken,
  blocksOf,
  extentsOf,
  heldExtents,
  ImageSpace,
  packsBits,
  type Extent,
  type StandingBlock,
} from './image'

/** What one station takes of its controller's image. */
interface Share {
  readonly file: DeviceFile | null
  readonly controller: ControllerRow
  readonly packs: boolean
  readonly standing: readonly StandingBlock[]
  readonly taken: readonly Extent[]
  readonly held: readonly Extent[]
}

/** A plan differs from the one before in a few stations: what the others take is known. */
const known = new WeakMap<StationGroup, Share>()

/** Neighbouring bytes in one go. */
function runsOf(extents: readonly Extent[]): Extent[] {
  const runs: Extent[] = []
  for (const next of [...extents].sort((a, b) =>
    a.direction === b.direction ? a.byte - b.byte : a.direction === 'in' ? -1 : 1,
  )) {
    const last = runs.at(-1)
    if (last?.direction === next.direction && next.byte <= last.byte + last.bytes)
      runs[runs.length - 1] = {
        ...last,
        bytes: Math.max(last.bytes, next.byte + next.bytes - last.byte),
      }
    else runs.push(next)
  }
  return runs
}

function shareOf(
  plan: Plan,
  catalog: Catalog,
  group: StationGroup,
  controller: ControllerRow,
): Share {
  const packs = packsBits(plan, group.station)
  const standing = blocksOf(catalog, group)
  const placed = standing.flatMap(({ block, bit }) =>
    bit === null ? [] : [{ direction: block.direction, bit, bits: bitsTaken(block, packs) }],
  )
  return {
    file: catalog.get(group.station.file) ?? null,
    controller,
    packs,
    standing,
    taken: runsOf(extentsOf(placed)),
    held: heldExtents(controller, group.station.networkId, standing, packs),
  }
}

/** The image of a controller as `stationId` finds it: what others have and hold is taken, its own
 *  bytes too, its own reserve is not. `changed` are stations whose groups are being changed just
 *  now and must not be remembered. Pure for the caller. */
export function spaceFor(
  plan: Plan,
  catalog: Catalog,
  controller: ControllerRow,
  stationId: Id,
  changed: ReadonlySet<Id>,
  without: ReadonlySet<Id> = new Set(),
): ImageSpace {
  const space = new ImageSpace(controller)
  for (const group of Object.values(plan.stations)) {
    const { id } = group.station
    if (without.has(id) || plan.networks[group.station.networkId]?.controllerId !== controller.id)
      continue
    let share = changed.has(id) ? undefined : known.get(group)
    if (
      share?.controller !== controller ||
      share.packs !== packsBits(plan, group.station) ||
      share.file !== (catalog.get(group.station.file) ?? null)
    ) {
      share = shareOf(plan, catalog, group, controller)
      if (!changed.has(id)) known.set(group, share)
    }
    for (const extent of share.taken) space.take(extent)
    if (id !== stationId) for (const extent of share.held) space.take(extent)
    else if (share.packs) {
      for (const { block, bit } of share.standing) {
        const bits = bitsTaken(block, true)
        if (bit !== null && bits < 8) space.takeBits(block.direction, bit, bits)
      }
    }
  }
  return space
}
