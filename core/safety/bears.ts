import { safetyConfigurationOf, safetyNetworkNumberOf } from '../protocols/ethernet-ip/safety'
import type { Catalog } from '../catalog/catalog'
import type { DeviceFile } from '../catalog/model'
import { derive } from '../derive/derive'
import { isFailSafeRecord } from '../parameters/f-parameters'
import { safetyLinesOf } from './modules'
import { stationIdOf, type RowChange } from '../plan/draft'
import type { Id, NetworkRow, Plan, ProjectRow, StationRow } from '../plan/model'

const known = new WeakMap<DeviceFile, boolean>()

/** Whether a description file offers anything fail-safe. */
function offersSafety(file: DeviceFile): boolean {
  let offers = known.get(file)
  if (offers === undefined) {
    const owners = [...file.devices, ...file.modules]
    offers =
      [...owners.flatMap(({ submodules }) => submodules), ...file.submodules].some(
        ({ safety, parameters }) => safety || parameters.some(isFailSafeRecord),
      ) || owners.some(({ parameters }) => parameters.some(isFailSafeRecord))
    known.set(file, offers)
  }
  return offers
}

/** What somebody entered or released in a row of whatever table. */
function recorded(row: object | null): string {
  const { safetyRelease } = (row ?? {}) as Partial<ProjectRow>
  const { settings = {} } = (row ?? {}) as Partial<StationRow | NetworkRow>
  return JSON.stringify([
    safetyRelease ?? null,
    safetyConfigurationOf({ settings }),
    safetyNetworkNumberOf({ settings }),
  ])
}

/** Whether a change touches anything fail-safe: a module of that kind that comes or goes, its
 *  place, its station's name and address, the addresses of its data and the tags on its channels,
 *  its F parameters or its own, what somebody entered for it, or the released signature. Looks only
 *  at stations on files that offer such modules, and at those with a configuration signature. */
export function bearsOnSafety(
  before: Plan,
  after: Plan,
  catalog: Catalog,
  changes: readonly RowChange[],
): boolean {
  const stations = new Set<Id>()
  for (const change of changes) {
    if (recorded(change.before) !== recorded(change.after)) return true
    if (change.table === 'stations') stations.add(change.id)
    if (change.table === 'modules')
      for (const row of [change.before, change.after]) if (row) stations.add(row.stationId)
    if (change.table === 'signals') {
      for (const [plan, row] of [
        [before, change.before],
        [after, change.after],
      ] as const) {
        const stationId = row?.place ? stationIdOf(plan, row.place.moduleId) : null
        if (stationId !== null) stations.add(stationId)
      }
    }
  }
  const touched = [...stations].filter((id) =>
    [before, after].some((plan) => {
      const station = plan.stations[id]?.station
      const file = catalog.get(station?.file ?? '')
      return (
        (file !== undefined && offersSafety(file)) ||
        (station !== undefined && safetyConfigurationOf(station) !== null)
      )
    }),
  )
  if (touched.length === 0) return false
  const linesIn = (plan: Plan) => {
    const stations = Object.fromEntries(
      touched.flatMap((id) => (plan.stations[id] ? [[id, plan.stations[id]]] : [])),
    )
    return [...derive({ ...plan, stations }, catalog).stations.values()]
      .flatMap((view) => safetyLinesOf(view, catalog))
      .sort()
      .join('\n')
  }
  return linesIn(before) !== linesIn(after)
}
