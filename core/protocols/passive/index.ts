import type { SheetDevice } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'

/** Things that carry no channels and stand between others: switches, repeaters, converters. They are
 *  stations of a list of their own, without an identity on any wire; links lead from them into the
 *  networks they belong to. */
export const passive = {
  name: 'passive',
  title: 'what stands between stations',
  kinds: {
    passive: {
      name: 'Switches and repeaters',
      number: { word: 'Number', first: 1, last: 65_535, start: 1 },
      settings: { network: {}, station: {} },
    },
  },
  sheetParts: ['networkPorts'],
  byteOrder: 'big',
  setBy: () => 'It has no address of its own here.',
} satisfies NetworkProtocol<SheetDevice>
