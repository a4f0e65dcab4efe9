import { wordSerialLine, type SerialLine } from '../../vocabulary/serial-line'
import {
  ethernetWireBytes,
  fastEthernet,
  type Cycle,
  type Traffic,
  type WireFault,
} from '../traffic'
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

/** A device that wants to be written to more often than requests come. */
function watchdogFaults({ device }: WireStation, everyMs: number): WireFault[] {
  const watchdog = device && 'sheet' in device ? device.sheet.modbus.watchdog : null
  if (!watchdog || watchdog.periodMs >= everyMs) return []
  return [
    {
      code: 'watchdog',
      what: `The watchdog register ${watchdog.address}`,
      is: `written every ${Math.ceil(everyMs)} ms`,
      wants: `the device wants it every ${watchdog.periodMs} ms`,
      severity: 'blocker',
      fixes: [
        {
          label: `Ask every ${watchdog.periodMs / 2} ms`,
          of: 'network',
          settings: { requestMs: Math.max(1, Math.floor(watchdog.periodMs / 2)) },
        },
      ],
    },
  ]
}

const lineParts = {
  baud: ['bit rate', ({ baud }: SerialLine) => `${baud} bit/s`],
  dataBits: ['number of data bits', ({ dataBits }: SerialLine) => String(dataBits)],
  parity: ['parity', ({ parity }: SerialLine) => parity],
  stopBits: ['number of stop bits', ({ stopBits }: SerialLine) => String(stopBits)],
} as const

/** What is set at a device and is other on its line: they do not understand each other. */
function lineFaults({ station }: WireStation, line: SerialLine): WireFault[] {
  const { line: own } = station.settings as { line?: SerialLine | null }
  if (!own) return []
  return (Object.keys(lineParts) as (keyof SerialLine)[])
    .filter((key) => own[key] !== line[key])
    .map((key) => {
      const [what, word] = lineParts[key]
      return {
        code: 'line',
        what: `The ${what} set at the device`,
        is: word(own),
        wants: `its line has ${word(line)}`,
        severity: 'blocker',
        fixes: [
          {
            label: `Set ${wordSerialLine(line)} at the device`,
            of: 'station',
            settings: { line: null },
          },
        ],
      }
    })
}

export const modbusTcpTimes = {
  faults: ({ requestMs }: { readonly requestMs: number }, view: WireStation) =>
    watchdogFaults(view, requestMs),
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
  faults: (
    { line, requestMs }: { readonly line: SerialLine; readonly requestMs: number },
    view: WireStation,
    { cycleUs }: Cycle,
  ) => [
    ...lineFaults(view, line),
    ...watchdogFaults(view, Math.max(requestMs, (cycleUs ?? 0) / 1000)),
  ],
  networkFaults: ({ line }: { readonly line: SerialLine }): WireFault[] =>
    line.dataBits === 8
      ? []
      : [
          {
            code: 'dataBits',
            what: 'The number of data bits',
            is: String(line.dataBits),
            wants: 'frames of octets need 8 (MODBUS over serial line V1.02)',
            severity: 'blocker',
          },
        ],
  segmentM: () => longestLineM,
  segmentNodes: 32,
}
