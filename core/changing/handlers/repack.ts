import {
  areaFor,
  bitsTaken,
  blocksOf,
  extentsOf,
  heldExtents,
  isFixed,
  packsBits,
  withAddress,
  type ImageSpace,
  type StandingBlock,
} from '../../image/image'
import { spaceFor } from '../../image/occupancy'
import { tightOrder } from '../../image/tight'
import { anywhere, type Alignment } from '../../catalog/alignment'
import type { Catalog } from '../../catalog/catalog'
import type { DataBlock } from '../../catalog/layout'
import type { Handler } from '../handler'
import type { Draft } from '../../plan/draft'
import type { AddressMap, ControllerRow, Id, StationGroup } from '../../plan/model'
import type { Refusal } from '../../plan/refusals'
import { noRoom } from './placing'

export const repackHandlers: { repack: Handler<'repack'> } = {
  repack: (draft, catalog, { controllerId, stationIds, tight = false }) => {
    const controller = draft.get('controllers', controllerId)
    if (!controller) return { code: 'row.missing', what: 'controller', id: controllerId }
    draft.visitStations(200)
    const chosen = stationIds && new Set(stationIds)
    const stations = stationsInOrder(draft, controllerId)
      .filter(({ station }) => !chosen || chosen.has(station.id))
      .map((group) => standingOf(draft, catalog, group))
    const space = spaceFor(
      draft.plan,
      catalog,
      controller,
      '',
      draft.touchedStations,
      new Set(stations.map(({ group }) => group.station.id)),
    )
    for (const { standing, packs } of stations)
      for (const extent of extentsOf(fixedOf(standing, packs))) space.take(extent)
    const found = (tight ? packTight : packInOrder)(controller, space, stations)
    if (!found.ok) return found.refusal
    for (const { group, standing } of stations) write(draft, group, standing, found.bits)
    return null
  },
}

interface StationBlocks {
  readonly group: StationGroup
  readonly packs: boolean
  readonly standing: readonly StandingBlock[]
}
/** New first bits of blocks, counted through from byte 0. */
type NewBits = Map<StandingBlock, number>
type Packed = { ok: true; bits: NewBits } | { ok: false; refusal: Refusal }

function stationsInOrder(draft: Draft, controllerId: Id): StationGroup[] {
  const networks = new Map(
    Object.values(draft.plan.networks)
      .filter((network) => network.controllerId === controllerId)
      .map((network) => [network.id, network.position]),
  )
  return Object.values(draft.plan.stations)
    .filter(({ station }) => networks.has(station.networkId))
    .sort(
      ({ station: a }, { station: b }) =>
        networks.get(a.networkId)! - networks.get(b.networkId)! ||
        (a.networkId < b.networkId
          ? -1
          : a.networkId > b.networkId
            ? 1
            : a.position - b.position || (a.id < b.id ? -1 : 1)),
    )
}

function standingOf(draft: Draft, catalog: Catalog, group: StationGroup): StationBlocks {
  return { group, packs: packsBits(draft.plan, group.station), standing: blocksOf(catalog, group) }
}

const holdsStill = ({ addresses, block, bit }: StandingBlock) =>
  bit !== null && isFixed(addresses, block.subslot, block.direction)

function fixedOf(standing: readonly StandingBlock[], packs: boolean) {
  return standing.filter(holdsStill).map(({ block, bit }) => ({
    direction: block.direction,
    bit: bit!,
    bits: bitsTaken(block, packs),
  }))
}

/** Network by network, station by station, slot by slot: each block at the lowest place that is
 *  left, reserves behind each station. */
function packInOrder(
  controller: ControllerRow,
  space: ImageSpace,
  stations: readonly StationBlocks[],
): Packed {
  const bits: NewBits = new Map()
  for (const { group, packs, standing } of stations) {
    const { networkId } = group.station
    space.closeBytes()
    for (const { direction, bit, bits: taken } of fixedOf(standing, packs))
      if (taken < 8) space.takeBits(direction, bit, taken)
    for (const one of standing) {
      if (holdsStill(one)) continue
      const range = areaFor(controller, networkId, one.block.content, one.block.direction)
      const bit = space.place(
        one.block,
        bitsTaken(one.block, packs),
        alignOf(controller, one.block),
        range,
      )
      if (bit === null)
        return {
          ok: false,
          refusal: noRoom(controller, { ok: false, noRoomFor: one.block, range }),
        }
      bits.set(one, bit)
    }
    for (const extent of heldExtents(
      controller,
      networkId,
      standing.map((one) => ({ ...one, bit: bits.get(one) ?? one.bit })),
      packs,
    ))
      space.take(extent)
  }
  return { ok: true, bits }
}

/** All blocks of an area in the order that leaves the fewest bytes between them; reserves are not
 *  kept. */
function packTight(
  controller: ControllerRow,
  space: ImageSpace,
  stations: readonly StationBlocks[],
): Packed {
  const bits: NewBits = new Map()
  for (const { range, pieces } of piecesByArea(controller, stations)) {
    for (const at of tightOrder(pieces)) {
      const { members, align, bytes } = pieces[at]!
      const { block } = members[0]!.one
      const bit = space.place({ ...block, bytes }, bytes * 8, align, range)
      if (bit === null)
        return { ok: false, refusal: noRoom(controller, { ok: false, noRoomFor: block, range }) }
      for (const { one, bit: inByte } of members) bits.set(one, bit + inByte)
    }
  }
  return { ok: true, bits }
}

interface AreaPiece {
  readonly bytes: number
  readonly align: Alignment
  readonly members: { readonly one: StandingBlock; readonly bit: number }[]
}

/** What has to be placed, area by area; small blocks of a station together in bytes, the widest
 *  first. */
function piecesByArea(controller: ControllerRow, stations: readonly StationBlocks[]) {
  const areas = new Map<string, { range: { from: number; to: number }; pieces: AreaPiece[] }>()
  for (const { group, packs, standing } of stations) {
    const open = new Map<string, { piece: AreaPiece; used: number }>()
    const small = (one: StandingBlock) => bitsTaken(one.block, packs) < 8
    const moving = standing.filter((one) => !holdsStill(one))
    for (const one of [
      ...moving.filter((it) => !small(it)),
      ...moving.filter(small).sort((a, b) => b.block.bits - a.block.bits),
    ]) {
      const { direction, content, bytes } = one.block
      const range = areaFor(controller, group.station.networkId, content, direction)
      const key = `${direction}${range.from}`
      let area = areas.get(key)
      if (!area) areas.set(key, (area = { range, pieces: [] }))
      if (!small(one)) {
        area.pieces.push({
          bytes,
          align: alignOf(controller, one.block),
          members: [{ one, bit: 0 }],
        })
        continue
      }
      const width = one.block.bits === 3 ? 4 : one.block.bits
      const last = open.get(key)
      if (last && last.used + width <= 8) {
        last.piece.members.push({ one, bit: last.used })
        last.used += width
      } else {
        const piece: AreaPiece = { bytes: 1, align: anywhere, members: [{ one, bit: 0 }] }
        area.pieces.push(piece)
        open.set(key, { piece, used: width })
      }
    }
  }
  return areas.values()
}

function alignOf(controller: ControllerRow, block: DataBlock): Alignment {
  return controller.aligned ? block.align : anywhere
}

/** Rows whose addresses changed get the new ones. */
function write(
  draft: Draft,
  group: StationGroup,
  standing: readonly StandingBlock[],
  bits: NewBits,
): void {
  const next = new Map<Id, AddressMap>()
  for (const one of standing) {
    const { ownerId, block, addresses, bit } = one
    const now = bits.get(one) ?? bit
    if (now !== bit)
      next.set(
        ownerId,
        withAddress(next.get(ownerId) ?? addresses, block.subslot, block.direction, now),
      )
  }
  for (const [id, addresses] of next) {
    if (id === group.station.id) draft.put('stations', { ...draft.get('stations', id)!, addresses })
    else draft.put('modules', { ...group.modules[id]!, addresses })
  }
}
