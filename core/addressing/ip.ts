import ipaddr from 'ipaddr.js'

/** Strict dotted decimal: four parts, no leading zeros (RFC 6943, 3.1.1 on ambiguous forms). */
export function parseIp(text: string): number | null {
  if (!/^(0|[1-9]\d{0,2})(\.(0|[1-9]\d{0,2})){3}$/.test(text) || !ipaddr.IPv4.isValid(text))
    return null
  return ipaddr.IPv4.parse(text)
    .toByteArray()
    .reduce((value, octet) => value * 256 + octet, 0)
}

export function formatIp(value: number): string {
  return [24, 16, 8, 0].map((shift) => Math.floor(value / 2 ** shift) % 256).join('.')
}

export interface Subnet {
  readonly network: number
  readonly broadcast: number
  readonly prefixLength: number
}

/** The subnet an address and prefix length lie in (RFC 4632); null where the address is none. */
export function subnetOf(ip: string, prefixLength: number): Subnet | null {
  const address = parseIp(ip)
  if (address === null) return null
  const size = 2 ** (32 - prefixLength)
  const network = Math.floor(address / size) * size
  return { network, broadcast: network + size - 1, prefixLength }
}

export function formatSubnet(subnet: Subnet): string {
  return `${formatIp(subnet.network)}/${subnet.prefixLength}`
}

export function maskOf(prefixLength: number): number {
  return 2 ** 32 - 2 ** (32 - prefixLength)
}

export type IpFault = 'illegal' | 'outside' | 'network' | 'broadcast'

export function ipFault(ip: string, subnet: Subnet | null): IpFault | null {
  const address = parseIp(ip)
  if (address === null) return 'illegal'
  if (!subnet) return null
  if (address < subnet.network || address > subnet.broadcast) return 'outside'
  if (address === subnet.network) return 'network'
  if (address === subnet.broadcast) return 'broadcast'
  return null
}

/** Lowest address of the subnet above `from` that is not in `taken`; null where the subnet is
 *  full. */
export function nextFreeIp(
  subnet: Subnet,
  taken: ReadonlySet<number>,
  from = subnet.network,
): number | null {
  for (let address = Math.max(from, subnet.network) + 1; address < subnet.broadcast; address++) {
    if (!taken.has(address)) return address
  }
  return null
}
