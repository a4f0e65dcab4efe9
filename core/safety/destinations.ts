import { findDevice, findModule, type Catalog } from '../catalog/catalog'
import type { Device, Module } from '../catalog/model'
import { recordsOfPlaced, type PlacedRecord } from '../parameters/placed'
import type { ParameterChoices, Plan, Plugged } from '../plan/model'

/** F destination addresses: each fail-safe submodule of a plan has its own (PROFIsafe profile, from
 *  memory). */
const destination = 'F_Dest_Add'
const parameterOf = ({ record }: PlacedRecord) =>
  record.parameters.find(({ key }) => key === destination)

function failSafeRecords(
  catalog: Catalog,
  file: string,
  owner: Module | Device | null,
  plugged: Plugged,
): readonly PlacedRecord[] {
  return owner
    ? recordsOfPlaced(catalog, file, owner, plugged).filter(
        (placed) => placed.isFailSafe && parameterOf(placed),
      )
    : []
}

const valueOf = (placed: PlacedRecord, values: ParameterChoices) =>
  Number(values[placed.key]?.[destination] ?? parameterOf(placed)!.default)

/** Those that stand in a plan. */
export function destinationsIn({ stations }: Plan, catalog: Catalog): Set<number> {
  const used = new Set<number>()
  for (const { station, modules } of Object.values(stations)) {
    for (const placed of failSafeRecords(
      catalog,
      station.file,
      findDevice(catalog, station.file, station.device),
      station.plugged,
    ))
      used.add(valueOf(placed, station.values))
    for (const row of Object.values(modules))
      for (const placed of failSafeRecords(
        catalog,
        station.file,
        findModule(catalog, station.file, row.module),
        row.plugged,
      ))
        used.add(valueOf(placed, row.values))
  }
  return used
}

/** The lowest address that nobody has, among those that a parameter allows; null where there is
 *  none. */
export function freeDestination(
  isUsed: (address: number) => boolean,
  allowed: readonly (readonly [number, number])[],
): number | null {
  for (const [from, to] of allowed.length > 0 ? allowed : [[1, 65_534] as const]) {
    for (let address = Math.max(1, from); address <= Math.min(65_534, to); address++)
      if (!isUsed(address)) return address
  }
  return null
}

/** Values of a head or module that is new in a plan, or of which the submodules in some subslots
 *  are, with an address of its own for each new fail-safe submodule whose address is taken. */
export function withOwnDestinations(
  plan: Plan,
  catalog: Catalog,
  file: string,
  owner: Module | Device,
  plugged: Plugged,
  values: ParameterChoices,
  isNew = (_subslot: number) => true,
): ParameterChoices {
  const records = failSafeRecords(catalog, file, owner, plugged).filter(({ subslot }) =>
    isNew(subslot ?? 1),
  )
  if (records.length === 0) return values
  const used = destinationsIn(plan, catalog)
  return records.reduce((given, placed) => {
    const address = valueOf(placed, given)
    const own = used.has(address)
      ? freeDestination((one) => used.has(one), parameterOf(placed)!.allowed)
      : null
    used.add(own ?? address)
    return own === null
      ? given
      : { ...given, [placed.key]: { ...given[placed.key], [destination]: own } }
  }, values)
}
