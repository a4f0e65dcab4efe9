import type { SafetyConfiguration } from '../protocols/ethernet-ip/safety'
import type { StationSettings } from '../protocols/registry'
import { findDevice, findModule, type Catalog } from '../catalog/catalog'
import { recordsOfPlaced } from '../parameters/placed'
import type { ModuleRow, NetworkRow, Plan, StationGroup, StationRow } from '../plan/model'

const mapValues = <T, U>(
  rows: Readonly<Record<string, T>>,
  make: (row: T) => U,
): Record<string, U> => Object.fromEntries(Object.entries(rows).map(([id, row]) => [id, make(row)]))

/** A plan as it comes in from a file: whoever signed or released something there did not do so
 *  here. Check sums, configuration signatures and the release are kept as imported, and hold for
 *  nothing until somebody enters or releases them anew. */
export function unsignedPlan(plan: Plan, importer: string): Plan {
  const mark = <T extends { over: string; by: string }>(entered: T): T => ({
    ...entered,
    over: '',
    by: markOf(entered.by, importer),
  })
  const unsigned = <T extends StationRow | ModuleRow>(row: T): T => ({
    ...row,
    iParameterSums: mapValues(row.iParameterSums, mark),
  })
  const { safetyRelease } = plan.project
  return {
    ...plan,
    project: {
      ...plan.project,
      safetyRelease: safetyRelease && {
        ...safetyRelease,
        signature: '',
        by: markOf(safetyRelease.by, importer),
      },
    },
    stations: mapValues(plan.stations, (group): StationGroup => ({
      ...group,
      station: {
        ...unsigned(group.station),
        settings: withSafetyConfiguration(
          group.station.settings,
          (entered) => entered && mark(entered),
        ),
      },
      modules: mapValues(group.modules, unsigned),
    })),
  }
}

function withSafetyConfiguration(
  settings: StationSettings,
  change: (entered: SafetyConfiguration | null) => SafetyConfiguration | null,
): StationSettings {
  return 'safetyConfiguration' in settings
    ? { ...settings, safetyConfiguration: change(settings.safetyConfiguration) }
    : settings
}

const longestName = 200
const markOf = (by: string, importer: string) =>
  `imported by ${importer}, not signed here; was ${by.replace(/^imported by .*; was /, '')}`.slice(
    0,
    longestName,
  )

/** The same for somebody who may not change what is fail-safe: all that was chosen or entered for
 *  it stays out. */
export function withoutSafety(plan: Plan, catalog: Catalog): Plan {
  const plain = <T extends StationRow | ModuleRow>(
    row: T,
    file: string,
    described: Parameters<typeof recordsOfPlaced>[2] | null,
  ): T => {
    const failSafe = new Set(
      described
        ? recordsOfPlaced(catalog, file, described, row.plugged).flatMap(({ key, isSafety }) =>
            isSafety ? [key] : [],
          )
        : [],
    )
    return {
      ...row,
      iParameterSums: {},
      values: Object.fromEntries(Object.entries(row.values).filter(([key]) => !failSafe.has(key))),
    }
  }
  return {
    ...plan,
    project: { ...plan.project, safetyRelease: null },
    networks: mapValues(plan.networks, (network): NetworkRow => ({
      ...network,
      settings:
        'safetyNetworkNumber' in network.settings
          ? { ...network.settings, safetyNetworkNumber: '' }
          : network.settings,
    })),
    stations: mapValues(plan.stations, ({ station, modules, signals }): StationGroup => ({
      station: {
        ...plain(station, station.file, findDevice(catalog, station.file, station.device)),
        settings: withSafetyConfiguration(station.settings, () => null),
      },
      modules: mapValues(modules, (row) =>
        plain(row, station.file, findModule(catalog, station.file, row.module)),
      ),
      signals,
    })),
  }
}
