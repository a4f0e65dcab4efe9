import { alignmentOf, type Alignment } from './alignment'
import { makeSubmodule } from './blank'
import type { ByteOrder } from '../vocabulary/byte-order'
import type { DataKind } from '../vocabulary/data-kind'
import type { DataContent, Direction } from '../vocabulary/direction'
import type { Connection, DataItem, Device, Module, Submodule } from './model'

export type ChannelKind = 'digital' | 'analog' | 'port'

/** One channel of a module as its description file gives it; offsets in bits from the start of its
 *  data block. */
export interface Channel {
  readonly name: string
  readonly kind: ChannelKind
  readonly direction: Direction
  readonly subslot: number
  readonly offsetBits: number
  readonly bits: number
  readonly type: string
  readonly holds: DataKind
  readonly safety: boolean
  /** Named bits of a number that has a channel of its own. */
  readonly part?: true
  /** In which order its octets travel, where that is not what the device's network asks. */
  readonly order?: ByteOrder
  /** Its range, where a device sheet says it of this channel. */
  readonly range?: string
  /** The port among other data that the device stands below whose value it is. */
  readonly belowPort?: number
  /** The channel whose quality it says. */
  readonly statusOf?: string
}

/** The user data of one submodule in one direction: the smallest thing that gets an address. */
export interface DataBlock {
  readonly subslot: number
  readonly direction: Direction
  readonly bytes: number
  /** Where it begins if the controller aligns. */
  readonly align: Alignment
  /** Bits in use, counted from its first: fewer than its bytes hold where a small module leaves the
   *  rest empty. */
  readonly bits: number
  readonly content: DataContent
}

export interface Layout {
  readonly channels: readonly Channel[]
  readonly blocks: readonly DataBlock[]
  readonly inputBytes: number
  readonly outputBytes: number
  /** Provider and consumer status octets that travel with the data, per direction of the frame. */
  readonly inputStatusBytes: number
  readonly outputStatusBytes: number
}

const layouts = new WeakMap<Module | Device, Layout>()

/** Channels and data blocks of a module or head with its built-in submodules; computed once a
 *  description. */
export function layoutOf(owner: Module | Device): Layout {
  let layout = layouts.get(owner)
  if (!layout) {
    layout = layoutOfSubmodules(owner.submodules)
    layouts.set(owner, layout)
  }
  return layout
}

const connectionLayouts = new WeakMap<Connection, Layout>()

/** Channels of what a connection carries; computed once a description. */
export function layoutOfConnection(connection: Connection): Layout {
  let layout = connectionLayouts.get(connection)
  if (!layout) {
    const { key, name, inputBytes, outputBytes } = connection
    layout = layoutOfSubmodules([
      makeSubmodule({ key, name, ...carriedItems(connection), inputBytes, outputBytes }),
    ])
    connectionLayouts.set(connection, layout)
  }
  return layout
}

/** Data that a connection has room for; what it leaves out has no channel. */
export function carriedItems({
  inputs,
  outputs,
  inputBytes,
  outputBytes,
}: Connection): Pick<Submodule, 'inputs' | 'outputs'> {
  const within = (items: readonly DataItem[], bytes: number) =>
    items.filter(({ offsetBits, bits }) => offsetBits + bits <= bytes * 8)
  return { inputs: within(inputs, inputBytes), outputs: within(outputs, outputBytes) }
}

/** Channels and data blocks of submodules side by side. */
export function layoutOfSubmodules(submodules: readonly Submodule[]): Layout {
  const channels: Channel[] = []
  const blocks: DataBlock[] = []
  let inputStatusBytes = 0
  let outputStatusBytes = 0
  for (const submodule of submodules) {
    const subslot = submodule.subslot ?? 1
    for (const [direction, items, bytes] of [
      ['in', submodule.inputs, submodule.inputBytes],
      ['out', submodule.outputs, submodule.outputBytes],
    ] as const) {
      const own = items.flatMap((item) => channelsOf(item, direction, subslot, submodule.safety))
      channels.push(...own)
      if (bytes > 0) blocks.push(blockOf(own, items, submodule, direction, bytes))
    }
    // One provider status with the data (a submodule without data counts as input), one consumer
    // status against it for each direction it has (IEC 61158-6-10, from memory).
    const sends = submodule.inputBytes > 0 || submodule.outputBytes === 0
    const receives = submodule.outputBytes > 0
    inputStatusBytes += Number(sends) + Number(receives)
    outputStatusBytes += Number(sends) + Number(receives)
  }
  const sum = (direction: Direction) =>
    blocks.reduce((total, block) => total + (block.direction === direction ? block.bytes : 0), 0)
  return {
    channels,
    blocks,
    inputBytes: sum('in'),
    outputBytes: sum('out'),
    inputStatusBytes,
    outputStatusBytes,
  }
}

function blockOf(
  channels: readonly Channel[],
  items: readonly DataItem[],
  { subslot, safety }: Submodule,
  direction: Direction,
  bytes: number,
): DataBlock {
  const isDigital =
    channels.length > 0 && channels.every(({ kind, bits }) => kind === 'digital' || bits < 8)
  return {
    subslot: subslot ?? 1,
    direction,
    bytes,
    align: alignmentOf(items.filter((item) => !item.asBits && kindOf(item) === 'analog')),
    bits: isDigital
      ? Math.max(...channels.map(({ offsetBits, bits }) => offsetBits + bits))
      : bytes * 8,
    content: safety
      ? 'safety'
      : channels.some(({ kind }) => kind === 'analog')
        ? 'analog'
        : 'digital',
  }
}

function channelsOf(
  item: DataItem,
  direction: Direction,
  subslot: number,
  safety: boolean,
): Channel[] {
  if (item.holds === 'trailer') return []
  if (item.parts) {
    const { parts, ...whole } = item
    return [
      ...channelsOf(whole, direction, subslot, safety),
      ...parts.flatMap((part) =>
        channelsOf(part, direction, subslot, safety).map((one) => ({
          ...one,
          part: true as const,
        })),
      ),
    ]
  }
  const common = { direction, subslot, safety }
  const name = [item.group, item.name].filter(Boolean).join(' ')
  if (item.channels.length > 0) {
    return item.channels.map((bit) => ({
      ...common,
      name: bit.name,
      kind: 'digital',
      offsetBits: bit.offsetBits,
      bits: 1,
      type: 'Bit',
      holds: 'boolean',
    }))
  }
  if (item.asBits) {
    return Array.from({ length: item.bits }, (_, bit) => ({
      ...common,
      name: `${name} ${bit}`,
      kind: 'digital',
      offsetBits: item.offsetBits + bit,
      bits: 1,
      type: 'Bit',
      holds: 'boolean',
    }))
  }
  return [
    {
      ...common,
      name,
      kind: kindOf(item),
      offsetBits: item.offsetBits,
      bits: item.bits,
      type: item.type,
      holds: item.holds,
      ...(item.order && { order: item.order }),
      ...(item.range && { range: item.range }),
      ...(item.statusOf && { statusOf: item.statusOf }),
      ...(item.belowPort !== undefined && { belowPort: item.belowPort }),
    },
  ]
}

function kindOf({ holds, bits }: DataItem): ChannelKind {
  if (bits === 1 || holds === 'boolean') return 'digital'
  // A lone octet is a state or a code far more often than a measured value.
  return bits > 8 && holds !== 'other' && holds !== 'trailer' ? 'analog' : 'port'
}
