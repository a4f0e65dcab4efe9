import type { Cycle, Traffic, WireTimes } from '../traffic'
import { ethernetWireBytes, fastEthernet } from '../traffic'
import type { WireStation } from '../wire'
import { timesOfConnection } from './times'

/** Addresses and type 14, IP 20, UDP 8, items 18, sequence count 2 before the data of a class 1
 *  packet (RFC 791, RFC 768; CIP Vol. 2, from memory). */
const beforeData = 14 + 20 + 8 + 18 + 2
const runIdleBytes = 4

function trafficOf({ device, station, inputFrameBytes, outputFrameBytes }: WireStation): Traffic {
  const connection = device?.connections.find(({ key }) => key === station.connection)
  const times = timesOfConnection(station, connection)
  const header = connection?.hasRunIdleHeader === true ? runIdleBytes : 0
  return {
    frameBytes: {
      in: ethernetWireBytes(beforeData + inputFrameBytes),
      out: ethernetWireBytes(beforeData + header + outputFrameBytes),
    },
    updateTimeUs: { in: times.inputIntervalUs, out: times.outputIntervalUs },
    watchdogUs: times.watchdogUs,
  }
}

const perSecond = (intervalUs: number | null) => (intervalUs === null ? 0 : 1_000_000 / intervalUs)

export const ethernetIpTimes = {
  bitRate: fastEthernet,
  traffic: (_: object, view: WireStation) => trafficOf(view),
  cycle: (_: object, stations: readonly WireStation[]): Cycle => ({
    cycleUs: null,
    framesPerCycle: null,
    packetsPerSecond: stations.reduce((sum, view) => {
      const { updateTimeUs } = trafficOf(view)
      return sum + perSecond(updateTimeUs.in) + perSecond(updateTimeUs.out)
    }, 0),
  }),
} satisfies WireTimes
