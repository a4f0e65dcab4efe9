import { maskOf, formatIp } from '../addressing/ip'
import { protocolOf } from '../protocols/registry'
import { ipOf, prefixLengthOf } from '../protocols/settings'
import { wireName } from '../protocols/profinet/station-name'
import type { Derived, DerivedStation } from '../derive/derive'
import type { RealModule } from '../protocols/profinet/real-identification'

/** A planned station as it should look on the wire. */
export interface PlannedStation {
  readonly id: string
  readonly name: string
  readonly wireName: string
  readonly ip: string
  readonly mask: string
  readonly vendorId: number
  readonly deviceId: number
  readonly vendor: string
  readonly type: string
  readonly modules: readonly RealModule[]
  /** Names of module idents, for sentences. */
  readonly moduleNames: Readonly<Record<number, string>>
}

/** What the wire should show: all stations whose description file is there. */
export function plannedStations(derived: Derived): PlannedStation[] {
  return derived.controllers.flatMap(({ networks }) =>
    networks.flatMap(({ network, stations }) =>
      stations.flatMap(
        (view) => plannedStation(view, formatIp(maskOf(prefixLengthOf(network)))) ?? [],
      ),
    ),
  )
}

function plannedStation(derived: DerivedStation, mask: string): PlannedStation | null {
  const { id, station, file, device } = derived
  if (!file || !device) return null
  const protocol = protocolOf(device)
  if (!protocol.says || !protocol.ids) return null
  const { vendorId, deviceId } = protocol.ids(device)
  const { moduleIdent, modules } = protocol.says({ ...derived, device })
  return {
    id,
    name: station.name,
    wireName: wireName(station.name),
    ip: ipOf(station),
    mask,
    vendorId,
    deviceId,
    vendor: file.vendor.name,
    type: device.name,
    modules,
    moduleNames: {
      [moduleIdent]: device.name,
      ...Object.fromEntries(file.modules.map((module) => [module.ident ?? 0, module.name])),
    },
  }
}
