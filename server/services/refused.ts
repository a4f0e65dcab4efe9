import type { Problem, Refusal } from '@kataxis/core'
import { wordRefusal } from '@kataxis/core'

/** Why something is refused: what was sent is no good, nobody is signed in, the person may not, it
 *  is not there, somebody was quicker, it is more than is taken, plan or description do not allow
 *  it, it was asked too often, what is needed is away or took too long. */
export type Reason =
  | 'invalid'
  | 'signedOut'
  | 'forbidden'
  | 'missing'
  | 'conflict'
  | 'tooLarge'
  | 'impossible'
  | 'tooOften'
  | 'away'
  | 'tooSlow'

/** What cannot be granted, with a sentence for people. */
export class Refused extends Error {
  constructor(
    readonly reason: Reason,
    readonly code: string,
    sentence: string,
    readonly extra: {
      problems?: readonly Problem[]
      refusal?: Refusal
      space?: { freeBytes: number | null; isScarce: boolean }
    } = {},
  ) {
    super(sentence)
  }
}

const reasonOf = {
  'row.missing': 'missing',
  'id.taken': 'conflict',
  'slot.taken': 'conflict',
  'slot.unknown': 'impossible',
  'slot.notAllowed': 'impossible',
  'slot.fixed': 'impossible',
  'subslot.unknown': 'impossible',
  'subslot.notAllowed': 'impossible',
  'subslot.fixed': 'impossible',
  'port.none': 'impossible',
  'port.missing': 'impossible',
  'port.protocol': 'impossible',
  'port.cycle': 'impossible',
  'slots.full': 'impossible',
  'file.missing': 'impossible',
  'device.missing': 'impossible',
  'device.protocol': 'impossible',
  'network.protocol': 'impossible',
  'setting.strange': 'impossible',
  'numbers.full': 'conflict',
  'switches.full': 'conflict',
  'module.missing': 'impossible',
  'block.missing': 'impossible',
  'image.full': 'impossible',
  'address.bits': 'impossible',
  'address.slot': 'impossible',
  pattern: 'impossible',
  'channel.taken': 'conflict',
  'channel.missing': 'impossible',
  'subnet.full': 'impossible',
  'parameter.unknown': 'impossible',
  'parameter.refused': 'impossible',
  'parameter.computed': 'impossible',
  'safety.noSum': 'impossible',
  'safety.noConnection': 'impossible',
  'layout.noData': 'missing',
  'layout.bytes': 'impossible',
  'layout.field': 'impossible',
  'layout.twice': 'conflict',
  'link.self': 'impossible',
  'link.taken': 'conflict',
  'link.noPort': 'impossible',
  'link.full': 'impossible',
  'link.none': 'missing',
  'link.media': 'impossible',
  'link.other': 'impossible',
  'feed.none': 'impossible',
  'feed.noSupply': 'impossible',
  'feed.noGroup': 'impossible',
  'feed.second': 'impossible',
  'feed.circle': 'impossible',
  'ring.none': 'impossible',
  'ring.noEnd': 'impossible',
  'row.changed': 'conflict',
  'plan.invalid': 'conflict',
  'change.tooLarge': 'tooLarge',
  'undo.blocked': 'conflict',
  'undo.moved': 'conflict',
  'undo.nothing': 'conflict',
  'redo.nothing': 'conflict',
} as const satisfies Record<Refusal['code'], Reason>

export function refusedBy(refusal: Refusal): Refused {
  return new Refused(reasonOf[refusal.code], refusal.code, wordRefusal(refusal), { refusal })
}

export function notFound(what: string): Refused {
  return new Refused('missing', 'not-found', `There is no such ${what}.`)
}
