import type { Derived, DerivedStation } from '../derive/model'
import type { ModuleRow, Plan, StationGroup } from '../plan/model'
import { moduleCalled, type SiteDifference } from './differences'

/** The plan as it would be if it said what stands on site: the differences that concern types and
 *  modules carried out, all else as planned. Addresses play no part. `fileCalled` gives the hash
 *  of a description file by its name or hash. */
export function realPlan(
  derived: Derived,
  differences: readonly SiteDifference[],
  fileCalled: (name: string) => string | null,
): Plan {
  const stations: Record<string, StationGroup> = { ...derived.plan.stations }
  const byName = new Map([...derived.stations.values()].map((view) => [view.station.name, view]))
  for (const one of differences) {
    const view = 'station' in one ? byName.get(one.station) : undefined
    if (view) stations[view.id] = changed(stations[view.id]!, view, one, fileCalled)
  }
  return { ...derived.plan, stations }
}

function changed(
  group: StationGroup,
  view: DerivedStation,
  one: SiteDifference,
  fileCalled: (name: string) => string | null,
): StationGroup {
  const rows = Object.values(group.modules)
  const withModules = (modules: readonly ModuleRow[]): StationGroup => ({
    ...group,
    modules: Object.fromEntries(modules.map((row) => [row.id, row])),
  })
  switch (one.kind) {
    case 'swapped': {
      const [a, b] = one.slots
      return withModules(
        rows.map((row) =>
          row.slot === a ? { ...row, slot: b } : row.slot === b ? { ...row, slot: a } : row,
        ),
      )
    }
    case 'missingModule':
      return withModules(rows.filter(({ slot }) => slot !== one.slot))
    case 'wrongModule':
      return withModules(
        rows.map((row) =>
          row.slot === one.slot
            ? bareRow(row.id, view.id, row.slot, moduleCalled(view, one.module) ?? row.module)
            : row,
        ),
      )
    case 'surplusModule':
      return withModules([
        ...rows,
        bareRow(
          `${view.id}-surplus-${one.slot}`,
          view.id,
          one.slot,
          moduleCalled(view, one.module) ?? one.module,
        ),
      ])
    case 'wrongType':
      return {
        ...group,
        modules: {},
        station: {
          ...group.station,
          file: fileCalled(one.device.file) ?? group.station.file,
          device: one.device.device,
          connection: '',
          plugged: {},
          layouts: {},
          values: {},
        },
      }
    default:
      return group
  }
}

/** A module as it comes out of its box. */
function bareRow(id: string, stationId: string, slot: number, module: string): ModuleRow {
  return {
    id,
    stationId,
    slot,
    module,
    plugged: {},
    layouts: {},
    identity: null,
    sendsEveryS: null,
    feed: null,
    orders: {},
    values: {},
    iParameterSums: {},
    monitored: {},
    addresses: {},
  }
}
