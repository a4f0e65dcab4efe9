import type { Cycle, Traffic, WireFault, WireTimes } from '../traffic'
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
    isMulticast: (station.settings as { isMulticast?: boolean }).isMulticast === true,
  }
}

const perSecond = (intervalUs: number | null) => (intervalUs === null ? 0 : 1_000_000 / intervalUs)

/** Packets a second of a station both ways. */
function packetsOf(view: WireStation): number {
  const { updateTimeUs } = trafficOf(view)
  return perSecond(updateTimeUs.in) + perSecond(updateTimeUs.out)
}

/** More packets than a device takes by its description. */
function faultsOf(_: object, view: WireStation): WireFault[] {
  const described = view.device
  const rates = described && 'ethernetIp' in described ? described.ethernetIp.packetRates : []
  const bytes = Math.max(view.inputFrameBytes, view.outputFrameBytes)
  const rate = [...(rates ?? [])]
    .sort((a, b) => a.bytes - b.bytes)
    .find((one) => one.bytes >= bytes)
  const packets = Math.round(packetsOf(view))
  if (!rate || packets <= rate.perSecond) return []
  // Both directions alike.
  const intervalUs = Math.ceil(2_000_000 / rate.perSecond / 1000) * 1000
  return [
    {
      code: 'packets',
      what: 'Its number of packets',
      is: `${packets} a second`,
      wants: `it takes ${rate.perSecond} at this size`,
      severity: 'blocker',
      fixes: [
        {
          label: `Ask every ${intervalUs / 1000} ms`,
          of: 'station',
          settings: { inputIntervalUs: intervalUs, outputIntervalUs: intervalUs },
        },
      ],
    },
  ]
}

export const ethernetIpTimes = {
  faults: faultsOf,
  bitRate: fastEthernet,
  traffic: (_: object, view: WireStation) => trafficOf(view),
  cycle: (_: object, stations: readonly WireStation[]): Cycle => ({
    cycleUs: null,
    framesPerCycle: null,
    packetsPerSecond: stations.reduce((sum, view) => sum + packetsOf(view), 0),
  }),
} satisfies WireTimes
