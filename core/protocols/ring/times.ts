import type { Cycle, WireTimes } from '../traffic'
import { ethernetWireBytes, fastEthernet } from '../traffic'
import type { WireStation } from '../wire'

/** Addresses and type 14, and ten octets that begin a request or an answer (from memory). */
const beforeData = 14 + 10
/** Beginning of a cycle, and the slot for one message that is not cyclic, in octets of data. */
const startBytes = 22
const freeBytes = 300

/** Octets on the wire of one polled cycle: its beginning, a request and an answer a node, and one
 *  slot for what is not cyclic (from memory). */
export function polledCycleBytes(stations: readonly WireStation[]): number {
  const nodes = stations.reduce(
    (sum, { inputFrameBytes, outputFrameBytes }) =>
      sum +
      ethernetWireBytes(beforeData + outputFrameBytes) +
      ethernetWireBytes(beforeData + inputFrameBytes),
    0,
  )
  return ethernetWireBytes(14 + startBytes) + nodes + ethernetWireBytes(14 + freeBytes)
}

export const ringTimes = {
  bitRate: fastEthernet,
  cycle: (_: object, stations: readonly WireStation[]): Cycle => ({
    cycleUs: (polledCycleBytes(stations) * 8) / 100,
    framesPerCycle: stations.length * 2 + 2,
    packetsPerSecond: null,
  }),
} satisfies WireTimes
