import { blocksOf, heldExtents, isFixed, type Extent } from '../image/image'
import { gapBefore, wordAlignment } from '../catalog/alignment'
import type { Channel, DataBlock } from '../catalog/layout'
import type { Direction } from '../vocabulary/direction'
import type { Id, SignalRow } from '../plan/model'
import { signalOn, type Derived, type DerivedModule, type DerivedStation } from './derive'

/** A data block in the picture of an image. */
export interface MapBlock {
  readonly key: string
  readonly view: DerivedStation
  readonly module: DerivedModule
  readonly block: DataBlock
  /** First bit, counted through from byte 0, and how many it takes. */
  readonly start: number
  readonly bits: number
  /** Somebody chose its place. */
  readonly isFixed: boolean
  /** It stands in a fixed place of its head's data and moves with them only. */
  readonly isInside: boolean
  /** Number of its station on the controller, from 0, so that neighbours can be told apart. */
  readonly station: number
}

/** One direction of a controller's image as it is given out. */
export interface MemorySide {
  readonly direction: Direction
  readonly size: number
  /** In order of address; what stands inside another comes behind it. */
  readonly blocks: readonly MapBlock[]
  /** Bytes held free behind stations. */
  readonly held: readonly (Extent & { readonly view: DerivedStation })[]
  /** Free bytes between what is given out. */
  readonly gaps: readonly { readonly byte: number; readonly bytes: number }[]
  readonly usedBytes: number
}

export interface MemoryMap {
  readonly controllerId: Id
  readonly in: MemorySide
  readonly out: MemorySide
}

/** The picture of a controller's image: blocks, reserves and gaps of both directions. */
export function memoryMap(derived: Derived, controllerId: Id): MemoryMap | null {
  const own = derived.controllers.find(({ controller }) => controller.id === controllerId)
  if (!own) return null
  const { controller } = own
  const blocks: Record<Direction, MapBlock[]> = { in: [], out: [] }
  const held: Record<Direction, (Extent & { view: DerivedStation })[]> = { in: [], out: [] }
  const hasReserve = controller.reserveBytes > 0 || controller.reservePercent > 0
  let station = 0
  for (const { network, stations } of own.networks) {
    for (const view of stations) {
      for (const [list, isInside] of [
        [view.blocks, false],
        [view.inside, true],
      ] as const) {
        for (const { module, block, byte, bit, bits } of list) {
          blocks[block.direction].push({
            key: `${module.id}/${block.subslot}/${block.direction}`,
            view,
            module,
            block,
            start: byte * 8 + bit,
            bits,
            isInside,
            station,
            isFixed: !isInside && isFixed(module.addresses, block.subslot, block.direction),
          })
        }
      }
      if (hasReserve)
        for (const extent of heldExtents(
          controller,
          network.id,
          blocksOf(derived.catalog, view.group),
          view.packs,
        ))
          held[extent.direction].push({ ...extent, view })
      station++
    }
  }
  const side = (direction: Direction): MemorySide => {
    const size = direction === 'in' ? controller.inputBytes : controller.outputBytes
    const ordered = blocks[direction].sort(
      (a, b) =>
        a.start - b.start || Number(a.isInside) - Number(b.isInside) || (a.key < b.key ? -1 : 1),
    )
    const { gaps, usedBytes } = gapsBetween(ordered)
    return { direction, size, blocks: ordered, held: held[direction], gaps, usedBytes }
  }
  return { controllerId, in: side('in'), out: side('out') }
}

function gapsBetween(blocks: readonly MapBlock[]): {
  gaps: { byte: number; bytes: number }[]
  usedBytes: number
} {
  const gaps: { byte: number; bytes: number }[] = []
  let end = 0
  let usedBytes = 0
  for (const { start, bits } of blocks) {
    const [first, last] = [start >> 3, (start + bits + 7) >> 3]
    if (first > end) gaps.push({ byte: end, bytes: first - end })
    usedBytes += Math.max(0, last - Math.max(end, first))
    end = Math.max(end, last)
  }
  return { gaps, usedBytes }
}

/** Bits of one byte that belong together: a single bit, a piece of a value, or what a block leaves
 *  unused. */
export interface MapCell {
  /** Its lowest bit in the byte. */
  readonly bit: number
  readonly bits: number
  readonly owner: MapBlock
  readonly channel: Channel | null
  readonly signal: SignalRow | null
  /** Somebody else stands there too. */
  readonly clash: MapBlock | null
  /** The value begins or ends in this byte. */
  readonly begins: boolean
  readonly ends: boolean
}

const channelsByBit = new WeakMap<DerivedModule, Map<string, (Channel | null)[]>>()

/** Channels of a block by its bits. */
function channelsOf({ module, block }: MapBlock): readonly (Channel | null)[] {
  let known = channelsByBit.get(module)
  if (!known) channelsByBit.set(module, (known = new Map()))
  const key = `${block.subslot}/${block.direction}`
  let bits = known.get(key)
  if (!bits) {
    bits = new Array<Channel | null>(block.bytes * 8).fill(null)
    for (const channel of module.layout!.channels) {
      if (channel.subslot !== block.subslot || channel.direction !== block.direction) continue
      for (
        let bit = channel.offsetBits;
        bit < channel.offsetBits + channel.bits && bit < bits.length;
        bit++
      )
        bits[bit] = channel
    }
    known.set(key, bits)
  }
  return bits
}

/** The blocks that reach into a byte. */
export function blocksAt({ blocks }: MemorySide, byte: number): MapBlock[] {
  // The last one that begins before the byte ends; nothing is longer than `longest` bytes.
  let low = 0
  let high = blocks.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (blocks[middle]!.start < (byte + 1) * 8) low = middle + 1
    else high = middle
  }
  const found: MapBlock[] = []
  const longest = longestOf(blocks)
  for (let i = low - 1; i >= 0 && blocks[i]!.start > (byte - longest) * 8 - 8; i--)
    if (blocks[i]!.start + blocks[i]!.bits > byte * 8) found.push(blocks[i]!)
  return found.reverse()
}

const longests = new WeakMap<readonly MapBlock[], number>()
function longestOf(blocks: readonly MapBlock[]): number {
  let longest = longests.get(blocks)
  if (longest === undefined)
    longests.set(
      blocks,
      (longest = Math.ceil(blocks.reduce((most, { bits }) => Math.max(most, bits), 0) / 8)),
    )
  return longest
}

/** What stands in the bits of a byte, from its highest bit down. */
export function cellsAt(side: MemorySide, byte: number): MapCell[] {
  const here = blocksAt(side, byte)
  const cells: MapCell[] = []
  for (let bit = 7; bit >= 0; bit--) {
    const at = byte * 8 + bit
    const on = here.filter(({ start, bits }) => at >= start && at < start + bits)
    const owner = on.findLast(({ isInside }) => isInside) ?? on[0]
    if (!owner) continue
    const clash =
      on.find(
        (other) =>
          other !== owner && !other.isInside && !(owner.isInside && other.view === owner.view),
      ) ?? null
    const channel = channelsOf(owner)[at - owner.start] ?? null
    const last = cells.at(-1)
    if (
      last &&
      last.bit === bit + 1 &&
      last.owner === owner &&
      last.channel === channel &&
      last.clash === clash
    ) {
      cells[cells.length - 1] = {
        ...last,
        bit,
        bits: last.bits + 1,
        begins: last.begins || (channel !== null && at === owner.start + channel.offsetBits),
      }
      continue
    }
    const begins = channel !== null && at === owner.start + channel.offsetBits
    const ends = channel !== null && at === owner.start + channel.offsetBits + channel.bits - 1
    cells.push({
      bit,
      bits: 1,
      owner,
      channel,
      signal: channel && signalOn(owner.module, channel),
      clash,
      begins,
      ends,
    })
  }
  return cells
}

/** The first of some blocks whose numbers would not stand right `delta` bytes further on; several
 *  may be moved together where one does not even now. */
export function misplaced(moving: readonly MapBlock[], delta: number): MapBlock | undefined {
  const mayStay = (block: MapBlock) =>
    moving.length > 1 && gapBefore(block.start >> 3, block.block.align) !== 0
  return moving.find(
    (block) => gapBefore((block.start >> 3) + delta, block.block.align) !== 0 && !mayStay(block),
  )
}

/** The next byte from `from` on, upwards or downwards, where the first of some blocks would stand
 *  with the others behind it, each alone, and aligned where that is asked for; null where there is
 *  none. */
export function freePlace(
  side: MemorySide,
  moving: readonly MapBlock[],
  from: number,
  step: 1 | -1,
  isAligned: boolean,
): number | null {
  const still = side.blocks.filter((block) => !block.isInside && !moving.includes(block))
  const [first] = moving
  if (!first) return null
  const taken = new Uint8Array(side.size)
  for (const { start, bits } of still) taken.fill(1, start >> 3, (start + bits + 7) >> 3)
  // Whole bytes are looked up; only what shares a byte has to be compared with everybody.
  const stands = (block: MapBlock, delta: number) => {
    const [from, to] = [(block.start >> 3) + delta, ((block.start + block.bits + 7) >> 3) + delta]
    if (from < 0 || to > side.size) return false
    return (
      !taken.subarray(from, to).includes(1) || (block.bits < 8 && fits(side, still, block, delta))
    )
  }
  for (let byte = from; byte >= 0 && byte < side.size; byte += step) {
    const delta = byte - (first.start >> 3)
    if (isAligned && misplaced(moving, delta)) continue
    if (moving.every((block) => stands(block, delta))) return byte
  }
  return null
}

/** Why some blocks cannot stand `delta` bytes further on all together; null where they can. */
export function whyNotThere(
  side: MemorySide,
  moving: readonly MapBlock[],
  delta: number,
  isAligned: boolean,
): string | null {
  const still = side.blocks.filter((block) => !block.isInside && !moving.includes(block))
  for (const block of moving) {
    const to = (block.start >> 3) + delta
    if (to < 0 || to * 8 + block.bits > side.size * 8) return 'outside the image'
    const other = still.find((one) => !fits(side, [one], block, delta))
    if (other) return `taken by ${other.view.station.name} slot ${other.module.slot}`
  }
  const odd = isAligned ? misplaced(moving, delta) : undefined
  return odd ? `its numbers want ${wordAlignment(odd.block.align)}` : null
}

/** Whether a block could stand `delta` bytes further on without touching what holds still. */
export function fits(
  side: MemorySide,
  still: readonly MapBlock[],
  { start, bits, view }: MapBlock,
  delta: number,
): boolean {
  const [from, to] = [start + delta * 8, start + delta * 8 + bits]
  if (from < 0 || to > side.size * 8) return false
  return still.every((other) =>
    other.view === view
      ? to <= other.start || from >= other.start + other.bits
      : (to + 7) >> 3 <= other.start >> 3 || from >> 3 >= (other.start + other.bits + 7) >> 3,
  )
}
