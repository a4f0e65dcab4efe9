import { stationSettingsFor, strangeSetting } from '../../protocols/registry'
import { findDevice, findModule, type Catalog } from '../../catalog/catalog'
import { derive } from '../../derive/derive'
import { faultOf } from '../../parameters/record'
import { recordsOfPlaced, type PlacedRecord } from '../../parameters/placed'
import { carriedTo } from '../../parameters/carry'
import { computedFParameters } from '../../parameters/f-parameters'
import { ownSignature, configurationOver } from '../../safety/modules'
import { layoutOfRow, layoutOfStation, unplaceLost } from './placing'
import type { Handler } from '../handler'
import type { Draft } from '../../plan/draft'
import type { Id, IParameterSums, ParameterChoices } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'

type Commands =
  | 'setParameters'
  | 'copyParameters'
  | 'setIParameterSum'
  | 'setMonitoredTimes'
  | 'setSafetyConfiguration'
type Value = number | string | null

export const parameterHandlers: { [T in Commands]: Handler<T> } = {
  setParameters: (draft, catalog, { edits }) => {
    const owners = new Map<Id, ParameterOwner>()
    for (const { moduleId, record, parameter, value } of edits) {
      let owner = owners.get(moduleId)
      if (!owner) {
        const found = ownerOf(draft, catalog, moduleId)
        if ('code' in found) return found
        owners.set(moduleId, (owner = found))
      }
      const refusal = owner.set(record, parameter, value)
      if (refusal) return refusal
    }
    for (const [id, owner] of owners) writeValues(draft, catalog, id, owner)
    return null
  },

  copyParameters: (draft, catalog, { values, file, from, moduleIds }) => {
    for (const moduleId of moduleIds) {
      const owner = ownerOf(draft, catalog, moduleId)
      if ('code' in owner) return owner
      const source = findModule(catalog, file, from) ?? findDevice(catalog, file, from)
      const fitting = source
        ? carriedTo(recordsOfPlaced(catalog, file, source, {}), values, owner.records)
        : values
      for (const [record, chosen] of Object.entries(fitting))
        for (const [parameter, value] of Object.entries(chosen)) owner.set(record, parameter, value)
      writeValues(draft, catalog, moduleId, owner)
    }
    return null
  },

  setIParameterSum: (draft, catalog, { moduleId, subslot, crc, by, at }) => {
    const owner = ownerOf(draft, catalog, moduleId)
    if ('code' in owner) return owner
    const block = owner.records.find(
      (placed) => placed.isFailSafe && (placed.subslot ?? 1) === subslot,
    )
    if (!block || block.record.length !== 14) return { code: 'safety.noSum', where: owner.where }
    const { [subslot]: _old, ...others } = owner.sums
    owner.writeSums(
      crc === null
        ? others
        : {
            ...others,
            [subslot]: { crc, over: ownSignature(owner.records, block, owner.values), by, at },
          },
    )
    return null
  },

  setMonitoredTimes: (draft, catalog, { moduleId, subslot, times }) => {
    const owner = ownerOf(draft, catalog, moduleId)
    if ('code' in owner) return owner
    if (!owner.records.some((placed) => placed.isFailSafe && (placed.subslot ?? 1) === subslot))
      return { code: 'safety.noConnection', where: owner.where }
    const row = draft.get('modules', moduleId)
    const station = draft.get('stations', moduleId)
    const { [subslot]: _old, ...others } = (row ?? station)!.monitored
    const monitored = times === null ? others : { ...others, [subslot]: times }
    if (row) draft.put('modules', { ...row, monitored })
    else draft.put('stations', { ...station!, monitored })
    return null
  },

  setSafetyConfiguration: (draft, catalog, { id, signature, madeAt, by, at }) => {
    const row = draft.get('stations', id)
    const view = derive(
      { ...draft.plan, stations: row ? { [id]: draft.plan.stations[id]! } : {} },
      catalog,
    ).stations.get(id)
    if (!row || !view) return { code: 'row.missing', what: 'station', id }
    const { kind } = row.settings
    const safetyConfiguration =
      signature === ''
        ? null
        : { signature, ...(madeAt && { madeAt }), over: configurationOver(view, catalog), by, at }
    const strange = strangeSetting('station', kind, { safetyConfiguration })
    if (strange) return { code: 'setting.strange', setting: strange, kind }
    const settings = stationSettingsFor(kind, { ...row.settings, safetyConfiguration })
    draft.put('stations', { ...row, settings })
    return null
  },
}

/** Writes the values; where the data below a port follow from them, signals whose channel is gone
 *  stand without a place. */
function writeValues(draft: Draft, catalog: Catalog, id: Id, owner: ParameterOwner): void {
  const layout = () => {
    const row = draft.get('modules', id)
    const { station } = draft.plan.stations[row?.stationId ?? id]!
    return row ? layoutOfRow(catalog, station, row) : layoutOfStation(catalog, station)
  }
  const before = layout()
  owner.write()
  const after = layout()
  if (!after || after === before) return
  unplaceLost(
    draft,
    draft.plan.stations[draft.get('modules', id)?.stationId ?? id]!.signals,
    id,
    before,
    after,
  )
}

/** A head or module whose parameters are being set. */
class ParameterOwner {
  values: Record<string, Record<string, number | string>>
  private readonly byKey: Map<string, PlacedRecord>

  constructor(
    readonly where: string,
    readonly records: readonly PlacedRecord[],
    before: ParameterChoices,
    readonly sums: IParameterSums,
    private readonly put: (values: ParameterChoices, sums: IParameterSums) => void,
  ) {
    this.values = { ...before }
    this.byKey = new Map(records.map((placed) => [placed.key, placed]))
  }

  /** A value back at the description's is no choice any more. What the description does not know
   *  can only be taken away. */
  set(record: string, key: string, value: Value): Refusal | null {
    const parameter = this.byKey.get(record)?.record.parameters.find((one) => one.key === key)
    if (value !== null) {
      if (!parameter) return { code: 'parameter.unknown', where: this.where, parameter: key }
      if (this.byKey.get(record)!.isFailSafe && computedFParameters.has(key))
        return { code: 'parameter.computed', where: this.where, parameter: key }
      const fault = faultOf(parameter, value)
      if (fault) return { code: 'parameter.refused', where: this.where, fault: fault.message }
    }
    const { [key]: _old, ...others } = this.values[record] ?? {}
    const chosen =
      value === null || value === parameter?.default ? others : { ...others, [key]: value }
    const { [record]: _before, ...records } = this.values
    this.values = Object.keys(chosen).length === 0 ? records : { ...records, [record]: chosen }
    return null
  }

  write(): void {
    this.put(this.values, this.sums)
  }

  writeSums(sums: IParameterSums): void {
    this.put(this.values, sums)
  }
}

function ownerOf(draft: Draft, catalog: Catalog, moduleId: Id): ParameterOwner | Refusal {
  const row = draft.get('modules', moduleId)
  const group = draft.plan.stations[row?.stationId ?? moduleId]
  if (!group) return { code: 'row.missing', what: 'module', id: moduleId }
  const { station } = group
  const described = row
    ? findModule(catalog, station.file, row.module)
    : findDevice(catalog, station.file, station.device)
  const records = described
    ? recordsOfPlaced(catalog, station.file, described, (row ?? station).plugged)
    : []
  const where = row ? `${station.name} · slot ${row.slot}` : station.name
  const put = (values: ParameterChoices, iParameterSums: IParameterSums) => {
    if (row) draft.put('modules', { ...row, values, iParameterSums })
    else draft.put('stations', { ...station, values, iParameterSums })
  }
  return new ParameterOwner(
    where,
    records,
    (row ?? station).values,
    (row ?? station).iParameterSums,
    put,
  )
}
