import type { PlannedNetwork, SocketAddress } from '@kataxis/core'
import type { Device } from './device'

/** The devices of one network, in the order in which they stand on its wire. */
export interface Net {
  readonly planned: PlannedNetwork
  readonly devices: Device[]
}

/** How the devices of a protocol take what is put on their wire, and what they answer. Whatever
 *  comes is answered as the standard says or ignored; nothing makes a stand-in stop. */
export type StandIn = (
  net: Net,
  octets: Uint8Array,
  to: SocketAddress | null,
) => readonly Uint8Array[]

export function present({ devices }: Net): Device[] {
  return devices.filter(({ isAway }) => !isAway)
}
