import type { SheetDevice } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'

export const ring = {
  name: 'ring',
  title: 'fieldbus ring',
  kinds: {
    ring: {
      name: 'Fieldbus ring',
      number: { word: 'Position', first: 1, last: 512, start: 1 },
      settings: { network: {}, station: {} },
    },
  },
  sheetParts: [],
  byteOrder: 'big',
  placesProposed: true,
} satisfies NetworkProtocol<SheetDevice>
