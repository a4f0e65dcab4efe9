import type { SheetDevice } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'

export const local = {
  name: 'local',
  title: 'own slots of a controller',
  kinds: {
    local: {
      name: 'Own slots',
      isController: true,
      number: { word: 'Rack', first: 0, last: 31, start: 0 },
      settings: { network: {}, station: {} },
    },
  },
  sheetParts: ['controller'],
  byteOrder: 'big',
  placesProposed: true,
} satisfies NetworkProtocol<SheetDevice>
