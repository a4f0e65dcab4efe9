import type { Channel, DataBlock } from '../catalog/layout'
import type { Direction } from '../vocabulary/direction'
import {
  gatherRequests,
  serialTimeMs,
  type MappedValue,
  type ModbusRequest,
} from '../addressing/modbus'
import type { NetworkRow } from '../plan/model'
import type { DerivedModule, DerivedStation } from './derive'

/** A stretch of what a station sends or takes as a whole. */
export interface FramePart {
  readonly what: 'data' | 'provider status' | 'consumer status' | 'header'
  /** Whose it is; null for the station's own header. */
  readonly module: DerivedModule | null
  readonly block: DataBlock | null
  readonly offsetBytes: number
  readonly bytes: number
}

const runIdleHeaderBytes = 4

/** The data of a station in one direction as they travel together, in slot order: on PROFINET each
 *  submodule's data with their provider status, then the consumer status of what goes the other way
 *  (IEC 61158-6-10; this order is common practice, the controller may choose another); on
 *  EtherNet/IP four octets run/idle before the output data where the connection has them (CIP Vol.
 *  1, 3-6.1). */
export function stationFrame(view: DerivedStation, direction: Direction): FramePart[] {
  const parts: FramePart[] = []
  let offsetBytes = 0
  const add = (
    what: FramePart['what'],
    module: DerivedModule | null,
    block: DataBlock | null,
    bytes: number,
  ) => {
    parts.push({ what, module, block, offsetBytes, bytes })
    offsetBytes += bytes
  }
  const connection = view.device?.connections.find(({ key }) => key === view.station.connection)
  if (direction === 'out' && connection?.hasRunIdleHeader && connection.outputBytes > 0)
    add('header', null, null, runIdleHeaderBytes)
  const hasStatus = view.device?.protocol === 'profinet'
  const other: DerivedModule[] = []
  for (const module of view.modules) {
    if (!module.layout || module.inside) continue
    const own = module.layout.blocks.filter((block) => block.direction === direction)
    for (const block of own) {
      add('data', module, block, block.bytes)
      if (hasStatus) add('provider status', module, block, 1)
    }
    if (!hasStatus) continue
    const isEmpty = module.layout.blocks.length === 0
    // A submodule without data counts as one that sends, with nothing but its status.
    const status =
      direction === 'in' ? module.layout.inputStatusBytes : module.layout.outputStatusBytes
    const rest = status - own.length
    if (isEmpty && direction === 'in')
      for (let i = 0; i < rest; i++) add('provider status', module, null, 1)
    else for (let i = 0; i < rest; i++) other.push(module)
  }
  for (const module of other) add('consumer status', module, null, 1)
  return parts
}

/** Where a channel stands in the data of its station and of its module, in bits from their first
 *  octet; null where it has no data. */
export function placeInFrames(
  view: DerivedStation,
  module: DerivedModule,
  channel: Channel,
): { readonly station: number; readonly module: number } | null {
  const at = module.inside?.[channel.direction] ?? null
  const owner = at ? view.modules[0]! : module
  const part = stationFrame(view, channel.direction).find(
    (one) =>
      one.what === 'data' &&
      one.module === owner &&
      (at !== null || one.block!.subslot === channel.subslot),
  )
  return part
    ? {
        station: part.offsetBytes * 8 + (at?.offsetBits ?? 0) + channel.offsetBits,
        module: channel.offsetBits,
      }
    : null
}

/** Part of an EtherCAT line's logical image that belongs to one slave. */
export interface LogicalPart {
  readonly view: DerivedStation
  readonly in: { readonly bit: number; readonly bits: number } | null
  readonly out: { readonly bit: number; readonly bits: number } | null
}

export interface LogicalImage {
  readonly parts: readonly LogicalPart[]
  readonly outputBytes: number
  readonly inputBytes: number
  readonly datagrams: number
  /** What the working counter has to be where everything is well: one for each slave read, two for
   *  each written (ETG.1000-4, from memory). */
  readonly workingCounter: number
}

/** Most data of one datagram in one Ethernet frame (ETG.1000-4, from memory). */
const datagramBytes = 1486

/** The logical image of an EtherCAT line: outputs first, then inputs, slave by slave in the order
 *  of the cable. Slaves with a few bits share bytes, the others begin at whole ones (common
 *  practice of masters). */
export function logicalImage(stations: readonly DerivedStation[]): LogicalImage {
  const lay = (direction: Direction, start: number) => {
    let end = start
    const at = stations.map((view) => {
      const blocks = view.blocks
        .filter(({ block }) => block.direction === direction)
        .map(({ block }) => block)
      if (blocks.length === 0) return null
      const isSmall = blocks.length === 1 && blocks[0]!.bytes === 1 && blocks[0]!.bits < 8
      const bits = isSmall ? blocks[0]!.bits : blocks.reduce((sum, { bytes }) => sum + bytes, 0) * 8
      const fits = isSmall && (end & 7) + bits <= 8
      const bit = fits ? end : Math.ceil(end / 8) * 8
      end = bit + bits
      return { bit, bits }
    })
    return { at, end: Math.ceil(end / 8) * 8 }
  }
  const outputs = lay('out', 0)
  const inputs = lay('in', outputs.end)
  const parts = stations.map((view, i) => ({ view, out: outputs.at[i]!, in: inputs.at[i]! }))
  return {
    parts,
    outputBytes: outputs.end / 8,
    inputBytes: (inputs.end - outputs.end) / 8,
    datagrams: Math.ceil(inputs.end / 8 / datagramBytes),
    workingCounter: parts.reduce((sum, part) => sum + (part.in ? 1 : 0) + (part.out ? 2 : 0), 0),
  }
}

const registerBits: Readonly<Record<string, number>> = { uint32: 2, int32: 2, float32: 2 }

/** Requests that bring a Modbus station's values and take them to it; none where its description
 *  has no registers. */
export function requestsOf({ device }: DerivedStation): ModbusRequest[] {
  if (device?.protocol !== 'modbus') return []
  const values = device.sheet.registers.map(
    ({ name, table, address, type, access }): MappedValue => ({
      name,
      table,
      address,
      access,
      count: table === 'coil' || table === 'discrete-input' ? 1 : (registerBits[type] ?? 1),
    }),
  )
  return gatherRequests(values, device.sheet.modbus)
}

/** How long all requests of a serial Modbus network take, one after the other, in milliseconds. */
export function requestRoundMs(network: NetworkRow, stations: readonly DerivedStation[]): number {
  return stations.reduce(
    (sum, view) =>
      sum +
      requestsOf(view).reduce((part, request) => part + serialTimeMs(request, network.line), 0),
    0,
  )
}
