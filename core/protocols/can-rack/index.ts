import type { SheetDevice } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'

export const canRack = {
  name: 'can-rack',
  title: 'CAN extension rack',
  kinds: {
    'can-rack': {
      name: 'CAN extension rack',
      number: { word: 'Node', first: 1, last: 127, start: 1 },
      settings: { network: {}, station: {} },
    },
  },
  sheetParts: [],
  byteOrder: 'big',
  placesProposed: true,
} satisfies NetworkProtocol<SheetDevice>
