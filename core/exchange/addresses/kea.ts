import type { Derived } from '../../derive/derive'
import { formatSubnet } from '../../addressing/ip'
import { subnetOfNetwork } from '../../protocols/settings'
import { toHex } from '../../vocabulary/hex'
import type { Origin } from '../origin'
import { hostName, namedAddresses } from './served'

/** Octets in hex, pairs with colons between. */
function clientId(role: string): string {
  const octets = new Uint8Array([0, ...new TextEncoder().encode(role)])
  return toHex(octets, octets.length, ':')
}

/** Address reservations as the DHCP server Kea reads them (its administrator manual, "Host
 *  Reservations in DHCPv4"): one subnet a network, and for each station that is served its address a
 *  reservation by its role name, which it sends as client identifier of type 0 (RFC 2132, 9.14). */
export function writeKea(derived: Derived, origin: Origin): string {
  const served = namedAddresses(derived).filter(({ role }) => role !== '')
  const networks = [...new Map(served.map(({ network }) => [network.id, network])).values()]
  const subnets = networks.flatMap((network, i) => {
    const subnet = subnetOfNetwork(network)
    if (!subnet) return []
    return [
      {
        id: i + 1,
        subnet: formatSubnet(subnet),
        'user-context': { network: network.name },
        reservations: served
          .filter((one) => one.network.id === network.id)
          .map(({ role, ip, name }) => ({
            'client-id': clientId(role),
            'ip-address': ip,
            ...(hostName(role) && { hostname: hostName(role) }),
            'user-context': { role, station: name },
          })),
      },
    ]
  })
  const file = {
    Dhcp4: {
      'user-context': {
        plan: origin.project,
        revision: origin.revision,
        safetySignature: origin.safetySignature ?? '',
        draft: origin.blockers > 0,
      },
      'host-reservation-identifiers': ['client-id'],
      subnet4: subnets,
    },
  }
  return `${JSON.stringify(file, null, 2)}\n`
}
