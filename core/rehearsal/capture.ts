import type { NetworkKindName } from '../protocols/registry'
import {
  broadcastIp,
  broadcastMac,
  ethernetFrame,
  tcpFrame,
  udpFrame,
  type Host,
} from '../protocols/ip/packets'
import { OctetWriter } from '../vocabulary/octets'
import { parseIp } from '../addressing/ip'
import type { LoggedFrame } from './log'
import type { CapturedFrame } from './pcap'

/** The tool as a host: addresses of documentation (RFC 5737), so that they are nobody's. */
const tool = { mac: '02:4b:41:54:00:01', ip: '192.0.2.1' } as const
const bus = { mac: '02:4b:41:54:00:0f', ip: '192.0.2.2' } as const
const firstClientPort = 49_153
/** Telegrams of wires that are no Ethernet, each in a datagram to a port of its kind. */
const wirePorts: Readonly<Record<string, number>> = {
  profibus: 50_201,
  'modbus-rtu': 50_202,
  'can-rack': 50_203,
  gateway: 50_204,
  local: 50_205,
}

interface Conversation {
  readonly client: Host
  readonly server: Host
  clientAt: number
  serverAt: number
}

/** Logged frames as Ethernet frames: what travels over IP in its packets, TCP with opening and
 *  sequence numbers; telegrams of other wires in datagrams between two hosts that stand for the
 *  wire. `kindOf` gives the kind of a network. */
export function capturedFrames(
  frames: readonly LoggedFrame[],
  kindOf: (networkId: string) => NetworkKindName,
  startMs: number,
): CapturedFrame[] {
  const conversations = new Map<string, Conversation>()
  const captured: CapturedFrame[] = []
  for (const frame of frames) {
    const timeMs = startMs + frame.timeUs / 1000
    for (const bytes of framesOf(frame, kindOf(frame.networkId), conversations))
      captured.push({ timeMs, bytes })
  }
  return captured
}

function framesOf(
  frame: LoggedFrame,
  kind: NetworkKindName,
  conversations: Map<string, Conversation>,
): Uint8Array[] {
  const { to, octets, direction, peer } = frame
  if (!to) {
    const port = wirePorts[kind]
    if (port === undefined) return [octets]
    const [client, server] = [
      { ...tool, port },
      { ...bus, port },
    ]
    return [udpFrame(...ordered(client, server, direction), octets)]
  }
  if (!peer && to.ip !== broadcastIp) return [whoHas(to.ip)]
  if (to.transport === 'tcp') return tcpFrames(frame, conversations)
  const client = { ...tool, port: clientPort(to.port) }
  const server =
    to.ip === broadcastIp && direction === 'sent'
      ? { mac: broadcastMac, ip: broadcastIp, port: to.port }
      : { mac: peer!.mac, ip: peer!.ip || '0.0.0.0', port: to.port }
  return [udpFrame(...ordered(client, server, direction), octets)]
}

/** From whom, to whom. */
const ordered = (client: Host, server: Host, direction: LoggedFrame['direction']): [Host, Host] =>
  direction === 'sent' ? [client, server] : [server, client]

/** The address service answers from port 67, class 1 data go to and from one port; the rest asks
 *  from a port of its own. */
const clientPort = (port: number) => (port === 68 ? 67 : port === 2222 ? 2222 : firstClientPort)

/** Nobody has that address: the question who does is all that goes out (RFC 826). */
function whoHas(ip: string): Uint8Array {
  const mac = tool.mac.split(':').map((pair) => parseInt(pair, 16))
  const body = new OctetWriter()
    .u16(1)
    .u16(0x0800)
    .u8(6, 4)
    .u16(1)
    .bytes(mac)
    .u32(parseIp(tool.ip)!)
    .zeros(6)
    .u32(parseIp(ip) ?? 0)
    .done()
  return ethernetFrame(broadcastMac, tool.mac, 0x0806, body)
}

function tcpFrames(
  { to, peer, direction, octets, networkId }: LoggedFrame,
  conversations: Map<string, Conversation>,
): Uint8Array[] {
  const key = `${networkId} ${to!.ip} ${to!.port}`
  let talk = conversations.get(key)
  const frames: Uint8Array[] = []
  const empty = new Uint8Array()
  if (!talk) {
    talk = {
      client: { ...tool, port: firstClientPort + (conversations.size % 16_000) },
      server: { mac: peer!.mac, ip: peer!.ip, port: to!.port },
      clientAt: 1,
      serverAt: 1,
    }
    conversations.set(key, talk)
    const { client, server } = talk
    frames.push(
      tcpFrame(client, server, { sequence: 0, acknowledged: 0, flags: 'syn' }, empty),
      tcpFrame(server, client, { sequence: 0, acknowledged: 1, flags: 'syn ack' }, empty),
      tcpFrame(client, server, { sequence: 1, acknowledged: 1, flags: 'ack' }, empty),
    )
  }
  const isSent = direction === 'sent'
  const part = {
    sequence: isSent ? talk.clientAt : talk.serverAt,
    acknowledged: isSent ? talk.serverAt : talk.clientAt,
    flags: 'push',
  } as const
  frames.push(tcpFrame(...ordered(talk.client, talk.server, direction), part, octets))
  if (isSent) talk.clientAt += octets.length
  else talk.serverAt += octets.length
  return frames
}
