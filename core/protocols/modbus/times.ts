import type { SerialLine } from '../../vocabulary/serial-line'
import { ethernetWireBytes, fastEthernet, type Cycle, type Traffic } from '../traffic'
import type { WireStation } from '../wire'
import { requestRoundMs, requestsOf } from './round'

/** Addresses and type 14, IP 20, TCP 20, MBAP header 7 before the unit of data (RFC 791, RFC 9293,
 *  MODBUS Messaging on TCP/IP V1.0b). */
const beforePdu = 14 + 20 + 20 + 7
/** Unit and check sum around it on a serial line (MODBUS over serial line V1.02). */
const aroundPdu = 3

const trafficOf = (view: WireStation, wireBytes: (pduBytes: number) => number): Traffic => {
  const requests = requestsOf(view)
  const sum = (key: 'requestBytes' | 'responseBytes') =>
    requests.reduce((bytes, request) => bytes + wireBytes(request[key]), 0)
  return {
    frameBytes: { in: sum('responseBytes'), out: sum('requestBytes') },
    updateTimeUs: { in: null, out: null },
    watchdogUs: null,
  }
}

export const modbusTcpTimes = {
  bitRate: fastEthernet,
  traffic: (_: object, view: WireStation) =>
    trafficOf(view, (pdu) => ethernetWireBytes(beforePdu + pdu)),
}

/** Longest line of RS-485, in metres (TIA-485 and common practice: 1200 m up to some 100 kbit/s). */
const longestLineM = 1200

export const modbusRtuTimes = {
  bitRate: ({ line }: { readonly line: SerialLine }) => line.baud,
  traffic: (_: object, view: WireStation) => trafficOf(view, (pdu) => pdu + aroundPdu),
  cycle: ({ line }: { readonly line: SerialLine }, stations: readonly WireStation[]): Cycle => ({
    cycleUs: requestRoundMs(line, stations) * 1000,
    framesPerCycle: null,
    packetsPerSecond: null,
  }),
  segmentM: () => longestLineM,
  segmentNodes: 32,
}
