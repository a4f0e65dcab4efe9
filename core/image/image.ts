import { anywhere, gapBefore, type Alignment } from '../catalog/alignment'
import { carriesModules } from '../catalog/inside'
import { findDevice, findModule, type Catalog } from '../catalog/catalog'
import type { DataBlock, Layout } from '../catalog/layout'
import type { DataContent, Direction } from '../vocabulary/direction'
import { layoutOfHead, layoutOfPlaced } from '../catalog/placed'
import type { AddressMap, ControllerRow, Id, Plan, StationGroup, StationRow } from '../plan/model'

/** First byte of a data block in its controller's image; null where it has none. */
export function addressOf(
  addresses: AddressMap,
  subslot: number,
  direction: Direction,
): number | null {
  return addresses[subslot]?.[direction] ?? null
}

const bitFields = { in: 'inBit', out: 'outBit' } as const
const fixedFields = { in: 'inFixed', out: 'outFixed' } as const

/** First bit of a data block, counted through from byte 0; null where it has no address. */
export function bitAddressOf(
  addresses: AddressMap,
  subslot: number,
  direction: Direction,
): number | null {
  const entry = addresses[subslot]
  const byte = entry?.[direction]
  return byte === undefined ? null : byte * 8 + (entry![bitFields[direction]] ?? 0)
}

/** Whether somebody chose the address and nothing but he may move it. */
export function isFixed(addresses: AddressMap, subslot: number, direction: Direction): boolean {
  return addresses[subslot]?.[fixedFields[direction]] === true
}

/** The same addresses with one block somewhere else; `bit` counts through from byte 0, null takes
 *  the address away. */
export function withAddress(
  addresses: AddressMap,
  subslot: number,
  direction: Direction,
  bit: number | null,
  fixed = false,
): AddressMap {
  const {
    [direction]: _byte,
    [bitFields[direction]]: _bit,
    [fixedFields[direction]]: _fixed,
    ...other
  } = addresses[subslot] ?? {}
  const own =
    bit === null
      ? {}
      : {
          [direction]: bit >> 3,
          ...((bit & 7) !== 0 && { [bitFields[direction]]: bit & 7 }),
          ...(fixed && { [fixedFields[direction]]: true }),
        }
  const { [subslot]: _subslot, ...rest } = addresses
  const entry = { ...other, ...own }
  return Object.keys(entry).length === 0 ? rest : { ...rest, [subslot]: entry }
}

/** Whether small blocks of a station stand side by side in one byte. */
export function packsBits(
  plan: Pick<Plan, 'project'>,
  station: Pick<StationRow, 'packsBits'>,
): boolean {
  return station.packsBits ?? plan.project.packsBits
}

const packedBits = 4

/** How many bits of the image a block takes: whole bytes, unless it is small, all single bits, and
 *  its station packs them. */
export function bitsTaken(block: DataBlock, packs: boolean): number {
  return packs && block.bits <= packedBits && block.bytes === 1 && block.content === 'digital'
    ? block.bits
    : block.bytes * 8
}

/** Whole bytes that something takes, in one direction. */
export interface Extent {
  readonly direction: Direction
  readonly byte: number
  readonly bytes: number
}

/** The bytes that blocks of one station take. Blocks that share a byte without sharing a bit take
 *  it together; whoever shares a bit takes it twice. */
export function extentsOf(
  placed: Iterable<{ readonly direction: Direction; readonly bit: number; readonly bits: number }>,
): Extent[] {
  const extents: Extent[] = []
  const masks = new Map<number, number>()
  for (const { direction, bit, bits } of placed) {
    const byte = bit >> 3
    if ((bit & 7) === 0 && (bits & 7) === 0) {
      extents.push({ direction, byte, bytes: bits >> 3 })
      continue
    }
    const key = byte * 2 + Number(direction === 'out')
    const mask = ((1 << bits) - 1) << (bit & 7)
    const known = masks.get(key) ?? 0
    if (known === 0 || (known & mask) !== 0)
      extents.push({ direction, byte, bytes: ((bit & 7) + bits + 7) >> 3 })
    masks.set(key, known | mask)
  }
  return extents
}

/** A data block with whose it is and where it stands; `bit` null: nowhere yet. */
export interface StandingBlock {
  /** The module's row id; for the head the station's. */
  readonly ownerId: Id
  readonly block: DataBlock
  readonly addresses: AddressMap
  readonly bit: number | null
}

/** Data blocks of a station that have addresses of their own, the head first, then the modules in
 *  slot order. What stands in a fixed place of its head's data has none. */
export function blocksOf(catalog: Catalog, group: StationGroup): StandingBlock[] {
  const { station } = group
  const blocks: StandingBlock[] = []
  const device = findDevice(catalog, station.file, station.device)
  const add = (ownerId: Id, layout: Layout, addresses: AddressMap) => {
    for (const block of layout.blocks)
      blocks.push({
        ownerId,
        block,
        addresses,
        bit: bitAddressOf(addresses, block.subslot, block.direction),
      })
  }
  if (device) add(station.id, layoutOfHead(catalog, device, station), station.addresses)
  if (carriesModules(device)) return blocks
  for (const row of Object.values(group.modules).sort((a, b) => a.slot - b.slot)) {
    const module = findModule(catalog, station.file, row.module)
    if (module) add(row.id, layoutOfPlaced(catalog, station.file, module, row), row.addresses)
  }
  return blocks
}

/** Part of an image that a kind of data goes to: from its first byte up to where the next one
 *  begins. */
export interface Range {
  readonly from: number
  readonly to: number
}

const specificity = (area: ControllerRow['areas'][number]) =>
  Number(area.networkId !== '') * 2 + Number(area.content !== 'any')

/** Where data of that kind from that network belong in the controller's image: the area that fits
 *  best, else what lies before all areas. */
export function areaFor(
  controller: ControllerRow,
  networkId: Id,
  content: DataContent,
  direction: Direction,
): Range {
  const size = direction === 'in' ? controller.inputBytes : controller.outputBytes
  const first = direction === 'in' ? controller.firstInput : controller.firstOutput
  let best: { from: number; weight: number } | null = null
  let next = size
  for (const area of controller.areas) {
    const from = area[direction]
    if (
      from === null ||
      (area.networkId !== '' && area.networkId !== networkId) ||
      (area.content !== 'any' && area.content !== content)
    )
      continue
    const weight = specificity(area)
    if (!best || weight > best.weight) best = { from, weight }
  }
  const from = Math.max(first, best?.from ?? first)
  for (const area of controller.areas) {
    const start = area[direction]
    if (start !== null && start > from) next = Math.min(next, start)
  }
  return { from, to: next }
}

/** Bytes that stay free behind a station's data of `bytes` bytes. */
export function reserveOf(controller: ControllerRow, bytes: number): number {
  return controller.reserveBytes + Math.ceil((bytes * controller.reservePercent) / 100)
}

/** Bytes held free behind what a station has in each area of the image. */
export function heldExtents(
  controller: ControllerRow,
  networkId: Id,
  standing: readonly StandingBlock[],
  packs: boolean,
): Extent[] {
  if (controller.reserveBytes === 0 && controller.reservePercent === 0) return []
  const ends = new Map<string, { direction: Direction; end: number; bytes: number; to: number }>()
  for (const { block, bit } of standing) {
    if (bit === null) continue
    const { direction } = block
    const { from, to } = areaFor(controller, networkId, block.content, direction)
    const key = `${direction}${from}`
    const known = ends.get(key) ?? { direction, end: 0, bytes: 0, to }
    ends.set(key, {
      ...known,
      end: Math.max(known.end, (bit + bitsTaken(block, packs) + 7) >> 3),
      bytes: known.bytes + block.bytes,
    })
  }
  return [...ends.values()].flatMap(({ direction, end, bytes, to }) => {
    const held = Math.min(reserveOf(controller, bytes), to - end)
    return held > 0 ? [{ direction, byte: end, bytes: held }] : []
  })
}

/** Which bytes of an image are given out or held free, for finding places. Only takes; never gives
 *  back. */
export class ImageSpace {
  private readonly taken: Readonly<Record<Direction, Uint8Array>>
  /** Bits that one station has taken in bytes it packs. */
  private readonly shared = new Map<number, number>()
  /** Where the search for a size ended last: below that nothing fits any more. */
  private readonly hints = new Map<number, number>()

  constructor(controller: Pick<ControllerRow, 'inputBytes' | 'outputBytes'>) {
    this.taken = {
      in: new Uint8Array(controller.inputBytes),
      out: new Uint8Array(controller.outputBytes),
    }
  }

  take({ direction, byte, bytes }: Extent): void {
    const taken = this.taken[direction]
    if (bytes < 16) for (let at = byte; at < byte + bytes && at < taken.length; at++) taken[at] = 1
    else taken.fill(1, byte, byte + bytes)
  }

  /** Some bits of a byte, so that others of the same station may go beside them. */
  takeBits(direction: Direction, bit: number, bits: number): void {
    const key = (bit >> 3) * 2 + Number(direction === 'out')
    this.shared.set(key, (this.shared.get(key) ?? 0) | (((1 << bits) - 1) << (bit & 7)))
    this.take({ direction, byte: bit >> 3, bytes: 1 })
  }

  /** Another station begins: nobody else goes into its bytes. */
  closeBytes(): void {
    this.shared.clear()
  }

  /** Lowest free, suitably aligned place with room for a block, counted through in bits; null where
   *  the range is full. Takes it. */
  place(block: DataBlock, bits: number, align: Alignment, range: Range): number | null {
    const { direction } = block
    if (bits < 8) {
      const bit =
        this.besideOthers(direction, bits, range) ?? this.freeByte(direction, 1, anywhere, range)
      if (bit !== null) this.takeBits(direction, bit, bits)
      return bit
    }
    const bit = this.freeByte(direction, block.bytes, align, range)
    if (bit !== null) this.take({ direction, byte: bit >> 3, bytes: block.bytes })
    return bit
  }

  private besideOthers(direction: Direction, bits: number, range: Range): number | null {
    const step = bits === 3 ? 4 : bits
    let best: number | null = null
    for (const [key, mask] of this.shared) {
      const byte = key >> 1
      if ((key & 1) !== Number(direction === 'out') || byte < range.from || byte >= range.to)
        continue
      for (let bit = 0; bit + bits <= 8; bit += step) {
        if ((mask & (((1 << bits) - 1) << bit)) !== 0) continue
        if (best === null || byte * 8 + bit < best) best = byte * 8 + bit
        break
      }
    }
    return best
  }

  private freeByte(
    direction: Direction,
    bytes: number,
    align: Alignment,
    { from, to }: Range,
  ): number | null {
    const key =
      ((from * 2 + Number(direction === 'out')) * 16 + align.bytes * 4 + align.rest) * 65_536 +
      bytes
    const byte = findFreeByte(this.taken[direction], bytes, align, this.hints.get(key) ?? from, to)
    if (byte === null) return null
    this.hints.set(key, byte)
    return byte * 8
  }
}

/** Lowest free, suitably aligned byte from `from` on with room for `bytes` before `to`; null where
 *  there is none. */
export function findFreeByte(
  taken: Uint8Array,
  bytes: number,
  align: Pick<Alignment, 'bytes' | 'rest'>,
  from = 0,
  to = taken.length,
): number | null {
  const end = Math.min(to, taken.length)
  let start = from + gapBefore(from, align)
  while (start + bytes <= end) {
    let at = start + bytes - 1
    while (at >= start && taken[at] === 0) at--
    if (at < start) return start
    const free = taken.indexOf(0, at + 1)
    if (free < 0) return null
    start = free + gapBefore(free, align)
  }
  return null
}

export type Allocation =
  | { readonly ok: true; readonly addresses: AddressMap }
  | { readonly ok: false; readonly noRoomFor: DataBlock; readonly range: Range }

/** Addresses for every block of a layout at the lowest free places of the areas they belong to;
 *  takes them. Common practice: whole bytes a submodule, small blocks of bits side by side where
 *  the station packs them. Gives the block that found no room otherwise. */
export function allocate(
  blocks: readonly DataBlock[],
  space: ImageSpace,
  controller: ControllerRow,
  networkId: Id,
  packs: boolean,
): Allocation {
  let addresses: AddressMap = {}
  for (const block of blocks) {
    const range =
      controller.areas.length === 0
        ? {
            from: block.direction === 'in' ? controller.firstInput : controller.firstOutput,
            to: block.direction === 'in' ? controller.inputBytes : controller.outputBytes,
          }
        : areaFor(controller, networkId, block.content, block.direction)
    const bit = space.place(
      block,
      bitsTaken(block, packs),
      controller.aligned ? block.align : anywhere,
      range,
    )
    if (bit === null) return { ok: false, noRoomFor: block, range }
    if ((bit & 7) !== 0) addresses = withAddress(addresses, block.subslot, block.direction, bit)
    else {
      const entry = (addresses[block.subslot] ??= {})
      entry[block.direction] = bit >> 3
    }
  }
  return { ok: true, addresses }
}
