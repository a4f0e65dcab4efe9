import type { Device } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'
import { ipNetwork, ipStation } from '../settings'
import { frameSizes, frameWithStatus } from './frame'
import { slotSubslot } from './notation'
import { saidBy } from './said'
import { telegramsOf } from './telegrams'

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
      number: { word: 'Device number', first: 1, last: 4096, start: 1 },
      settings: { network: ipNetwork, station: ipStation },
    },
  },
  byteOrder: 'big', // IEC 61158-6-10
  placesProposed: true,
  wishedName: ({ profinet: { dnsCompatibleName } }) => dnsCompatibleName,
  ids: ({ identity: { profinet: id } }) => id,
  leastCycleUs: ({ profinet: { minDeviceIntervalUs } }) => minDeviceIntervalUs,
  limitsIncludeStatus: ({ profinet: { limitsIncludeStatus } }) => limitsIncludeStatus,
  sizes: frameSizes,
  frame: frameWithStatus,
  telegrams: telegramsOf,
  notations: { 'slot-subslot': slotSubslot },
  setBy: ({ station: { name } }) =>
    `Assigned over the network: choose the device by its MAC address, write the name ${name || '(none yet)'}; the controller gives it the address when it starts.`,
  says: saidBy,
} satisfies NetworkProtocol<ProfinetDevice>
