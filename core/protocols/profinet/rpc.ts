import { fromHex, toHex } from '../../vocabulary/hex'
import { OctetWriter, reading } from '../../vocabulary/octets'

/** Remote procedure calls of PROFINET's context management: DCE RPC 1.1, connectionless, one
 *  fragment a call, and the argument header of IEC 61158-6-10 (from memory). Checked octet by octet
 *  by an independent protocol analyser. */

export const rpcPort = 34_964
export const operations = {
  connect: 0,
  release: 1,
  read: 2,
  write: 3,
  control: 4,
  readImplicit: 5,
} as const
export type RpcOperation = keyof typeof operations

/** Interfaces that a call is meant for. */
const interfaces = {
  device: 'dea000016c9711d1827100a02442df7d',
  controller: 'dea000026c9711d1827100a02442df7d',
} as const

export interface RpcCall {
  readonly kind: 'request' | 'response'
  readonly to: keyof typeof interfaces
  readonly operation: RpcOperation
  /** Of the object that is called, and of this activity: 32 hex digits. */
  readonly object: string
  readonly activity: string
  readonly sequence: number
  /** Response only: 0 where all went well. */
  readonly status: number
  readonly blocks: Uint8Array
}

const headerOctets = 80
const argumentOctets = 20
const packetTypes = { request: 0, response: 2 } as const
/** Most that a caller takes in one answer. */
export const mostAnswer = 16_384

export function encodeRpc(call: RpcCall): Uint8Array {
  const body = argumentOctets + call.blocks.length
  const octets = new OctetWriter()
    // Version, type, last fragment and idempotent, nothing more; big-endian integers.
    .u8(4, packetTypes[call.kind], call.kind === 'request' ? 0x20 : 0x0a, 0)
    .u8(0x00, 0, 0, 0)
    .bytes(fromHex(call.object))
    .bytes(fromHex(interfaces[call.to]))
    .bytes(fromHex(call.activity))
    .u32(0)
    .u32(1)
    .u32(call.sequence)
    .u16(operations[call.operation])
    .u16(0xffff)
    .u16(0xffff)
    .u16(body)
    .u16(0)
    .u8(0, 0)
  octets.u32(call.kind === 'request' ? mostAnswer : call.status)
  return octets
    .u32(call.blocks.length)
    .u32(call.kind === 'request' ? mostAnswer : call.blocks.length)
    .u32(0)
    .u32(call.blocks.length)
    .bytes(call.blocks)
    .done()
}

/** The call; null where it is none that is known here. */
export function decodeRpc(bytes: Uint8Array): RpcCall | null {
  if (bytes.length < headerOctets + argumentOctets || bytes[0] !== 4 || bytes[4] !== 0) return null
  return reading(bytes, (from) => {
    from.u8()
    const type = from.u8()
    const kind = type === 0 ? 'request' : type === 2 ? 'response' : null
    from.skip(6)
    const object = toHex(from.bytes(16), 16, '')
    const called = toHex(from.bytes(16), 16, '')
    const activity = toHex(from.bytes(16), 16, '')
    from.skip(8)
    const sequence = from.u32()
    const number = from.u16()
    from.skip(10)
    const status = from.u32()
    const length = from.u32()
    from.skip(12)
    const to = (Object.keys(interfaces) as (keyof typeof interfaces)[]).find(
      (name) => interfaces[name] === called,
    )
    const operation = (Object.keys(operations) as RpcOperation[]).find(
      (name) => operations[name] === number,
    )
    if (!kind || !to || !operation) return null
    const blocks = from.bytes(length)
    return {
      kind,
      to,
      operation,
      object,
      activity,
      sequence,
      status: kind === 'response' ? status : 0,
      blocks,
    }
  })
}

/** Object of a device: its instance, and the numbers of its type and maker (IEC 61158-6-10). */
export function deviceObject(vendorId: number, deviceId: number): string {
  const octets = new OctetWriter()
    .bytes(fromHex('dea000006c9711d18271'))
    .u16(1)
    .u16(deviceId)
    .u16(vendorId)
    .done()
  return toHex(octets, 16, '')
}
