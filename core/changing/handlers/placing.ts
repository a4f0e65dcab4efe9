import type { Monitored } from '../../plan/model'
import { carriesModules } from '../../catalog/inside'
import { allocate, bitsTaken, packsBits, type Allocation, type ImageSpace } from '../../image/image'
import { spaceFor } from '../../image/occupancy'
import { findDevice, findModule, type Catalog } from '../../catalog/catalog'
import type { Channel, Layout } from '../../catalog/layout'
import { kindOfChannel } from '../../catalog/words'
import type { Device, Module } from '../../catalog/model'
import { layoutOfHead, layoutOfPlaced } from '../../catalog/placed'
import { withOwnDestinations } from '../../safety/destinations'
import { moduleInSlot, whyNotInSlot } from '../../placement/slots'
import type { Draft } from '../../plan/draft'
import {
  signalFacts,
  type AddressMap,
  type ByteOrders,
  type ChosenLayouts,
  type ControllerRow,
  type Id,
  type ModuleRow,
  type ParameterChoices,
  type Plugged,
  type RowOf,
  type SignalRow,
  type StationRow,
} from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import { placeText } from '../../vocabulary/data-place'

type Found = { ok: true; addresses: AddressMap } | { ok: false; refusal: Refusal }
type AddressedStation = Pick<StationRow, 'id' | 'networkId' | 'packsBits'>

/** The next free addresses for a layout of a station in its controller's image. */
export function addressesFor(
  draft: Draft,
  catalog: Catalog,
  station: AddressedStation,
  layout: Pick<Layout, 'blocks'>,
): Found {
  if (layout.blocks.length === 0) return { ok: true, addresses: {} }
  const controllerId = draft.get('networks', station.networkId)?.controllerId
  const controller = controllerId === undefined ? null : draft.get('controllers', controllerId)
  if (!controller)
    return {
      ok: false,
      refusal: { code: 'row.missing', what: 'controller', id: controllerId ?? '' },
    }
  const found = allocate(
    layout.blocks,
    imageOf(draft, catalog, controller, station.id),
    controller,
    station.networkId,
    packsBits(draft.plan, station),
  )
  return found.ok ? found : { ok: false, refusal: noRoom(controller, found) }
}

/** The same for a module; where its data stand in the head's it needs none of its own. */
export function moduleAddresses(
  draft: Draft,
  catalog: Catalog,
  station: StationRow,
  layout: Pick<Layout, 'blocks'>,
): Found {
  return carriesModules(findDevice(catalog, station.file, station.device))
    ? { ok: true, addresses: {} }
    : addressesFor(draft, catalog, station, layout)
}

/** Why an allocation ended. */
export function noRoom(
  controller: ControllerRow,
  { noRoomFor: { direction, bytes }, range }: Extract<Allocation, { ok: false }>,
): Refusal {
  return {
    code: 'image.full',
    controller: controller.name,
    direction,
    bytes,
    from: range.from,
    to: range.to - 1,
  }
}

interface KnownImage {
  readonly space: ImageSpace
  readonly controllerId: Id
  readonly stationId: Id
  touches: number
}
const images = new WeakMap<Draft, KnownImage>()

/** What is given out, counted once for a whole chain of additions to a station. */
function imageOf(
  draft: Draft,
  catalog: Catalog,
  controller: ControllerRow,
  stationId: Id,
): ImageSpace {
  let known = images.get(draft)
  if (
    known?.controllerId !== controller.id ||
    known.stationId !== stationId ||
    known.touches !== draft.touches
  ) {
    draft.visitStations(5)
    known = {
      space: spaceFor(draft.plan, catalog, controller, stationId, draft.touchedStations),
      controllerId: controller.id,
      stationId,
      touches: draft.touches,
    }
    images.set(draft, known)
  }
  return known.space
}

/** Puts a new row whose addresses were found just now: what is known of the image holds on. */
export function putAllocated<T extends 'stations' | 'modules'>(
  draft: Draft,
  table: T,
  row: RowOf[T],
): void {
  const known = images.get(draft)
  const isNew = draft.get(table, row.id) === null
  if (isNew) draft.add(table, row)
  else draft.put(table, row)
  if (known && isNew) known.touches = draft.touches
}

/** A module to be placed; its subslots are filled as the description says unless it brings what
 *  stood there. */
export type NewModule = Omit<
  ModuleRow,
  | 'addresses'
  | 'plugged'
  | 'layouts'
  | 'identity'
  | 'feed'
  | 'sendsEveryS'
  | 'orders'
  | 'values'
  | 'iParameterSums'
  | 'monitored'
> & {
  readonly plugged?: Plugged | undefined
  readonly feed?: ModuleRow['feed'] | undefined
  readonly sendsEveryS?: number | null | undefined
  readonly layouts?: ChosenLayouts | undefined
  readonly identity?: ModuleRow['identity']
  readonly orders?: ByteOrders
  readonly values?: ParameterChoices
  readonly monitored?: Monitored
}

/** Checks the slot by the description, finds addresses, puts the row in. The slot must be free. */
export function placeModule(draft: Draft, catalog: Catalog, row: NewModule): Refusal | null {
  const whyNot = whyNotPlaced(draft, catalog, row)
  if (whyNot) return whyNot
  const { station } = draft.plan.stations[row.stationId]!
  const module = findModule(catalog, station.file, row.module)!
  const plugged = pluggedInto(module, row.plugged)
  const values = withOwnDestinations(
    draft.plan,
    catalog,
    station.file,
    module,
    plugged,
    row.values ?? {},
  )
  const found = moduleAddresses(
    draft,
    catalog,
    station,
    layoutOfPlaced(catalog, station.file, module, {
      plugged,
      values,
      layouts: row.layouts ?? {},
    }),
  )
  if (!found.ok) return found.refusal
  putAllocated(draft, 'modules', {
    ...row,
    plugged,
    layouts: row.layouts ?? {},
    identity: row.identity ?? null,
    feed: row.feed ?? null,
    sendsEveryS: row.sendsEveryS ?? null,
    orders: row.orders ?? {},
    values,
    iParameterSums: {},
    monitored: row.monitored ?? {},
    addresses: found.addresses,
  })
  return null
}

/** Why a module may not stand in that slot of that station; null where it may. */
export function whyNotPlaced(draft: Draft, catalog: Catalog, row: NewModule): Refusal | null {
  const group = draft.plan.stations[row.stationId]
  if (!group) return { code: 'row.missing', what: 'station', id: row.stationId }
  const { station } = group
  if (!catalog.has(station.file)) return { code: 'file.missing', file: station.file }
  const device = findDevice(catalog, station.file, station.device)
  if (!device) return { code: 'device.missing', device: station.device }
  const module = findModule(catalog, station.file, row.module)
  if (!module) return { code: 'module.missing', module: row.module }
  const whyNot = whyNotInSlot(device, station.name, row.slot, module)
  if (whyNot) return whyNot
  const standing = moduleInSlot(group.modules, row.slot)
  if (standing) {
    return {
      code: 'slot.taken',
      station: station.name,
      slot: row.slot,
      by: findModule(catalog, station.file, standing.module)?.name ?? standing.module,
    }
  }
  return null
}

/** Data of a module as it is placed; null where its description is missing. */
export function layoutOfRow(
  catalog: Catalog,
  station: StationRow,
  row: Pick<ModuleRow, 'module' | 'plugged' | 'values' | 'layouts'>,
): Layout | null {
  const module = findModule(catalog, station.file, row.module)
  return module && layoutOfPlaced(catalog, station.file, module, row)
}

/** Data of the head itself. */
export function layoutOfStation(catalog: Catalog, station: StationRow): Layout | null {
  const device = findDevice(catalog, station.file, station.device)
  return device && layoutOfHead(catalog, device, station)
}

/** What stands in the subslots of a module or head: what the description fixes or proposes where it
 *  is new; what stood there `before` where it may stay. A subslot that `from`, the type it was
 *  before, had too and that was empty stays empty. */
export function pluggedInto(
  owner: Module | Device,
  before: Plugged | undefined,
  from: Module | Device | null = owner,
): Plugged {
  if (before === undefined) return pluggedInto(owner, {}, null)
  const plugged: Plugged = {}
  const wasThere = new Set(from?.subslots.map(({ subslot }) => subslot))
  for (const { subslot, allowed, fixed, default: proposed } of owner.subslots) {
    const old = before[subslot]
    const submodule =
      old && allowed.includes(old.submodule)
        ? old.submodule
        : (fixed ?? (old || !wasThere.has(subslot) ? proposed : null))
    if (submodule !== null)
      plugged[subslot] = old?.submodule === submodule ? old : { submodule, file: '', device: '' }
  }
  for (const key in before) if (key.startsWith('p')) plugged[key] = before[key]!
  // Devices below ports that are built in.
  for (const { subslot } of owner.submodules) {
    const old = before[subslot ?? 1]
    if (old?.submodule === '') plugged[subslot ?? 1] = old
  }
  return plugged
}

/** Signals that lose their channel keep the kind that it had. */
export function unplaceSignals(
  draft: Draft,
  catalog: Catalog,
  signals: readonly SignalRow[],
): void {
  const kinds = new Map<Id, ReadonlyMap<string, Channel>>()
  for (const signal of signals) {
    const { moduleId } = signal.place!
    let channels = kinds.get(moduleId)
    if (!channels)
      kinds.set(moduleId, (channels = channelsByPlace(layoutOfOwner(draft, catalog, moduleId))))
    draft.put('signals', {
      ...signal,
      place: null,
      facts: withKind(signal, channels.get(placeText(signal.place!))),
    })
  }
}

/** What is known of a signal, with the kind of the channel that it leaves where nobody said it. */
export function withKind({ facts }: SignalRow, channel: Channel | undefined): SignalRow['facts'] {
  const kind = channel && signalFacts.shape.kind.safeParse(kindOfChannel(channel)).data
  return facts.kind !== undefined || kind === undefined ? facts : { ...facts, kind }
}

/** Data of a head or module by its row's id; null where its description is missing. */
export function layoutOfOwner(draft: Draft, catalog: Catalog, moduleId: Id): Layout | null {
  const group = draft.plan.stations[draft.stationOf(moduleId) ?? '']
  const row = group?.modules[moduleId]
  return !group
    ? null
    : row
      ? layoutOfRow(catalog, group.station, row)
      : layoutOfStation(catalog, group.station)
}

/** Signals of a head or module whose channel is gone, or is another one now, stand without a
 *  place. */
export function unplaceLost(
  draft: Draft,
  signals: Readonly<Record<Id, SignalRow>>,
  moduleId: Id,
  before: Layout | null,
  after: Layout,
): void {
  const keeps = keepsChannel(before, after)
  const was = channelsByPlace(before)
  for (const signal of Object.values(signals)) {
    if (signal.place!.moduleId === moduleId && !keeps(signal))
      draft.put('signals', {
        ...signal,
        place: null,
        facts: withKind(signal, was.get(placeText(signal.place!))),
      })
  }
}

/** Whether a signal finds its channel again under another layout: at the same place, of the same
 *  kind and size. Where nobody knows what it stood on, the place decides. */
export function keepsChannel(
  before: Layout | null,
  after: Layout | null,
): (signal: SignalRow) => boolean {
  const [was, is] = [channelsByPlace(before), channelsByPlace(after)]
  return ({ place }) => {
    const [old, next] = [was.get(placeText(place!)), is.get(placeText(place!))]
    return (
      next !== undefined &&
      (old === undefined || (old.kind === next.kind && old.bits === next.bits))
    )
  }
}

export function channelsByPlace(layout: Layout | null): ReadonlyMap<string, Channel> {
  return new Map((layout?.channels ?? []).map((channel) => [placeText(channel), channel]))
}

/** Whether data that take as much stand in the same subslots, so that addresses can stay. */
export function sameBlocks(a: Layout['blocks'], b: Layout['blocks'], packs: boolean): boolean {
  return (
    a.length === b.length &&
    a.every(
      (block, i) =>
        block.subslot === b[i]!.subslot &&
        block.direction === b[i]!.direction &&
        bitsTaken(block, packs) === bitsTaken(b[i]!, packs),
    )
  )
}

/** Modules that the description fixes, and those it proposes where `withDefaults`. */
export function placeFixed(
  draft: Draft,
  catalog: Catalog,
  stationId: Id,
  device: Device,
  withDefaults: boolean,
): Refusal | null {
  for (const slot of device.slots) {
    const key = slot.fixed ?? (withDefaults ? slot.default : null)
    if (key === null || moduleInSlot(draft.plan.stations[stationId]!.modules, slot.slot)) continue
    const refusal = placeModule(draft, catalog, {
      id: `${stationId}.${slot.slot}`,
      stationId,
      slot: slot.slot,
      module: key,
    })
    if (refusal) return refusal
  }
  return null
}

/** Bytes for head and modules that have none. */
export function giveAddresses(draft: Draft, catalog: Catalog, stationId: Id): Refusal | null {
  const { station, modules } = draft.plan.stations[stationId]!
  const head = layoutOfStation(catalog, station)
  if (head && head.blocks.length > 0 && Object.keys(station.addresses).length === 0) {
    const found = addressesFor(draft, catalog, station, head)
    if (!found.ok) return found.refusal
    draft.put('stations', { ...station, addresses: found.addresses })
  }
  for (const row of Object.values(modules).sort((a, b) => a.slot - b.slot)) {
    const layout = layoutOfRow(catalog, station, row)
    if (!layout || layout.blocks.length === 0 || Object.keys(row.addresses).length > 0) continue
    const found = moduleAddresses(draft, catalog, station, layout)
    if (!found.ok) return found.refusal
    draft.put('modules', { ...row, addresses: found.addresses })
  }
  return null
}
