import type { Channel } from '../catalog/layout'
import { signalOn } from '../derive/derive'
import type { DerivedModule, DerivedStation } from '../derive/model'
import { decodeValue, encodeValue, type ValuePlace } from '../parameters/value'
import type { SignalRow } from '../plan/model'
import { wireOrderOf } from '../protocols/registry'
import type { ByteOrder } from '../vocabulary/byte-order'
import type { Direction } from '../vocabulary/direction'

/** A channel with its place in the data of its station: blocks one behind the other, in slot order,
 *  as masters exchange them. */
export interface ChannelInData {
  readonly view: DerivedStation
  readonly module: DerivedModule
  readonly channel: Channel
  readonly signal: SignalRow
  readonly direction: Direction
  readonly place: ValuePlace
  /** As its module counts it in a diagnosis. */
  readonly number: number
}

const known = new WeakMap<DerivedStation, readonly ChannelInData[]>()

/** Every channel of a station with a signal on it; computed once a station. */
export function channelsInData(view: DerivedStation): readonly ChannelInData[] {
  let channels = known.get(view)
  if (!channels) known.set(view, (channels = compute(view)))
  return channels
}

function compute(view: DerivedStation): ChannelInData[] {
  if (!view.device) return []
  const starts = blockStarts(view)
  const order = wireOrderOf(view.device)
  return view.modules.flatMap((module) =>
    (module.layout?.channels ?? []).flatMap((channel, i, all) => {
      const signal = signalOn(module, channel)
      const start = startOf(starts, view, module, channel)
      if (!signal || start === null) return []
      return [
        {
          view,
          module,
          channel,
          signal,
          direction: channel.direction,
          place: valuePlace(channel, start + channel.offsetBits, channel.order ?? order),
          number: all.slice(0, i).filter(({ subslot }) => subslot === channel.subslot).length,
        },
      ]
    }),
  )
}

const startKey = (module: string, subslot: number, direction: Direction) =>
  `${module} ${subslot} ${direction}`

/** Bit at which each block begins in its direction's data. */
function blockStarts({ modules }: DerivedStation): Map<string, number> {
  const starts = new Map<string, number>()
  const next = { in: 0, out: 0 }
  for (const { id, inside, layout } of modules) {
    if (inside || !layout) continue
    for (const { subslot, direction, bytes } of layout.blocks) {
      starts.set(startKey(id, subslot, direction), next[direction] * 8)
      next[direction] += bytes
    }
  }
  return starts
}

/** Where the channel's block begins; modules inside the head's data begin at their place there. */
function startOf(
  starts: ReadonlyMap<string, number>,
  view: DerivedStation,
  { id, inside, layout }: DerivedModule,
  { subslot, direction }: Channel,
): number | null {
  if (!inside) return starts.get(startKey(id, subslot, direction)) ?? null
  const place = inside[direction]
  const head = view.modules[0]?.layout?.blocks.find((block) => block.direction === direction)
  if (!place || !head) return null
  let before = 0
  for (const block of layout?.blocks ?? []) {
    if (block.direction !== direction) continue
    if (block.subslot === subslot) break
    before += block.bytes * 8
  }
  return (starts.get(startKey(view.id, head.subslot, direction)) ?? 0) + place.offsetBits + before
}

function valuePlace({ bits, holds }: Channel, offset: number, byteOrder: ByteOrder): ValuePlace {
  return {
    kind: holds === 'float' ? 'float' : holds === 'signed' ? 'signed' : 'unsigned',
    byteOrder,
    offsetBytes: offset >> 3,
    offsetBits: offset & 7,
    bits,
  }
}

export function readChannel(data: Uint8Array, { place }: Pick<ChannelInData, 'place'>): number {
  return Number(decodeValue(data, place))
}

export function writeChannel(
  data: Uint8Array,
  { place }: Pick<ChannelInData, 'place'>,
  value: number,
): void {
  encodeValue(data, place, value)
}
