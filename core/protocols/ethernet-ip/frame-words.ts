import { decodeAddressMessage } from '../ip/address-service'
import type { SocketAddress } from '../ip/packets'
import {
  decodeEncapsulated,
  encapsulationCommands,
  readConnectedData,
  readListIdentity,
  readUnconnected,
} from './encapsulation'
import { connectionFaults, services } from './messages'

const commandWords: Readonly<Record<number, string>> = {
  [encapsulationCommands.listServices]: 'List Services',
  [encapsulationCommands.listIdentity]: 'List Identity',
  [encapsulationCommands.registerSession]: 'Register Session',
  [encapsulationCommands.unregisterSession]: 'Unregister Session',
}
const serviceWords: Readonly<Record<number, string>> = {
  [services.getAll]: 'Get_Attributes_All',
  [services.getOne]: 'Get_Attribute_Single',
  [services.setOne]: 'Set_Attribute_Single',
  [services.forwardOpen]: 'Forward_Open',
  [services.largeForwardOpen]: 'Large_Forward_Open',
  [services.forwardClose]: 'Forward_Close',
}

export function wordEthernetIpMessage(octets: Uint8Array, to: SocketAddress | null): string | null {
  if (to?.port === 68 || to?.port === 67) {
    const message = decodeAddressMessage(octets)
    return (
      message &&
      `${message.type ? `DHCP ${message.type}` : 'BOOTP'} ${message.mac}${message.hostName ? `, ${message.hostName}` : ''}${message.yourIp === '0.0.0.0' ? '' : `: ${message.yourIp}`}`
    )
  }
  const packet = readConnectedData(octets)
  if (packet && to?.port === 2222) return `Class 1 data, ${packet.data.length} octets`
  const message = decodeEncapsulated(octets)
  if (!message) return null
  const identity = readListIdentity(message.data)
  const word = commandWords[message.command]
  if (word)
    return identity && message.command === encapsulationCommands.listIdentity
      ? `${word}: ${identity.name}, ${identity.ip}`
      : word
  const request = readUnconnected(message.data)
  if (!request) return null
  const service = serviceWords[request[0]! & 0x7f] ?? `service ${request[0]! & 0x7f}`
  if (request[0]! < 0x80) return service
  if (request[2] === 0) return `${service}: done`
  const why = connectionFaults[(request[4] ?? 0) + 256 * (request[5] ?? 0)]
  return `${service}: refused${why ? `, ${why}` : `, status ${request[2]}`}`
}
