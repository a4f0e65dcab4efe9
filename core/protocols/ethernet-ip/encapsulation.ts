import { formatIp, parseIp } from '../../addressing/ip'
import { OctetWriter, reading } from '../../vocabulary/octets'

/** Encapsulation of CIP over Ethernet (CIP Vol. 2, ch. 2, from memory). Little-endian, but for
 *  socket addresses. Checked by an independent protocol analyser and an independent scanner. */

export const encapsulationPort = 44_818
export const implicitPort = 2222
export const encapsulationCommands = {
  listServices: 0x0004,
  listIdentity: 0x0063,
  listInterfaces: 0x0064,
  registerSession: 0x0065,
  unregisterSession: 0x0066,
  sendRequest: 0x006f,
} as const

export interface Encapsulated {
  readonly command: number
  readonly session: number
  readonly status: number
  /** Eight octets that come back as they were sent. */
  readonly context: Uint8Array
  readonly data: Uint8Array
}

export const noContext = new Uint8Array(8)
export const encapsulationHeader = 24

export function encodeEncapsulated(one: Encapsulated): Uint8Array {
  return new OctetWriter()
    .le16(one.command)
    .le16(one.data.length)
    .le32(one.session)
    .le32(one.status)
    .bytes(one.context)
    .le32(0)
    .bytes(one.data)
    .done()
}

export function decodeEncapsulated(bytes: Uint8Array): Encapsulated | null {
  return reading(bytes, (from) => {
    const command = from.le16()
    const length = from.le16()
    const [session, status] = [from.le32(), from.le32()]
    const context = from.bytes(8).slice()
    from.skip(4)
    return { command, session, status, context, data: from.bytes(length).slice() }
  })
}

export interface CipIdentity {
  readonly vendor: number
  readonly productType: number
  readonly productCode: number
  readonly major: number
  readonly minor: number
  readonly serial: number
  readonly name: string
}

/** Attributes 1 to 7 of the identity object (CIP Vol. 1, 5-2). */
export function identityAttributes(identity: CipIdentity, status = 0): Uint8Array {
  return new OctetWriter()
    .le16(identity.vendor)
    .le16(identity.productType)
    .le16(identity.productCode)
    .u8(identity.major, identity.minor)
    .le16(status)
    .le32(identity.serial)
    .u8(Math.min(32, identity.name.length))
    .ascii(identity.name.slice(0, 32))
    .done()
}

export function readIdentityAttributes(data: Uint8Array): CipIdentity | null {
  return reading(data, (from) => {
    const [vendor, productType, productCode] = [from.le16(), from.le16(), from.le16()]
    const [major, minor] = [from.u8(), from.u8()]
    from.le16()
    const serial = from.le32()
    return { vendor, productType, productCode, major, minor, serial, name: from.ascii(from.u8()) }
  })
}

/** Answer to List Identity: one item with address and identity. */
export function listIdentityItem(identity: CipIdentity, ip: string): Uint8Array {
  const item = new OctetWriter()
    .le16(1)
    .u16(2)
    .u16(encapsulationPort)
    .u32(parseIp(ip) ?? 0)
    .zeros(8)
    .bytes(identityAttributes(identity))
    .u8(3)
    .done()
  return new OctetWriter().le16(1).le16(0x000c).le16(item.length).bytes(item).done()
}

export function readListIdentity(data: Uint8Array): (CipIdentity & { readonly ip: string }) | null {
  return reading(data, (from) => {
    if (from.le16() < 1 || from.le16() !== 0x000c) return null
    from.skip(2 + 2 + 4)
    const ip = formatIp(from.u32())
    from.skip(8)
    const identity = readIdentityAttributes(from.rest())
    return identity && { ...identity, ip }
  })
}

/** An unconnected message in its two items (CIP Vol. 2, 2-6). */
export function unconnected(message: Uint8Array): Uint8Array {
  return new OctetWriter()
    .le32(0)
    .le16(10)
    .le16(2)
    .le16(0)
    .le16(0)
    .le16(0x00b2)
    .le16(message.length)
    .bytes(message)
    .done()
}

export function readUnconnected(data: Uint8Array): Uint8Array | null {
  return reading(data, (from) => {
    from.skip(6)
    for (let items = from.le16(); items > 0; items--) {
      const type = from.le16()
      const content = from.bytes(from.le16())
      if (type === 0x00b2) return content.slice()
    }
    return null
  })
}

/** Data of a class 1 connection, as UDP carries them: connection, number of the packet, sequence
 *  count and data (CIP Vol. 2, 2-6). */
export function connectedData(
  connection: number,
  packet: number,
  count: number,
  data: Uint8Array,
): Uint8Array {
  return new OctetWriter()
    .le16(2)
    .le16(0x8002)
    .le16(8)
    .le32(connection)
    .le32(packet)
    .le16(0x00b1)
    .le16(data.length + 2)
    .le16(count)
    .bytes(data)
    .done()
}

export function readConnectedData(
  bytes: Uint8Array,
): { readonly connection: number; readonly data: Uint8Array } | null {
  return reading(bytes, (from) => {
    if (from.le16() < 2 || from.le16() !== 0x8002) return null
    from.le16()
    const connection = from.le32()
    from.skip(4)
    if (from.le16() !== 0x00b1) return null
    const length = from.le16()
    from.le16()
    return { connection, data: from.bytes(length - 2).slice() }
  })
}
