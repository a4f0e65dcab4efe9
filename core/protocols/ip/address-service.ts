import { formatIp, parseIp } from '../../addressing/ip'
import { fromHex, toHex } from '../../vocabulary/hex'
import { OctetWriter, reading } from '../../vocabulary/octets'

export const dhcpTypes = {
  discover: 1,
  offer: 2,
  request: 3,
  decline: 4,
  acknowledge: 5,
  refuse: 6,
  release: 7,
} as const
export type DhcpType = keyof typeof dhcpTypes

/** A message of BOOTP (RFC 951) or DHCP (RFC 2131); `type` null: BOOTP. */
export interface AddressMessage {
  readonly isRequest: boolean
  readonly type: DhcpType | null
  readonly transaction: number
  readonly mac: string
  /** What the client is given; `0.0.0.0` where nothing is. */
  readonly yourIp: string
  readonly serverIp: string
  readonly requestedIp: string | null
  readonly mask: string | null
  readonly router: string | null
  /** Option 12, as it stands there: role names keep their case and padding. */
  readonly hostName: string | null
  readonly leaseSeconds: number | null
}

export const addressServicePorts = { server: 67, client: 68 } as const
const cookie = [0x63, 0x82, 0x53, 0x63]
const fixedOctets = 236

export function encodeAddressMessage(message: AddressMessage): Uint8Array {
  const ip = (text: string) => parseIp(text) ?? 0
  const octets = new OctetWriter()
    .u8(message.isRequest ? 1 : 2, 1, 6, 0)
    .u32(message.transaction)
    // Seconds; broadcast flag, since the client has no address yet.
    .u16(0)
    .u16(0x8000)
    .u32(0)
    .u32(ip(message.yourIp))
    .u32(ip(message.serverIp))
    .u32(0)
    .bytes(fromHex(message.mac))
    .upTo(fixedOctets)
    .bytes(cookie)
  const option = (code: number, value: Iterable<number>) => {
    const content = [...value]
    octets.u8(code, content.length).bytes(content)
  }
  const address = (code: number, text: string | null) => {
    if (text !== null) option(code, new OctetWriter().u32(ip(text)).done())
  }
  if (message.type) option(53, [dhcpTypes[message.type]])
  address(50, message.requestedIp)
  if (!message.isRequest && message.serverIp !== '0.0.0.0') address(54, message.serverIp)
  address(1, message.mask)
  address(3, message.router)
  if (message.hostName !== null) option(12, new OctetWriter().ascii(message.hostName).done())
  if (message.leaseSeconds !== null) option(51, new OctetWriter().u32(message.leaseSeconds).done())
  return octets.u8(255).upTo(300).done()
}

/** The message; null where the octets are none, or end too early. */
export function decodeAddressMessage(bytes: Uint8Array): AddressMessage | null {
  return reading(bytes, (from) => {
    const operation = from.u8()
    const [hardware, length] = [from.u8(), from.u8()]
    if (operation < 1 || operation > 2 || hardware !== 1 || length !== 6) return null
    from.u8()
    const transaction = from.u32()
    from.skip(8)
    const [yourIp, serverIp] = [formatIp(from.u32()), formatIp(from.u32())]
    from.skip(4)
    const mac = toHex(from.bytes(6), 6, ':')
    from.skip(fixedOctets - from.at)
    const options = new Map<number, Uint8Array>()
    if (from.left >= 4 && cookie.every((octet) => from.u8() === octet))
      while (from.left > 0) {
        const code = from.u8()
        if (code === 255) break
        if (code !== 0) options.set(code, from.bytes(from.u8()))
      }
    const word = (code: number) =>
      reading(options.get(code) ?? new Uint8Array(), (one) => one.u32())
    const address = (code: number) => {
      const value = word(code)
      return value === null ? null : formatIp(value)
    }
    const type = options.get(53)?.[0]
    const named = options.get(12)
    return {
      isRequest: operation === 1,
      type: (Object.keys(dhcpTypes) as DhcpType[]).find((name) => dhcpTypes[name] === type) ?? null,
      transaction,
      mac,
      yourIp,
      serverIp,
      requestedIp: address(50),
      mask: address(1),
      router: address(3),
      hostName: named ? String.fromCharCode(...named) : null,
      leaseSeconds: word(51),
    }
  })
}
