import type { SheetDevice } from '../../catalog/model'
import { wordRingFrame } from './frame-words'
import type { NetworkProtocol } from '../protocol'
import { ringMaster } from './master'
import { ringNetwork } from '../wiring'
import { ringTimes } from './times'

export const ring = {
  name: 'ring',
  title: 'fieldbus ring',
  kinds: {
    ring: {
      name: 'Fieldbus ring',
      // The managing node has 240 (from memory).
      master: ringMaster,
      wordFrame: wordRingFrame,
      number: { word: 'Node', first: 1, last: 239, start: 1 },
      settings: { network: ringNetwork, station: {} },
      wiring: {
        shape: 'switched',
        medium: 'copper',
        ports: 2,
        controllerPorts: 2,
        ring: {
          managerWord: 'managing node',
          maxNodes: 240,
          reconfigurationUs: 0,
          source: 'from memory',
          runsBothWays: true,
        },
      },
      times: ringTimes,
    },
  },
  sheetParts: [],
  byteOrder: 'big',
  placesProposed: true,
} satisfies NetworkProtocol<SheetDevice>
