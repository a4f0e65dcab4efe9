import type { Catalog } from '../catalog/catalog'
import { encodePlaced, isSent, recordsOfPlaced } from '../parameters/placed'
import type { WireRecord } from '../protocols/wire'
import { fromHex } from '../vocabulary/hex'
import type { DerivedStation } from './derive'

/** All parameter records of a station with the octets that the plan gives them: those of the head,
 *  then of its modules in slot order. */
export function recordsOnWire(
  { station, modules }: DerivedStation,
  catalog: Catalog,
): readonly WireRecord[] {
  return modules.flatMap(({ id, slot, row, described, plugged }) => {
    if (!described) return []
    const { values } = row ?? station
    const placed = recordsOfPlaced(catalog, station.file, described, plugged)
    return placed
      .filter((one) => isSent(one, values[one.key]))
      .map((placed) => ({
        moduleId: id,
        slot,
        isHead: row === null,
        key: placed.key,
        record: placed.record,
        bytes: fromHex(encodePlaced(placed, values[placed.key]).bytes),
      }))
  })
}
