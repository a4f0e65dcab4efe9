import type { DataBlock } from '../catalog/layout'
import type { Direction } from '../vocabulary/direction'
import type { WireModule, WireStation } from './wire'

/** A stretch of what a station sends or takes as a whole. */
export interface FramePart<M extends WireModule = WireModule> {
  readonly what: 'data' | 'provider status' | 'consumer status' | 'header'
  /** Whose it is; null for the station's own header. */
  readonly module: M | null
  readonly block: DataBlock | null
  readonly offsetBytes: number
  readonly bytes: number
}

/** Parts one behind the other, as they are added. */
export class FrameParts<M extends WireModule> {
  readonly parts: FramePart<M>[] = []
  private end = 0

  add(what: FramePart['what'], module: M | null, block: DataBlock | null, bytes: number): void {
    this.parts.push({ what, module, block, offsetBytes: this.end, bytes })
    this.end += bytes
  }
}

/** Modules whose data travel on their own, with the blocks of one direction. */
export function* blocksOf<M extends WireModule>({ modules }: WireStation<M>, direction: Direction) {
  for (const module of modules) {
    if (!module.layout || module.inside) continue
    const blocks = module.layout.blocks.filter((block) => block.direction === direction)
    yield { module, layout: module.layout, blocks }
  }
}

/** The data of a station in one direction in slot order, behind so many octets of its own. */
export function plainFrame<M extends WireModule>(
  view: WireStation<M>,
  direction: Direction,
  headerBytes = 0,
): FramePart<M>[] {
  const frame = new FrameParts<M>()
  if (headerBytes > 0) frame.add('header', null, null, headerBytes)
  for (const { module, blocks } of blocksOf(view, direction))
    for (const block of blocks) frame.add('data', module, block, block.bytes)
  return frame.parts
}

/** A frame as lists and pictures show it. */
export function frameWords(frame: readonly FramePart[]) {
  return frame.map(({ what, module, block, offsetBytes, bytes }) => ({
    what,
    slot: module?.slot ?? null,
    subslot: block?.subslot ?? null,
    offsetBytes,
    bytes,
  }))
}
