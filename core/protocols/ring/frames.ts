import { fromHex, toHex } from '../../vocabulary/hex'
import { OctetWriter, reading } from '../../vocabulary/octets'

/** Frames of a polled ring: Ethernet POWERLINK (EPSG DS 301, from memory). A managing node asks each
 *  node in turn. Little-endian. That nodes speak it is taken for granted here: their sheets only say
 *  that they are polled. Checked by an independent protocol analyser. */

export const etherType = 0x88ab
export const managingNode = 240
export const broadcastNode = 255
export const messageTypes = { soc: 1, request: 3, response: 4, soa: 5, async: 6 } as const
export const macOfType: Readonly<Record<number, string>> = {
  1: '01:11:1e:00:00:01',
  4: '01:11:1e:00:00:02',
  5: '01:11:1e:00:00:03',
  6: '01:11:1e:00:00:04',
}
export const masterMac = '02:4b:41:54:00:03'

export interface RingFrame {
  readonly type: number
  readonly to: number
  readonly from: number
  readonly body: Uint8Array
}

export function encodeRing(
  { type, to, from, body }: RingFrame,
  destination: string,
  source: string,
): Uint8Array {
  return new OctetWriter()
    .bytes(fromHex(destination))
    .bytes(fromHex(source))
    .u16(etherType)
    .u8(type, to, from)
    .bytes(body)
    .upTo(60)
    .done()
}

export function decodeRing(bytes: Uint8Array): (RingFrame & { readonly mac: string }) | null {
  return reading(bytes, (from) => {
    from.skip(6)
    const mac = toHex(from.bytes(6), 6, ':')
    if (from.u16() !== etherType) return null
    const [type, to, own] = [from.u8(), from.u8(), from.u8()]
    return { type, to, from: own, body: from.rest().slice(), mac }
  })
}

/** States of a node (6 of the specification). */
export const ringStates = {
  notActive: 0x19,
  preop1: 0x1d,
  preop2: 0x5d,
  ready: 0x6d,
  op: 0xfd,
  stopped: 0x4d,
} as const
const version = 0x20

/** Start of the asynchronous phase: lets one node answer. */
export function startOfAsync(service: 'identify' | 'status' | 'none', node: number): Uint8Array {
  const numbers = { none: 0, identify: 1, status: 2 } as const
  return new OctetWriter().u8(ringStates.op, 0, 0, numbers[service], node, version).upTo(43).done()
}

export function readStartOfAsync(body: Uint8Array): { service: number; node: number } | null {
  return reading(body, (from) => ({ service: from.skip(3).u8(), node: from.u8() }))
}

export const services = { identify: 1, status: 2, sdo: 5 } as const

export interface RingIdentity {
  readonly state: number
  readonly vendorId: number
  readonly productCode: number
  readonly revision: number
  readonly serial: number
  readonly ip: string
  readonly hostName: string
}

/** Answer to an identify request (7.3.3.2 of the specification, from memory). */
export function encodeIdentity(identity: RingIdentity): Uint8Array {
  return new OctetWriter()
    .u8(services.identify, 0, 0)
    .u8(identity.state, 0, version, 0)
    .le32(0x45)
    .le16(1490)
    .le16(1490)
    .le16(300)
    .le32(0)
    .zeros(2)
    .le32(0)
    .le32(identity.vendorId)
    .le32(identity.productCode)
    .le32(identity.revision)
    .le32(identity.serial)
    .zeros(8)
    .zeros(16)
    .bytes(identity.ip.split('.').map(Number))
    .u8(255, 255, 255, 0)
    .u8(0, 0, 0, 0)
    .fixed(identity.hostName, 32)
    .zeros(48)
    .done()
}

export function readIdentity(body: Uint8Array): RingIdentity | null {
  return reading(body, (from) => {
    if (from.u8() !== services.identify) return null
    from.skip(2)
    const state = from.u8()
    from.skip(3 + 4 + 2 + 2 + 2 + 4 + 2 + 4)
    const [vendorId, productCode, revision, serial] = [
      from.le32(),
      from.le32(),
      from.le32(),
      from.le32(),
    ]
    from.skip(8 + 16)
    const ip = [...from.bytes(4)].join('.')
    from.skip(8)
    return {
      state,
      vendorId,
      productCode,
      revision,
      serial,
      ip,
      hostName: from.ascii(32).replace(/\0+$/, ''),
    }
  })
}

/** Data of a poll request (to the node) or a poll response (from it); `isReady`: they are valid. */
export function pollData(
  type: 'request' | 'response',
  data: Uint8Array,
  isReady: boolean,
  state: number,
): Uint8Array {
  return new OctetWriter()
    .u8(type === 'response' ? state : 0, isReady ? 1 : 0, 0, version, 0)
    .le16(data.length)
    .bytes(data)
    .done()
}

export function readPollData(
  body: Uint8Array,
): { readonly state: number; readonly isReady: boolean; readonly data: Uint8Array } | null {
  return reading(body, (from) => {
    const state = from.u8()
    const isReady = (from.u8() & 1) === 1
    from.skip(3)
    return { state, isReady, data: from.bytes(from.le16()).slice() }
  })
}

/** An object read or handed out, in one segment: sequence and command layer (6.3.2, from memory). */
export function encodeSdo(
  kind: 'read' | 'answer',
  transaction: number,
  { index, subindex }: { readonly index: number; readonly subindex: number },
  data: Uint8Array,
): Uint8Array {
  const command = kind === 'read' ? new OctetWriter().le16(index).u8(subindex, 0).done() : data
  return new OctetWriter()
    .u8(services.sdo)
    .u8(0x02, 0x02, 0, 0)
    .u8(0, transaction, kind === 'answer' ? 0x80 : 0, 2)
    .le16(command.length)
    .le16(0)
    .bytes(command)
    .done()
}

export function readSdo(body: Uint8Array): {
  readonly isAnswer: boolean
  readonly transaction: number
  readonly command: Uint8Array
} | null {
  return reading(body, (from) => {
    if (from.u8() !== services.sdo) return null
    from.skip(5)
    const transaction = from.u8()
    const isAnswer = (from.u8() & 0x80) !== 0
    from.skip(1)
    const length = from.le16()
    from.skip(2)
    return { isAnswer, transaction, command: from.bytes(length).slice() }
  })
}

export const ringObjects = {
  name: { index: 0x1008, subindex: 0 },
  software: { index: 0x100a, subindex: 0 },
  modules: { index: 0x2100, subindex: 1 },
} as const
