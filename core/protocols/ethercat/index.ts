import { z } from 'zod'
import type { Device } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'
import { logicalImage } from './logical-image'
import { pdoObject } from './notation'
import { startUpLine } from './start-up'

export const ethercat = {
  name: 'ethercat',
  title: 'EtherCAT',
  kinds: {
    ethercat: {
      name: 'EtherCAT',
      sharesBackplane: true,
      needsOwnCable: true,
      // From memory.
      number: { word: 'Configured address', first: 1, last: 65_535, start: 1001 },
      settings: {
        network: {},
        station: {
          /** Lines of the start-up list beside the description's. */
          startUp: z.array(startUpLine).max(1000).default([]),
        },
      },
    },
  },
  byteOrder: 'little', // ETG.1000
  placesProposed: true,
  logicalImage,
  setBy: () =>
    'By its position on the line: the controller writes the configured address at every start.',
  notations: { pdo: pdoObject },
} satisfies NetworkProtocol<Extract<Device, { protocol: 'ethercat' }>>
