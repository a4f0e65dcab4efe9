import { z } from 'zod'
import type { SheetDevice } from '../../catalog/model'
import type { NetworkProtocol } from '../protocol'

/** Things that carry no channels: switches, repeaters, converters, terminators, supplies. They are
 *  stations of a list of their own, without an identity on any wire; links lead from them into the
 *  networks they belong to. */
export const passive = {
  name: 'passive',
  title: 'what carries no channels',
  kinds: {
    passive: {
      name: 'Switches, repeaters, supplies',
      number: { word: 'Number', first: 1, last: 65_535, start: 1 },
      settings: {
        network: {},
        station: {
          /** Of a supply, where it was adjusted; null: as its sheet says. */
          outputVolts: z.number().min(0).max(1000).nullable().default(null),
        },
      },
    },
  },
  sheetParts: ['networkPorts', 'source'],
  byteOrder: 'big',
  setBy: () => 'It has no address of its own here.',
} satisfies NetworkProtocol<SheetDevice>
