import { bitAddressOf, bitsTaken, extentsOf, packsBits, withAddress } from '../image/image'
import type { ImageAddress, NotationName } from '../addressing/notations'
import { findDevice, findModule, type Catalog } from '../catalog/catalog'
import type { Channel, Layout } from '../catalog/layout'
import { blockBits, type DataLayout } from '../vocabulary/data-layout'
import type { DataPlace } from '../vocabulary/data-place'
import type { Direction } from '../vocabulary/direction'
import { placesInside, type InsidePlace } from '../catalog/inside'
import { layoutOfHead, layoutOfPlaced } from '../catalog/placed'
import { layoutsIn, withOwnData } from '../catalog/own-data'
import type { Device, DeviceFile, Module } from '../catalog/model'
import type {
  AddressMap,
  Id,
  ModuleRow,
  Plan,
  SignalRow,
  StationGroup,
  StationRow,
} from '../plan/model'

import type { DerivedModule, PlacedBlock, DerivedStation, DerivedNetwork, Derived } from './model'

export type * from './model'

const views = new WeakMap<StationGroup, DerivedStation>()
const noSignals: ReadonlyMap<number, SignalRow> = new Map()

/** What was derived last with each catalog. */
const latest = new WeakMap<Catalog, Derived>()

/** Everything that follows from plan and descriptions: sizes, addresses, order, sums. Pure; what did
 *  not change is taken from the last time, so that one edit costs one station. */
export function derive(plan: Plan, catalog: Catalog): Derived {
  const own = withOwnData(catalog, plan.project.dataLayouts)
  const last = latest.get(own)
  const derived = (last && deriveFrom(last, plan)) ?? deriveAll(plan, own)
  latest.set(own, derived)
  return derived
}

/** The same where stations changed only within; null where it is more than that. */
function deriveFrom(last: Derived, plan: Plan): Derived | null {
  const { plan: before, catalog } = last
  if (
    plan.project !== before.project ||
    plan.networks !== before.networks ||
    plan.controllers !== before.controllers
  )
    return null
  const changed = changedViews(last, plan)
  if (!changed) return null
  const { totals } = last
  if (changed.size === 0)
    return { ...last, plan, totals: { ...totals, unplaced: Object.keys(plan.unplaced).length } }

  const stations = new Map(last.stations)
  for (const [id, view] of changed) stations.set(id, view)
  const grown = (of: (view: DerivedStation) => number, networkIds?: ReadonlySet<Id>) => {
    let more = 0
    for (const [id, view] of changed)
      if (!networkIds || networkIds.has(view.station.networkId))
        more += of(view) - of(last.stations.get(id)!)
    return more
  }
  const touched = new Set([...changed.values()].map(({ station }) => station.networkId))
  const controllers = last.controllers.map((one) => {
    const own = new Set(one.networks.map(({ network }) => network.id))
    if ([...touched].every((id) => !own.has(id))) return one
    return {
      controller: one.controller,
      networks: one.networks.map((band) =>
        touched.has(band.network.id)
          ? { ...band, stations: band.stations.map((view) => changed.get(view.id) ?? view) }
          : band,
      ),
      inputBytes: one.inputBytes + grown(({ inputBytes }) => inputBytes, own),
      outputBytes: one.outputBytes + grown(({ outputBytes }) => outputBytes, own),
    }
  })
  return {
    plan,
    catalog,
    stations,
    controllers,
    totals: {
      ...totals,
      modules: totals.modules + grown(({ modules }) => modules.length),
      channels: totals.channels + grown(({ channels }) => channels),
      named: totals.named + grown(({ named }) => named),
      unplaced: Object.keys(plan.unplaced).length,
      bytes: totals.bytes + grown(({ inputBytes, outputBytes }) => inputBytes + outputBytes),
    },
  }
}

/** New views of stations that changed; null where one came, went, or stands elsewhere now. */
function changedViews(last: Derived, plan: Plan): ReadonlyMap<Id, DerivedStation> | null {
  const changed = new Map<Id, DerivedStation>()
  const groups = last.plan.stations
  let count = 0
  for (const id in plan.stations) {
    count++
    const group = plan.stations[id]!
    const before = groups[id]
    if (before === group) continue
    if (
      before?.station.networkId !== group.station.networkId ||
      before.station.position !== group.station.position
    )
      return null
    changed.set(id, viewOf(plan, group, last.catalog))
  }
  return count === last.stations.size ? changed : null
}

function deriveAll(plan: Plan, catalog: Catalog): Derived {
  const stations = new Map<Id, DerivedStation>()
  const byNetwork = new Map<Id, DerivedStation[]>()
  for (const id in plan.stations) {
    const view = viewOf(plan, plan.stations[id]!, catalog)
    stations.set(id, view)
    const neighbours = byNetwork.get(view.station.networkId)
    if (neighbours) neighbours.push(view)
    else byNetwork.set(view.station.networkId, [view])
  }
  for (const neighbours of byNetwork.values())
    neighbours.sort((a, b) => a.station.position - b.station.position || (a.id < b.id ? -1 : 1))

  const networks = Object.values(plan.networks).sort(byPosition)
  const controllers = Object.values(plan.controllers)
    .sort(byPosition)
    .map((controller) => {
      const own = networks
        .filter(({ controllerId }) => controllerId === controller.id)
        .map((network) => ({ network, stations: byNetwork.get(network.id) ?? [] }))
      return {
        controller,
        networks: own,
        inputBytes: sum(own, 'inputBytes'),
        outputBytes: sum(own, 'outputBytes'),
      }
    })

  let modules = 0
  let channels = 0
  let named = 0
  for (const view of stations.values()) {
    modules += view.modules.length - 1
    channels += view.channels
    named += view.named
  }
  return {
    plan,
    catalog,
    stations,
    controllers,
    totals: {
      stations: stations.size,
      modules,
      channels,
      named,
      unplaced: Object.keys(plan.unplaced).length,
      bytes: controllers.reduce(
        (total, { inputBytes, outputBytes }) => total + inputBytes + outputBytes,
        0,
      ),
      imageBytes: controllers.reduce(
        (total, { controller }) => total + controller.inputBytes + controller.outputBytes,
        0,
      ),
    },
  }
}

function sum(networks: readonly DerivedNetwork[], property: 'inputBytes' | 'outputBytes'): number {
  return networks.reduce(
    (total, { stations }) => total + stations.reduce((part, view) => part + view[property], 0),
    0,
  )
}

function byPosition(
  a: { position: number; id: string },
  b: { position: number; id: string },
): number {
  return a.position - b.position || (a.id < b.id ? -1 : 1)
}

function viewOf(plan: Plan, group: StationGroup, catalog: Catalog): DerivedStation {
  const file = catalog.get(group.station.file) ?? null
  const packs = packsBits(plan, group.station)
  const known = views.get(group)
  if (
    known &&
    known.file === file &&
    known.packs === packs &&
    known.below.every(({ hash, file: below }) => (catalog.get(hash) ?? null) === below) &&
    known.laid.every(({ id, layout }) => (layoutsIn(catalog)[id] ?? null) === layout)
  )
    return known
  const view = computeView(group, file, catalog, packs)
  views.set(group, view)
  return view
}

function computeView(
  group: StationGroup,
  file: DeviceFile | null,
  catalog: Catalog,
  packs: boolean,
): DerivedStation {
  const { station } = group
  const device = findDevice(catalog, station.file, station.device)
  const modules = modulesOf(group, device, catalog)
  const { blocks, inside } = placedBlocks(modules, packs)
  return {
    id: station.id,
    station,
    group,
    file,
    below: filesBelow(modules, catalog),
    laid: layoutsUsed(group, catalog),
    device,
    modules,
    blocks,
    extents: extentsOf(
      blocks.map(({ block: { direction }, byte, bit, bits }) => ({
        direction,
        bit: byte * 8 + bit,
        bits,
      })),
    ),
    inside,
    packs,
    ...totalsOf(modules),
  }
}

/** The head and the modules in the order of their slots. */
function modulesOf(
  group: StationGroup,
  device: Device | null,
  catalog: Catalog,
): [DerivedModule, ...DerivedModule[]] {
  const { station } = group
  const signals = signalsByModule(group)
  const head = device && layoutOfHead(catalog, device, station)
  const placeOf = placesInside(device)
  return [
    moduleView(station.id, 0, null, device, head, station, signals),
    ...Object.values(group.modules)
      .sort((a, b) => a.slot - b.slot)
      .map((row) => {
        const described = findModule(catalog, station.file, row.module)
        const layout = described && layoutOfPlaced(catalog, station.file, described, row)
        const inside = placeOf(row.slot, layout)
        return moduleView(
          row.id,
          row.slot,
          row,
          described,
          layout,
          inside && layout && head
            ? {
                plugged: row.plugged,
                addresses: addressesInside(station.addresses, head, layout, inside),
              }
            : row,
          signals,
          inside,
        )
      }),
  ]
}

/** Blocks that have addresses: those of their own, and those that stand in the head's data. */
function placedBlocks(modules: readonly DerivedModule[], packs: boolean) {
  const blocks: PlacedBlock[] = []
  const inside: PlacedBlock[] = []
  for (const module of modules) {
    const isInside = module.inside !== null
    for (const block of module.layout?.blocks ?? []) {
      const bit = bitAddressOf(module.addresses, block.subslot, block.direction)
      if (bit === null) continue
      const bits = isInside ? block.bits : bitsTaken(block, packs)
      const placed = { module, block, byte: bit >> 3, bit: bit & 7, bits }
      if (isInside) inside.push(placed)
      else blocks.push(placed)
    }
  }
  return { blocks, inside }
}

/** What stands in the head's data is counted there. */
function totalsOf(modules: readonly DerivedModule[]) {
  const totals = {
    inputBytes: 0,
    outputBytes: 0,
    inputFrameBytes: 0,
    outputFrameBytes: 0,
    channels: 0,
    named: 0,
  }
  for (const { signals, layout, inside } of modules) {
    for (const { tag } of signals.values()) if (tag !== '') totals.named++
    if (!layout) continue
    totals.channels += layout.channels.length
    if (inside !== null) continue
    totals.inputBytes += layout.inputBytes
    totals.outputBytes += layout.outputBytes
    totals.inputFrameBytes += layout.inputBytes + layout.inputStatusBytes
    totals.outputFrameBytes += layout.outputBytes + layout.outputStatusBytes
  }
  return totals
}

/** Addresses of what stands in the head's data: they follow from the head's. What does not fit into
 *  these has none. */
function addressesInside(
  head: AddressMap,
  { blocks }: Layout,
  layout: Layout,
  inside: InsidePlace,
): AddressMap {
  let addresses: AddressMap = {}
  for (const block of layout.blocks) {
    const place = inside[block.direction]
    const around = blocks.find(({ direction }) => direction === block.direction)
    const start = around ? bitAddressOf(head, around.subslot, block.direction) : null
    if (start === null || !place || place.offsetBits + block.bits > around!.bytes * 8) continue
    addresses = withAddress(addresses, block.subslot, block.direction, start + place.offsetBits)
  }
  return addresses
}

/** Data layouts that its head and modules ask for. */
function layoutsUsed({ station, modules }: StationGroup, catalog: Catalog): DerivedStation['laid'] {
  const used: { id: Id; layout: DataLayout | null }[] = []
  const add = (layouts: ModuleRow['layouts']) => {
    for (const block in layouts) {
      const id = layouts[block]!
      if (id !== '') used.push({ id, layout: layoutsIn(catalog)[id] ?? null })
    }
  }
  add(station.layouts)
  for (const id in modules) add(modules[id]!.layouts)
  return used
}

function filesBelow(modules: readonly DerivedModule[], catalog: Catalog): DerivedStation['below'] {
  const below: { hash: string; file: DeviceFile | null }[] = []
  for (const { plugged } of modules) {
    for (const subslot in plugged) {
      const { file: hash } = plugged[subslot]!
      if (hash !== '') below.push({ hash, file: catalog.get(hash) ?? null })
    }
  }
  return below
}

function moduleView(
  id: Id,
  slot: number,
  row: ModuleRow | null,
  described: Module | Device | null,
  layout: Layout | null,
  { plugged, addresses }: Pick<ModuleRow, 'plugged' | 'addresses'>,
  signals: ReadonlyMap<Id, ReadonlyMap<number, SignalRow>>,
  inside: InsidePlace | null = null,
): DerivedModule {
  return {
    id,
    slot,
    row,
    described,
    layout,
    inside,
    plugged,
    addresses,
    signals: signals.get(id) ?? noSignals,
  }
}

const sorted = new WeakMap<
  StationGroup['signals'],
  ReadonlyMap<Id, ReadonlyMap<number, SignalRow>>
>()

/** The signals of each module by place, put together once for each state of a station's signals. */
function signalsByModule({
  signals,
}: StationGroup): ReadonlyMap<Id, ReadonlyMap<number, SignalRow>> {
  const known = sorted.get(signals)
  if (known) return known
  const byModule = new Map<Id, Map<number, SignalRow>>()
  for (const id in signals) {
    const signal = signals[id]!
    const place = signal.place!
    let own = byModule.get(place.moduleId)
    if (!own) byModule.set(place.moduleId, (own = new Map()))
    own.set(placeKey(place), signal)
  }
  sorted.set(signals, byModule)
  return byModule
}

/** How addresses of a station are written: as its controller says. */
export function notationOf(plan: Plan, { networkId }: Pick<StationRow, 'networkId'>): NotationName {
  return plan.controllers[plan.networks[networkId]?.controllerId ?? '']?.notation ?? 'iec'
}

/** A channel's place within its module as one number. */
export function placeKey({ subslot, direction, offsetBits, part }: DataPlace): number {
  const block = subslot * 4 + Number(direction === 'out') * 2 + Number(part === true)
  return block * blockBits + offsetBits
}

export function signalOn(module: DerivedModule, channel: Channel): SignalRow | null {
  return module.signals.get(placeKey(channel)) ?? null
}

/** Where a channel stands in the controller's image; null where its block has no address. */
export function channelAddress(module: DerivedModule, channel: Channel): ImageAddress | null {
  return placeInImage(
    module.addresses,
    channel.subslot,
    channel.direction,
    channel.offsetBits,
    channel.bits,
  )
}

export function placeInImage(
  addresses: AddressMap,
  subslot: number,
  direction: Direction,
  offsetBits: number,
  bits: number,
): ImageAddress | null {
  const start = bitAddressOf(addresses, subslot, direction)
  if (start === null) return null
  const at = start + offsetBits
  return { direction, byte: at >> 3, bit: at & 7, bits }
}
