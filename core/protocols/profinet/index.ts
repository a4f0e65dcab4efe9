import type { Device } from '../../catalog/model'
import { wordProfinetFrame } from './frame-words'
import type { NetworkProtocol } from '../protocol'
import { ipNetwork, ipStation } from '../settings'
import { frameSizes, frameWithStatus } from './frame'
import { slotSubslot } from './notation'
import { softwareOnWire } from '../software-revision'
import { hexIdent, hexWord } from './idents'
import { profinetMaster } from './master'
import { profinetSharing } from './sharing'
import { telegramsOf } from './telegrams'
import { profinetNetworkTimes, profinetStationTimes, profinetTimes } from './times'
import { ringNetwork, switchedWiring } from '../wiring'

type ProfinetDevice = Extract<Device, { protocol: 'profinet' }>

export const profinet = {
  name: 'profinet',
  title: 'PROFINET',
  kinds: {
    profinet: {
      name: 'PROFINET',
      newName: 'Network',
      hasIp: true,
      hasWireNames: true,
      // From memory.
      master: profinetMaster,
      wordFrame: wordProfinetFrame,
      number: { word: 'Device number', first: 1, last: 4096, start: 1 },
      settings: {
        network: { ...ipNetwork, ...ringNetwork, ...profinetNetworkTimes },
        station: { ...ipStation, ...profinetStationTimes, ...profinetSharing },
      },
      wiring: {
        ...switchedWiring,
        ring: {
          managerWord: 'redundancy manager',
          maxNodes: 50,
          reconfigurationUs: 200_000,
          source: 'IEC 62439-2',
        },
      },
      times: profinetTimes,
    },
  },
  byteOrder: 'big', // IEC 61158-6-10
  placesProposed: true,
  wishedName: ({ profinet: { dnsCompatibleName } }) => dnsCompatibleName,
  ids: ({ identity: { profinet: id } }) => id,
  leastCycleUs: ({ profinet: { minDeviceIntervalUs } }) => minDeviceIntervalUs,
  ports: ({ profinet: { ports }, submodules }) =>
    ports.map(({ subslot, medium }, i) => ({
      name: submodules.find((one) => one.subslot === subslot)?.name ?? `Port ${i + 1}`,
      medium,
    })),
  closesRings: ({ profinet: { mediaRedundancyRoles } }) => mediaRedundancyRoles.length > 0,
  limitsIncludeStatus: ({ profinet: { limitsIncludeStatus } }) => limitsIncludeStatus,
  sizes: frameSizes,
  frame: frameWithStatus,
  telegrams: telegramsOf,
  notations: { 'slot-subslot': slotSubslot },
  setBy: ({ station: { name } }) =>
    `Assigned over the network: choose the device by its MAC address, write the name ${name || '(none yet)'}; the controller gives it the address when it starts.`,
  identity: ({ name, firmware, identity: { profinet: id } }) => ({
    type: `${hexWord(id.vendorId)}:${hexWord(id.deviceId)}`,
    typeName: name,
    firmware: softwareOnWire(firmware),
  }),
  identOf: ({ ident }) => hexIdent(ident ?? 0),
  headIdent: ({ identity: { profinet: id } }) => hexIdent(id.moduleIdent),
} satisfies NetworkProtocol<ProfinetDevice>
