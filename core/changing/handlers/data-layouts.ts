import type { Catalog } from '../../catalog/catalog'
import {
  bytesOf,
  describedBlock,
  describedItems,
  faultsOfFields,
  withOwnData,
  wordFieldFault,
  type DataOfBlock,
} from '../../catalog/own-data'
import { blocksOfHead, submodulesOf } from '../../catalog/placed'
import { findDevice, findModule } from '../../catalog/catalog'
import { isEmpty } from '../../vocabulary/records'
import type { DataLayout, DataLayouts } from '../../vocabulary/data-layout'
import type { Handler } from '../handler'
import type { Draft } from '../../plan/draft'
import type { ChosenLayouts, Id, StationGroup } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import { layoutOfRow, layoutOfStation, unplaceLost } from './placing'

type Commands = 'setDataLayout' | 'useDataLayout'

export const dataLayoutHandlers: { [T in Commands]: Handler<T> } = {
  setDataLayout: (draft, catalog, { id, layout }) => {
    const { [id]: before, ...others } = draft.plan.project.dataLayouts
    if (!layout) {
      if (!before) return { code: 'row.missing', what: 'data layout', id }
      write(draft, catalog, others)
      forgetLayout(draft, id)
      return null
    }
    const refusal = whyNotLaid(catalog, layout) ?? whyTwice(layout, others)
    if (refusal) return refusal
    write(draft, catalog, { ...others, [id]: layout })
    return null
  },

  useDataLayout: (draft, catalog, { moduleId, subslot, direction, layout: id }) => {
    const row = draft.get('modules', moduleId)
    const group = draft.plan.stations[row?.stationId ?? moduleId]
    if (!group) return { code: 'row.missing', what: 'module', id: moduleId }
    const block = blockOfOwner(catalog, group, moduleId, subslot)
    if (!block || bytesOf(block, direction) === 0)
      return { code: 'block.missing', subslot, direction }
    const layout = id ? draft.plan.project.dataLayouts[id] : undefined
    if (id && !layout) return { code: 'row.missing', what: 'data layout', id }
    if (layout) {
      const refusal = whyUnfit({ ...layout, direction }, block)
      if (refusal) return refusal
    }
    const { [`${subslot}.${direction}`]: _old, ...others } = (row ?? group.station).layouts
    const layouts: ChosenLayouts =
      id === null ? others : { ...others, [`${subslot}.${direction}`]: id }
    const laid = withOwnData(catalog, draft.plan.project.dataLayouts)
    const layoutOf = (layouts: ChosenLayouts) =>
      row
        ? layoutOfRow(laid, group.station, { ...row, layouts })
        : layoutOfStation(laid, { ...group.station, layouts })
    const [old, next] = [layoutOf((row ?? group.station).layouts), layoutOf(layouts)]
    if (row) draft.put('modules', { ...row, layouts })
    else draft.put('stations', { ...group.station, layouts })
    if (next) unplaceLost(draft, group.signals, moduleId, old, next)
    return null
  },
}

/** Why a layout does not go over what its description says; null where it does. */
function whyNotLaid(catalog: Catalog, layout: DataLayout): Refusal | null {
  if (!catalog.has(layout.file)) return { code: 'file.missing', file: layout.file }
  const block = describedBlock(catalog, layout)
  if (!block || bytesOf(block, layout.direction) === 0)
    return { code: 'layout.noData', name: layout.name, key: layout.key }
  return whyUnfit(layout, block)
}

function whyUnfit(layout: DataLayout, block: DataOfBlock): Refusal | null {
  const bytes = bytesOf(block, layout.direction)
  if (bytes !== layout.bytes)
    return { code: 'layout.bytes', name: layout.name, bytes: layout.bytes, has: bytes }
  const [fault] = faultsOfFields(layout.fields, describedItems(block, layout.direction), bytes)
  return fault
    ? { code: 'layout.field', name: layout.name, fault: wordFieldFault(layout, fault) }
    : null
}

/** Of one type only one layout can hold everywhere. */
function whyTwice(layout: DataLayout, others: DataLayouts): Refusal | null {
  const other = Object.values(others).find(
    (one) =>
      layout.everywhere &&
      one.everywhere &&
      one.file === layout.file &&
      one.of === layout.of &&
      one.key === layout.key &&
      one.subslot === layout.subslot &&
      one.direction === layout.direction,
  )
  return other ? { code: 'layout.twice', name: layout.name, other: other.name } : null
}

/** Puts other layouts into the project; signals whose channel is gone by it wait. */
function write(draft: Draft, catalog: Catalog, layouts: DataLayouts): void {
  const before = withOwnData(catalog, draft.plan.project.dataLayouts)
  draft.setProject({ ...draft.plan.project, dataLayouts: layouts })
  const after = withOwnData(catalog, layouts)
  draft.visitStations(5)
  for (const group of Object.values(draft.plan.stations)) {
    const { station, modules, signals } = group
    const isTouched =
      before.get(station.file) !== after.get(station.file) ||
      [station, ...Object.values(modules)].some((row) => !isEmpty(row.layouts))
    if (!isTouched || isEmpty(signals)) continue
    const head = layoutOfStation(after, station)
    if (head && head !== layoutOfStation(before, station))
      unplaceLost(draft, signals, station.id, layoutOfStation(before, station), head)
    for (const row of Object.values(modules)) {
      const [old, next] = [layoutOfRow(before, station, row), layoutOfRow(after, station, row)]
      if (next && next !== old) unplaceLost(draft, signals, row.id, old, next)
    }
  }
}

/** Heads and modules that asked for a layout that is gone are as their type. */
function forgetLayout(draft: Draft, id: Id): void {
  const without = (layouts: ChosenLayouts) =>
    Object.fromEntries(Object.entries(layouts).filter(([, one]) => one !== id))
  for (const { station, modules } of Object.values(draft.plan.stations)) {
    if (Object.values(station.layouts).includes(id))
      draft.put('stations', { ...station, layouts: without(station.layouts) })
    for (const row of Object.values(modules))
      if (Object.values(row.layouts).includes(id))
        draft.put('modules', { ...row, layouts: without(row.layouts) })
  }
}

/** The data of a subslot of a head or module as described, without what was decided about them. */
function blockOfOwner(
  catalog: Catalog,
  { station, modules }: StationGroup,
  moduleId: Id,
  subslot: number,
): DataOfBlock | null {
  const row = modules[moduleId]
  const owner = row
    ? findModule(catalog, station.file, row.module)
    : findDevice(catalog, station.file, station.device)
  if (!owner) return null
  const bare = { plugged: (row ?? station).plugged, values: {} }
  const blocks =
    'connections' in owner && !row
      ? blocksOfHead(catalog, owner, { ...station, ...bare, layouts: {} })
      : submodulesOf(catalog, station.file, owner, bare)
  return blocks.find((one) => (one.subslot ?? 1) === subslot) ?? null
}
