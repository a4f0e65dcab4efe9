import type { Catalog } from '../../catalog/catalog'
import type { Handler } from '../handler'
import type { Draft } from '../../plan/draft'
import { controllerRow, networkRow } from '../../plan/model'
import { networkSettingsFor, strangeSetting } from '../../protocols/registry'
import { behind } from './positions'
import { removeStation } from './stations'

type Commands =
  | 'addController'
  | 'updateController'
  | 'removeController'
  | 'addNetwork'
  | 'updateNetwork'
  | 'removeNetwork'

export const controllerHandlers: { [T in Commands]: Handler<T> } = {
  addController: (draft, _, { type: _type, ...row }) => {
    if (draft.get('controllers', row.id)) return { code: 'id.taken', id: row.id }
    draft.put(
      'controllers',
      controllerRow.parse({ ...row, position: behind(Object.values(draft.plan.controllers)) }),
    )
    return null
  },
  updateController: (draft, _, { id, set }) => {
    const row = draft.get('controllers', id)
    if (!row) return { code: 'row.missing', what: 'controller', id }
    draft.put('controllers', { ...row, ...set })
    return null
  },
  removeController: (draft, catalog, { id }) => {
    if (!draft.get('controllers', id)) return { code: 'row.missing', what: 'controller', id }
    for (const network of Object.values(draft.plan.networks))
      if (network.controllerId === id) removeNetwork(draft, catalog, network.id)
    draft.remove('controllers', id)
    return null
  },
  addNetwork: (draft, _, { type: _type, ...row }) => {
    if (draft.get('networks', row.id)) return { code: 'id.taken', id: row.id }
    if (!draft.get('controllers', row.controllerId))
      return { code: 'row.missing', what: 'controller', id: row.controllerId }
    const { kind, settings = {}, ...common } = row
    const strange = strangeSetting('network', kind, settings)
    if (strange) return { code: 'setting.strange', setting: strange, kind }
    draft.put(
      'networks',
      networkRow.parse({
        ...common,
        position: behind(Object.values(draft.plan.networks)),
        settings: networkSettingsFor(kind, settings),
      }),
    )
    return null
  },
  updateNetwork: (draft, _, { id, set }) => {
    const row = draft.get('networks', id)
    if (!row) return { code: 'row.missing', what: 'network', id }
    const { settings, ...common } = set
    const { kind } = row.settings
    const strange = strangeSetting('network', kind, settings ?? {})
    if (strange) return { code: 'setting.strange', setting: strange, kind }
    draft.put('networks', {
      ...row,
      ...common,
      ...(settings && { settings: networkSettingsFor(kind, { ...row.settings, ...settings }) }),
    })
    return null
  },
  removeNetwork: (draft, catalog, { id }) => {
    if (!draft.get('networks', id)) return { code: 'row.missing', what: 'network', id }
    removeNetwork(draft, catalog, id)
    return null
  },
}

function removeNetwork(draft: Draft, catalog: Catalog, id: string): void {
  for (const { station } of Object.values(draft.plan.stations))
    if (station.networkId === id) removeStation(draft, catalog, station.id)
  draft.remove('networks', id)
}
