import { maskOf, formatIp } from '../addressing/ip'
import { wireName } from '../addressing/station-name'
import type { Derived, DerivedStation } from '../derive/derive'
import type { RealModule } from './real-identification'

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
        (view) => plannedStation(view, formatIp(maskOf(network.prefixLength))) ?? [],
      ),
    ),
  )
}

function plannedStation(
  { id, station, file, device, modules }: DerivedStation,
  mask: string,
): PlannedStation | null {
  if (!file || device?.protocol !== 'profinet') return null
  const { vendorId, deviceId, moduleIdent } = device.identity.profinet
  const real = modules.flatMap(({ slot, row, described }): RealModule[] => {
    if (!described) return []
    const ident = row ? ('ident' in described ? (described.ident ?? 0) : 0) : moduleIdent
    const submodules = described.submodules.map(({ subslot, ident: own }) => ({
      subslot: subslot ?? 1,
      ident: own ?? 0,
    }))
    return [{ slot, ident, submodules }]
  })
  return {
    id,
    name: station.name,
    wireName: wireName(station.name),
    ip: station.ip,
    mask,
    vendorId,
    deviceId,
    vendor: file.vendor.name,
    type: device.name,
    modules: real,
    moduleNames: {
      [moduleIdent]: device.name,
      ...Object.fromEntries(file.modules.map((module) => [module.ident ?? 0, module.name])),
    },
  }
}
