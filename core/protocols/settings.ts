import { z } from 'zod'
import { formatIp, ipFault, parseIp, subnetOf, type IpFault, type Subnet } from '../addressing/ip'

/** What networks and stations with IP addresses keep in their settings; shared by the protocols
 *  that have them. */
export const ipNetwork = {
  /** The controller's own address on this network, dotted. */
  controllerIp: z.string().max(64).default(''),
  prefixLength: z.number().int().min(1).max(30).default(24),
} as const

export const ipStation = {
  /** Dotted. */
  ip: z.string().max(64).default(''),
} as const

/** What networks keep where stations may be served their address under a role name. */
export const servingNetwork = {
  /** Role names of those stations, e.g. `{order}-{n:03}`. */
  rolePattern: z.string().max(200).default(''),
} as const

export const servedStation = {
  /** Under this name it is served its address; empty: the address is set in it. */
  roleName: z.string().max(200).default(''),
} as const

/** A row with settings, of whatever kind. */
export interface WithSettings {
  readonly settings: object
}

/** One setting of a row; null where its kind has no such thing. */
function settingOf({ settings }: WithSettings, key: string): unknown {
  return (settings as Readonly<Record<string, unknown>>)[key] ?? null
}

/** The station's IP address as it was typed; empty on networks without IP. */
export function ipOf(station: WithSettings): string {
  return (settingOf(station, 'ip') as string | null) ?? ''
}

/** The role name a station is served its address under; empty where it is not. */
export function roleNameOf(station: WithSettings): string {
  return (settingOf(station, 'roleName') as string | null) ?? ''
}

/** The pattern of role names; empty where the network has none. */
export function rolePatternOf(network: WithSettings): string {
  return (settingOf(network, 'rolePattern') as string | null) ?? ''
}

/** The controller's IP address as it was typed; empty on networks without IP. */
export function controllerIpOf(network: WithSettings): string {
  return (settingOf(network, 'controllerIp') as string | null) ?? ''
}

/** How many bits of an address its network shares; 32 on networks without IP. */
export function prefixLengthOf(network: WithSettings): number {
  return (settingOf(network, 'prefixLength') as number | null) ?? 32
}

/** The subnet a network lies in; null on networks without IP, and where the controller's address is
 *  none. */
export function subnetOfNetwork(network: WithSettings): Subnet | null {
  return subnetOf(controllerIpOf(network), prefixLengthOf(network))
}

/** The last octet of an address, or more of it where the subnet is larger than 256: what is left of
 *  the network's own address. */
export function hostOf(network: WithSettings, ip: string): number | null {
  const subnet = subnetOfNetwork(network)
  const address = parseIp(ip)
  return subnet && address !== null && address > subnet.network && address < subnet.broadcast
    ? address - subnet.network
    : null
}

/** The address that stands there in the network's subnet; null outside of it. */
export function ipOfHost(network: WithSettings, host: number): string | null {
  const subnet = subnetOfNetwork(network)
  return subnet && host > 0 && subnet.network + host < subnet.broadcast
    ? formatIp(subnet.network + host)
    : null
}

/** What is wrong with an address on a network; null where nothing is. */
export function ipFaultOn(network: WithSettings, ip: string): IpFault | null {
  return ipFault(ip, subnetOfNetwork(network))
}
