import { findDevice, findModule, type Catalog } from '../catalog/catalog'
import type { ControllerTraits } from '../catalog/traits'
import type { Id, NetworkRow, Plan, StationGroup } from '../plan/model'
import { kindOf } from '../protocols/registry'

export type ControllerInterface = ControllerTraits['interfaces'][number]

/** What a controller's own rack says of it: its room, and the interfaces that it and the modules in
 *  its slots bring; null where no rack stands in the plan, or its sheet says nothing. */
export interface DescribedController {
  readonly name: string
  readonly traits: ControllerTraits
}

export function describedController(
  { networks, stations }: Pick<Plan, 'networks' | 'stations'>,
  catalog: Catalog,
  controllerId: Id,
): DescribedController | null {
  const home = Object.values(networks).find(
    (network) => network.controllerId === controllerId && kindOf(network).isController,
  )
  const group = home && Object.values(stations).find(({ station }) => station.networkId === home.id)
  const device = group && findDevice(catalog, group.station.file, group.station.device)
  if (!group || !device || !('sheet' in device) || !device.sheet.controller) return null
  const { interfaces, ...room } = device.sheet.controller
  return {
    name: device.name,
    traits: { ...room, interfaces: [...interfaces, ...broughtBy(group, catalog)] },
  }
}

/** Modules in its slots bring interfaces of their own. */
function broughtBy({ station, modules }: StationGroup, catalog: Catalog): ControllerInterface[] {
  return Object.values(modules)
    .sort((a, b) => a.slot - b.slot)
    .flatMap(({ module }) => [...(findModule(catalog, station.file, module)?.interfaces ?? [])])
}

/** The interface that a network has at its controller: interfaces of a kind go to its networks in
 *  their order. Null where nothing says it. */
export function interfaceOf(
  networks: Plan['networks'],
  { traits }: DescribedController,
  network: NetworkRow,
): ControllerInterface | null {
  const { kind } = network.settings
  const beside = Object.values(networks)
    .filter(
      ({ controllerId, settings }) =>
        controllerId === network.controllerId && settings.kind === kind,
    )
    .sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1))
  const nth = beside.findIndex(({ id }) => id === network.id)
  return traits.interfaces.filter((one) => one.kind === kind)[nth] ?? null
}
