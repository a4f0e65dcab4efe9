import { roleNameOf, type FrameLog } from '@kataxis/core'
import {
  addressServicePorts,
  broadcastIp,
  decodeAddressMessage,
  encodeAddressMessage,
  type AddressMessage,
} from '@kataxis/core/wire/ip'
import type { Net } from '../net'
import { udpSocket, type Served } from './served'

const leaseSeconds = 0xffff_ffff

/** The address service of a network whose stations are served by role name: exact case, exact
 *  padding, or no answer (RFC 2131; BOOTP by RFC 951). Its port stands at each of those stations. */
export async function serveAddresses(net: Net, log: FrameLog): Promise<Served[]> {
  const served = net.planned.stations.filter(({ view }) => roleNameOf(view.station) !== '')
  if (served.length === 0) return []
  const to = { transport: 'udp', ip: broadcastIp, port: addressServicePorts.client } as const
  const { port, close } = await udpSocket(0, (octets, from, socket) => {
    const asked = decodeAddressMessage(octets)
    const peer = asked && { mac: asked.mac, ip: '' }
    log.add({
      networkId: net.planned.id,
      direction: 'received',
      octets: octets.slice(),
      to,
      peer: peer ?? { mac: '00:00:00:00:00:00', ip: '' },
    })
    const answer = asked?.isRequest ? answerTo(asked, net) : null
    if (!answer) return
    const bytes = encodeAddressMessage(answer)
    log.add({ networkId: net.planned.id, direction: 'sent', octets: bytes, to, peer: null })
    socket.send(bytes, from.port, from.address)
  })
  return [
    {
      ports: served.map(({ name }) => ({
        station: name,
        protocol: 'address-service',
        port,
        unit: null,
      })),
      close,
    },
  ]
}

/** What a role name is given; null where no station has it, and for what is no question. */
export function answerTo(asked: AddressMessage, { planned }: Net): AddressMessage | null {
  if (!asked.hostName) return null
  const station = planned.stations.find(({ view }) => roleNameOf(view.station) === asked.hostName)
  if (!station) return null
  const give = (type: AddressMessage['type']): AddressMessage => ({
    ...asked,
    isRequest: false,
    type,
    yourIp: station.ip,
    serverIp: '127.0.0.1',
    requestedIp: null,
    mask: station.mask,
    leaseSeconds: type === null ? null : leaseSeconds,
  })
  switch (asked.type) {
    case null:
      return give(null)
    case 'discover':
      return give('offer')
    case 'request':
      return asked.requestedIp === null || asked.requestedIp === station.ip
        ? give('acknowledge')
        : { ...give('refuse'), yourIp: '0.0.0.0', leaseSeconds: null, mask: null }
    default:
      return null
  }
}
