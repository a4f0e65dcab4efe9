import { parseIp } from '../../addressing/ip'
import { fromHex } from '../../vocabulary/hex'
import { OctetWriter } from '../../vocabulary/octets'

/** Where something is sent to that travels over IP. */
export interface SocketAddress {
  readonly transport: 'udp' | 'tcp'
  readonly ip: string
  readonly port: number
}

/** One end of a packet. */
export interface Host {
  readonly mac: string
  readonly ip: string
  readonly port: number
}

export const broadcastMac = 'ff:ff:ff:ff:ff:ff'
export const broadcastIp = '255.255.255.255'
const shortestFrame = 60
const tcpWindow = 65_535

/** Ethernet II without check sequence, filled up to the shortest frame (IEEE 802.3). */
export function ethernetFrame(
  to: string,
  from: string,
  type: number,
  body: Uint8Array,
): Uint8Array {
  return new OctetWriter()
    .bytes(fromHex(to))
    .bytes(fromHex(from))
    .u16(type)
    .bytes(body)
    .upTo(shortestFrame)
    .done()
}

/** A UDP datagram in its Ethernet frame (RFC 768, RFC 791). */
export function udpFrame(from: Host, to: Host, payload: Uint8Array): Uint8Array {
  const datagram = new OctetWriter()
    .u16(from.port)
    .u16(to.port)
    .u16(8 + payload.length)
    .u16(0)
    .bytes(payload)
    .done()
  return ipFrame(from, to, 17, datagram, 6)
}

export interface TcpPart {
  readonly sequence: number
  readonly acknowledged: number
  readonly flags: 'syn' | 'syn ack' | 'ack' | 'push'
}

const tcpFlags: Readonly<Record<TcpPart['flags'], number>> = {
  syn: 0x02,
  'syn ack': 0x12,
  ack: 0x10,
  push: 0x18,
}

/** A TCP segment in its Ethernet frame (RFC 9293). */
export function tcpFrame(from: Host, to: Host, part: TcpPart, payload: Uint8Array): Uint8Array {
  const segment = new OctetWriter()
    .u16(from.port)
    .u16(to.port)
    .u32(part.sequence)
    .u32(part.acknowledged)
    .u8(0x50, tcpFlags[part.flags])
    .u16(tcpWindow)
    .u16(0)
    .u16(0)
    .bytes(payload)
    .done()
  return ipFrame(from, to, 6, segment, 16)
}

/** An IPv4 packet with the check sums of its header and of what it carries, at `sumAt` there. */
function ipFrame(from: Host, to: Host, protocol: number, body: Uint8Array, sumAt: number) {
  const [source, destination] = [from.ip, to.ip].map((ip) => parseIp(ip) ?? 0) as [number, number]
  const pseudo = new OctetWriter()
    .u32(source)
    .u32(destination)
    .u16(protocol)
    .u16(body.length)
    .bytes(body)
    .done()
  const sum = checkSum(pseudo) || 0xffff
  const content = body.slice()
  content.set([sum >> 8, sum & 0xff], sumAt)
  const header = new OctetWriter()
    .u8(0x45, 0)
    .u16(20 + body.length)
    .u16(0)
    .u16(0)
    .u8(64, protocol)
    .u16(0)
    .u32(source)
    .u32(destination)
    .done()
  const headerSum = checkSum(header)
  header.set([headerSum >> 8, headerSum & 0xff], 10)
  return ethernetFrame(
    to.mac,
    from.mac,
    0x0800,
    new OctetWriter().bytes(header).bytes(content).done(),
  )
}

/** Ones' complement of the ones' complement sum of 16-bit words (RFC 1071). */
function checkSum(octets: Uint8Array): number {
  let sum = 0
  for (let i = 0; i < octets.length; i += 2) sum += octets[i]! * 256 + (octets[i + 1] ?? 0)
  while (sum > 0xffff) sum = (sum & 0xffff) + Math.floor(sum / 65_536)
  return ~sum & 0xffff
}
