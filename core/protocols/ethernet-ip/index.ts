import type { Device } from '../../catalog/model'
import { wordEthernetIpMessage } from './frame-words'
import type { NetworkProtocol } from '../protocol'
import { cipType, ethernetIpMaster } from './master'
import { ipNetwork, ipStation, roleNameOf, servedStation, servingNetwork } from '../settings'
import { assembly } from './notation'
import { safetyConfiguration, safetyNetworkNumber } from './safety'
import { connectionTimes } from './times'
import { ethernetIpTimes } from './wire-times'
import { ringNetwork, switchedWiring } from '../wiring'
import { frameWithHeader, telegramsOf } from './telegrams'

export const ethernetIp = {
  name: 'ethernet-ip',
  title: 'EtherNet/IP',
  kinds: {
    'ethernet-ip': {
      name: 'EtherNet/IP',
      hasIp: true,
      master: ethernetIpMaster,
      wordFrame: wordEthernetIpMessage,
      number: { word: 'Number', first: 1, last: 4096, start: 1 },
      settings: {
        network: { ...ipNetwork, ...ringNetwork, ...servingNetwork, safetyNetworkNumber },
        station: {
          ...ipStation,
          ...servedStation,
          ...connectionTimes,
          /** The configuration signature as the maker's tool gave it for the parameters set then. */
          safetyConfiguration: safetyConfiguration.nullable().default(null),
        },
      },
      wiring: {
        ...switchedWiring,
        ring: {
          managerWord: 'ring supervisor',
          maxNodes: 50,
          reconfigurationUs: 3000,
          source: 'CIP Vol. 2, beacons every 400 µs; from memory',
        },
      },
      times: ethernetIpTimes,
    },
  },
  sheetParts: ['dataSets'],
  byteOrder: 'little', // CIP Vol. 1
  placesProposed: true,
  // What Forward_Open can name (511, with two octets of sequence count and four of run/idle; CIP
  // Vol. 1, 3-5.5), and what one Ethernet frame has room for (from memory).
  connectionLimits: { large: { in: 509, out: 505 }, frame: { in: 1452, out: 1448 } },
  frame: frameWithHeader,
  ports: ({ ethernetIp: { portCount = 0 } }) =>
    Array.from({ length: portCount }, (_, i) => ({ name: `Port ${i + 1}`, medium: 'copper' })),
  closesRings: ({ ethernetIp: { closesRings } }) => closesRings ?? null,
  setBy: ({ station }) =>
    roleNameOf(station)
      ? `Served (DHCP or BOOTP) by its MAC address, under the role name ${roleNameOf(station)}.`
      : 'Set in the device: its switches, its web page or the tool of the maker.',
  telegrams: telegramsOf,
  notations: { assembly },
  identity: ({ name, firmware, identity: { 'ethernet-ip': id } }) => ({
    type: cipType({ ...id, vendor: id.vendorCode }),
    typeName: name,
    firmware,
  }),
} satisfies NetworkProtocol<Extract<Device, { protocol: 'ethernet-ip' }>>
