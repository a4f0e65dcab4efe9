import { findDevice, findModule, type Catalog } from '../../catalog/catalog'
import type { Device } from '../../catalog/model'
import { layoutOfHead, layoutOfPlaced } from '../../catalog/placed'
import { packsBits } from '../../image/image'
import { carryHeadValues, carryValues } from '../../parameters/carry'
import { slotOf, whyNotInSlot } from '../../placement/slots'
import type { Draft } from '../../plan/draft'
import type { ModuleRow, StationGroup, StationRow } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import {
  giveAddresses,
  keepsChannel,
  layoutOfStation,
  placeFixed,
  pluggedInto,
  sameBlocks,
  unplaceSignals,
} from './placing'

/** Another head under a station: modules, addresses, values and signals stay where they fit; signals
 *  that lose their channel wait. */
export function replaceHead(
  draft: Draft,
  catalog: Catalog,
  group: StationGroup,
  device: Device,
  head: Pick<StationRow, 'file' | 'device' | 'connection'>,
): Refusal | null {
  const { station } = group
  const packs = packsBits(draft.plan, station)
  const oldHead = layoutOfStation(catalog, station)
  const plugged = pluggedInto(
    device,
    station.plugged,
    findDevice(catalog, station.file, station.device),
  )
  const values = carryHeadValues(
    catalog,
    findDevice(catalog, station.file, station.device),
    station.file,
    station.values,
    station.plugged,
    device,
    head.file,
    plugged,
  )
  const newHead = layoutOfHead(catalog, device, {
    ...head,
    plugged,
    values,
    layouts: station.layouts,
  })
  const signals = Object.values(group.signals)
  unplaceSignals(draft, catalog, signals)
  for (const id in group.modules) draft.remove('modules', id)
  draft.put('stations', {
    ...station,
    ...head,
    plugged,
    values,
    addresses:
      oldHead && sameBlocks(oldHead.blocks, newHead.blocks, packs) ? station.addresses : {},
  })

  const keeps = new Map([[station.id, keepsChannel(oldHead, newHead)]])
  for (const row of Object.values(group.modules).sort((a, b) => a.slot - b.slot)) {
    const taken = takenOver(catalog, station.file, head.file, row, packs)
    if (!taken || whyNotInSlot(device, station.name, row.slot, taken.module)) continue
    const fixed = slotOf(device, row.slot)?.fixed ?? null
    if (fixed !== null && fixed !== taken.module.key) continue
    draft.put('modules', {
      ...row,
      module: taken.module.key,
      plugged: taken.plugged,
      values: taken.values,
      addresses: taken.keepsAddresses ? row.addresses : {},
    })
    keeps.set(row.id, keepsChannel(taken.wasLayout, taken.layout))
  }
  const refusal =
    placeFixed(draft, catalog, station.id, device, false) ??
    giveAddresses(draft, catalog, station.id)
  if (refusal) return refusal
  for (const signal of signals)
    if (keeps.get(signal.place!.moduleId)?.(signal)) draft.put('signals', signal)
  return null
}

/** What a module becomes under another description file: the same key, else the same order
 *  number. */
function takenOver(
  catalog: Catalog,
  oldFile: string,
  newFile: string,
  row: ModuleRow,
  packs: boolean,
) {
  const old = findModule(catalog, oldFile, row.module)
  const module =
    findModule(catalog, newFile, row.module) ??
    catalog
      .get(newFile)
      ?.modules.find(
        ({ orderNumber }) => orderNumber !== null && orderNumber === old?.orderNumber,
      ) ??
    null
  if (!module) return null
  const plugged = pluggedInto(module, row.plugged, old)
  const values = carryValues(catalog, oldFile, row, newFile, { module: module.key, plugged })
  const layout = layoutOfPlaced(catalog, newFile, module, {
    plugged,
    values,
    layouts: row.layouts,
  })
  const wasLayout = old && layoutOfPlaced(catalog, oldFile, old, row)
  return {
    module,
    plugged,
    values,
    layout,
    wasLayout,
    keepsAddresses: wasLayout !== null && sameBlocks(wasLayout.blocks, layout.blocks, packs),
  }
}
