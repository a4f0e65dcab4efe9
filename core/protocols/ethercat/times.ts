import { z } from 'zod'
import type { Cycle, WireFault, WireTimes } from '../traffic'
import { ethernetWireBytes, fastEthernet } from '../traffic'
import type { WireStation } from '../wire'
import { clockFaults, clocksOf } from './clocks'
import { datagramBytes, logicalImage } from './logical-image'

export const ethercatNetworkTimes = {
  /** How often the frames are sent, µs; null: nobody said. */
  cycleUs: z.number().int().min(50).max(1_000_000).nullable().default(null),
} as const

/** Addresses, EtherType, and the two octets that begin all datagrams of a frame; around each
 *  datagram ten octets before and the working counter behind (ETG.1000-4, from memory). */
const frameHeaderBytes = 14 + 2
const aroundDatagram = 10 + 2

/** Octets on the wire of the frames that carry so many octets of process data, one full datagram
 *  a frame. */
export function framesOf(imageBytes: number): number[] {
  const frames: number[] = []
  for (let rest = imageBytes; rest > 0; rest -= datagramBytes)
    frames.push(
      ethernetWireBytes(frameHeaderBytes + aroundDatagram + Math.min(rest, datagramBytes)),
    )
  return frames
}

interface Settings {
  readonly cycleUs: number | null
}

/** What a slave takes to pass a frame on, µs (common practice). */
const forwardingUs = 1

function networkFaults(
  { cycleUs: everyUs }: Settings,
  stations: readonly WireStation[],
  { cycleUs }: Cycle,
): WireFault[] {
  const needed = (cycleUs ?? 0) + stations.length * forwardingUs
  if (everyUs === null || needed <= everyUs) return []
  const next = Math.ceil(needed / 250) * 250
  return [
    {
      code: 'cycle',
      what: 'The cycle',
      is: `${everyUs} µs`,
      wants: `its frames and ${stations.length} slaves need ${Math.ceil(needed)} µs`,
      severity: 'blocker',
      fixes: [{ label: `Set the cycle to ${next} µs`, of: 'network', settings: { cycleUs: next } }],
    },
  ]
}

export const ethercatTimes = {
  bitRate: fastEthernet,
  cycle: (_: Settings, stations: readonly WireStation[]): Cycle => {
    const { outputBytes, inputBytes } = logicalImage(stations)
    const frames = framesOf(outputBytes + inputBytes)
    const cycleBytes = frames.reduce((sum, bytes) => sum + bytes, 0)
    return {
      cycleUs: (cycleBytes * 8) / 100,
      framesPerCycle: frames.length,
      packetsPerSecond: null,
      cycleBytes,
    }
  },
  networkFaults,
  clocks: ({ cycleUs }: Settings, stations: readonly WireStation[]) => clocksOf(cycleUs, stations),
  faults: ({ cycleUs }: Settings, view: WireStation) => clockFaults(cycleUs, view),
  everyUs: ({ cycleUs }: Settings) => cycleUs,
} satisfies WireTimes
