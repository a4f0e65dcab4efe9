import { protocolOf } from '../../protocols/registry'
import { bitAddressOf, isFixed, withAddress } from '../../image/image'
import { findDevice, findModule, findSubmodule, type Catalog } from '../../catalog/catalog'
import { layoutOfSubmodules, type DataBlock, type Layout } from '../../catalog/layout'
import {
  blocksOfHead,
  layoutOfHead,
  layoutOfPlaced,
  portKey,
  submodulesOf,
} from '../../catalog/placed'
import type { Device, Module } from '../../catalog/model'
import type { Handler } from '../handler'
import type { CommandOf } from '../../plan/commands'
import type { AddressMap, Plugged, StationRow } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import { carriesOctets } from '../../placement/ports'
import { nextPortCycle, portCycleOctet } from '../../parameters/port-cycle'
import { withOwnDestinations } from '../../safety/destinations'
import { addressesFor, moduleAddresses, unplaceLost } from './placing'

export const subslotHandlers: {
  setSubslot: Handler<'setSubslot'>
  setPort: Handler<'setPort'>
} = {
  setPort: (draft, catalog, { moduleId, port, file, device: deviceKey, cycleUs: wished }) => {
    const row = draft.get('modules', moduleId)
    const group = draft.plan.stations[row?.stationId ?? moduleId]
    if (!group) return { code: 'row.missing', what: 'module', id: moduleId }
    const { station } = group
    const owner = row
      ? findModule(catalog, station.file, row.module)
      : findDevice(catalog, station.file, station.device)
    if (!owner) return { code: 'file.missing', file: station.file }
    const decided = row ?? station
    const blocksWith = (plugged: Plugged) =>
      row
        ? submodulesOf(catalog, station.file, owner, { ...row, plugged })
        : blocksOfHead(catalog, owner as Device, { ...station, plugged })
    const { [portKey(port)]: old, ...others } = decided.plugged
    const isThere = blocksWith(others).some(({ inputs, outputs }) =>
      [...inputs, ...outputs].some((item) => item.port === port),
    )
    if (!isThere) return { code: 'port.missing', port, module: owner.name }
    const cycleUs = wished ?? (file === '' ? 0 : (old?.cycleUs ?? 0))
    const whyNot =
      whyNotCycle(cycleUs) ?? (file === '' ? null : whyNotBelow(catalog, file, deviceKey))
    if (whyNot) return whyNot
    const plugged: Plugged =
      file === ''
        ? others
        : {
            ...others,
            [portKey(port)]: {
              submodule: '',
              file,
              device: deviceKey,
              ...(cycleUs > 0 && { cycleUs }),
            },
          }
    const [before, after] = [decided.plugged, plugged].map((parts) =>
      layoutOfSubmodules(blocksWith(parts)),
    ) as [Layout, Layout]
    if (row) draft.put('modules', { ...row, plugged })
    else draft.put('stations', { ...station, plugged })
    unplaceLost(draft, group.signals, moduleId, before, after)
    return null
  },

  setSubslot: (draft, catalog, command) => {
    const { moduleId, subslot, submodule, file, device } = command
    const row = draft.get('modules', moduleId)
    const group = draft.plan.stations[row?.stationId ?? moduleId]
    if (!group) return { code: 'row.missing', what: 'module', id: moduleId }
    const { station } = group
    const owner = row
      ? findModule(catalog, station.file, row.module)
      : findDevice(catalog, station.file, station.device)
    if (!owner) return { code: 'file.missing', file: station.file }
    const whyNot = whyNotPlugged(catalog, station, owner, command)
    if (whyNot) return whyNot

    const before = row ? row.plugged : station.plugged
    const { [subslot]: _old, ...others } = before
    const cycleUs = command.cycleUs ?? (file === '' ? 0 : (before[subslot]?.cycleUs ?? 0))
    const plugged: Plugged =
      submodule === '' && file === ''
        ? others
        : { ...others, [subslot]: { submodule, file, device, ...(cycleUs > 0 && { cycleUs }) } }
    const layoutWith = (parts: Plugged) =>
      row
        ? layoutOfPlaced(catalog, station.file, owner, { ...row, plugged: parts })
        : layoutOfHead(catalog, owner as Device, { ...station, plugged: parts })
    const [old, next] = [layoutWith(before), layoutWith(plugged)]
    const addresses = row ? row.addresses : station.addresses
    const values = withOwnDestinations(
      draft.plan,
      catalog,
      station.file,
      owner,
      plugged,
      (row ?? station).values,
      (one) => one === subslot && before[one]?.submodule !== submodule,
    )
    const write = (to: AddressMap) =>
      row
        ? draft.put('modules', { ...row, plugged, values, addresses: to })
        : draft.put('stations', { ...station, plugged, values, addresses: to })

    let kept: AddressMap = {}
    const missing: DataBlock[] = []
    for (const block of next.blocks) {
      const { subslot: at, direction, bytes } = block
      const bit = bitAddressOf(addresses, at, direction)
      if (
        bit !== null &&
        old.blocks.some(
          (one) => one.subslot === at && one.direction === direction && one.bytes === bytes,
        )
      )
        kept = withAddress(kept, at, direction, bit, isFixed(addresses, at, direction))
      else missing.push(block)
    }
    write(kept)
    const found = row
      ? moduleAddresses(draft, catalog, station, { blocks: missing })
      : addressesFor(draft, catalog, draft.get('stations', station.id)!, { blocks: missing })
    if (!found.ok) return found.refusal
    const merged = { ...kept }
    for (const at in found.addresses) merged[at] = { ...kept[at], ...found.addresses[at] }
    write(merged)

    unplaceLost(draft, group.signals, moduleId, old, next)
    return null
  },
}

function whyNotPlugged(
  catalog: Catalog,
  station: StationRow,
  owner: Module | Device,
  { subslot, submodule, file, device: key, cycleUs }: CommandOf<'setSubslot'>,
): Refusal | null {
  const described = owner.subslots.find((candidate) => candidate.subslot === subslot)
  const isBuiltIn = owner.submodules.some((candidate) => (candidate.subslot ?? 1) === subslot)
  if (!described && !(isBuiltIn && submodule === ''))
    return {
      code: 'subslot.unknown',
      subslot,
      module: owner.name,
      subslots: owner.subslots.map((one) => one.subslot).join(' '),
    }
  const nameOf = (submoduleKey: string) =>
    findSubmodule(catalog, station.file, submoduleKey)?.name ?? submoduleKey
  if (described && submodule !== '' && !described.allowed.includes(submodule))
    return { code: 'subslot.notAllowed', subslot, module: owner.name, submodule: nameOf(submodule) }
  if (described && described.fixed !== null && submodule !== described.fixed)
    return {
      code: 'subslot.fixed',
      subslot,
      module: owner.name,
      submodule: nameOf(described.fixed),
    }
  const whyNotSo = whyNotCycle(cycleUs ?? 0)
  if (whyNotSo) return whyNotSo
  if (file === '') return null
  const port = described
    ? findSubmodule(catalog, station.file, submodule)
    : owner.submodules.find((one) => (one.subslot ?? 1) === subslot)
  if (!port || !carriesOctets(port)) return { code: 'port.none', subslot, module: owner.name }
  return whyNotBelow(catalog, file, key)
}

function whyNotCycle(cycleUs: number): Refusal | null {
  return cycleUs > 0 && portCycleOctet(cycleUs) === null
    ? { code: 'port.cycle', ms: cycleUs / 1000, nextMs: (nextPortCycle(cycleUs) ?? 0) / 1000 }
    : null
}

/** Why a device cannot stand below a port; null where it can. */
function whyNotBelow(catalog: Catalog, file: string, key: string): Refusal | null {
  if (!catalog.has(file)) return { code: 'file.missing', file }
  const device = findDevice(catalog, file, key)
  if (!device) return { code: 'device.missing', device: key }
  return Object.keys(protocolOf(device).kinds).length === 0
    ? null
    : { code: 'port.protocol', device: device.name, protocol: device.protocol }
}
