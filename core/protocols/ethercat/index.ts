import { z } from 'zod'
import type { Device } from '../../catalog/model'
import { wordEthercatFrame } from './frame-words'
import type { NetworkProtocol } from '../protocol'
import { ethercatMaster } from './master'
import { ethercatStationTimes } from './clocks'
import { logicalImage } from './logical-image'
import { pdoObject } from './notation'
import { startUpLine } from './start-up'
import { ethercatNetworkTimes, ethercatTimes } from './times'
import { portsOfPhysics } from './physics'
import { ringNetwork } from '../wiring'

const hex = (value: number) => value.toString(16).padStart(8, '0')

export const ethercat = {
  name: 'ethercat',
  title: 'EtherCAT',
  kinds: {
    ethercat: {
      name: 'EtherCAT',
      sharesBackplane: true,
      needsOwnCable: true,
      // From memory.
      master: ethercatMaster,
      wordFrame: wordEthercatFrame,
      number: { word: 'Configured address', first: 1, last: 65_535, start: 1001 },
      settings: {
        network: { ...ringNetwork, ...ethercatNetworkTimes },
        station: {
          ...ethercatStationTimes,
          /** Lines of the start-up list beside the description's. */
          startUp: z.array(startUpLine).max(1000).default([]),
        },
      },
      wiring: {
        shape: 'chain',
        medium: 'copper',
        ports: 2,
        controllerPorts: 2,
        ring: {
          managerWord: 'second port of the controller',
          maxNodes: 65_535,
          reconfigurationUs: 0,
          source: 'common practice',
          runsBothWays: true,
        },
      },
      times: ethercatTimes,
    },
  },
  byteOrder: 'little', // ETG.1000
  ports: ({ ethercat: { physics } }) => portsOfPhysics(physics),
  placesProposed: true,
  logicalImage,
  setBy: () =>
    'By its position on the line: the controller writes the configured address at every start.',
  notations: { pdo: pdoObject },
  identity: ({ name, identity: { ethercat: id } }) => ({
    type: `${hex(id.vendorId)}:${hex(id.productCode)}`,
    typeName: name,
    firmware: `0x${hex(id.revision)}`,
  }),
} satisfies NetworkProtocol<Extract<Device, { protocol: 'ethercat' }>>
