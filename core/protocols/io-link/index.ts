import type { Device } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'

/** Devices below ports: they stand on no network of their own. */
export const ioLink = {
  name: 'io-link',
  title: 'IO-Link',
  kinds: {},
  // Devices that are known by their sizes alone.
  sheetParts: [],
  byteOrder: 'big', // IO-Link 1.1
  ids: ({ identity: { 'io-link': id } }) => id,
  leastCycleUs: ({ ioLink: { minCycleTimeUs } }) => minCycleTimeUs,
} satisfies NetworkProtocol<Extract<Device, { protocol: 'io-link' }>>
