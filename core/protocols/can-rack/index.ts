import { z } from 'zod'
import type { SheetDevice } from '../../catalog/model'
import { wordCanFrame } from './frame-words'
import type { NetworkProtocol } from '../protocol'
import { canRackMaster } from './master'
import { canTimes } from './times'
import type { WithSettings } from '../settings'

/** What a controller does when it loses a rack (common practice). */
export const lostReactions = ['none', 'warning', 'shutdown'] as const
export type LostReaction = (typeof lostReactions)[number]

/** Decisions for the case that a rack is lost; null for stations of other networks. */
export function rackDecisions({
  settings,
}: WithSettings): { readonly onLost: LostReaction; readonly alarmPrefix: string } | null {
  if (!('onLost' in settings)) return null
  const { onLost, alarmPrefix } = settings as { onLost: LostReaction; alarmPrefix?: string }
  return { onLost, alarmPrefix: alarmPrefix ?? '' }
}

export const canRack = {
  name: 'can-rack',
  title: 'CAN extension rack',
  kinds: {
    'can-rack': {
      name: 'CAN extension rack',
      wiring: { shape: 'bus', medium: 'can', ports: 2, controllerPorts: 2 },
      times: canTimes,
      master: canRackMaster,
      wordFrame: wordCanFrame,
      number: { word: 'Node', first: 1, last: 127, start: 1 },
      settings: {
        network: {
          /** kbit/s; null: nobody chose. */
          canKbit: z.number().min(10).max(1000).nullable().default(null),
        },
        station: {
          /** What the controller does when the rack is lost. */
          onLost: z.enum(lostReactions).default('warning'),
          /** Before the words of its alarms. */
          alarmPrefix: z.string().max(40).default(''),
        },
      },
    },
  },
  sheetParts: [],
  byteOrder: 'big',
  placesProposed: true,
} satisfies NetworkProtocol<SheetDevice>
