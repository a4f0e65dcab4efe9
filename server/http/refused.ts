import type { Problem, Refusal } from '@kataxis/core'
import { wordRefusal } from '@kataxis/core'

/** A request that cannot be granted, with a sentence for people; the error handler turns it into
 *  problem+json (RFC 9457). */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
    readonly extra: { problems?: readonly Problem[]; refusal?: Refusal } = {},
  ) {
    super(sentence)
  }
}

/** 409: somebody was quicker; 404: it is gone; 422: the plan or the description does not allow
 *  it. */
const statusOf = {
  'row.missing': 404,
  'id.taken': 409,
  'slot.taken': 409,
  'slot.unknown': 422,
  'slot.notAllowed': 422,
  'slot.fixed': 422,
  'subslot.unknown': 422,
  'subslot.notAllowed': 422,
  'subslot.fixed': 422,
  'port.none': 422,
  'port.protocol': 422,
  'port.cycle': 422,
  'slots.full': 422,
  'file.missing': 422,
  'device.missing': 422,
  'device.protocol': 422,
  'network.protocol': 422,
  'numbers.full': 409,
  'switches.full': 409,
  'module.missing': 422,
  'block.missing': 422,
  'image.full': 422,
  'address.bits': 422,
  'address.slot': 422,
  pattern: 422,
  'channel.taken': 409,
  'channel.missing': 422,
  'subnet.full': 422,
  'parameter.unknown': 422,
  'parameter.refused': 422,
  'parameter.computed': 422,
  'safety.noSum': 422,
  'row.changed': 409,
  'plan.invalid': 409,
  'change.tooLarge': 413,
  'undo.blocked': 409,
  'undo.moved': 409,
  'undo.nothing': 409,
  'redo.nothing': 409,
} as const satisfies Record<Refusal['code'], number>

export function refusedBy(refusal: Refusal): Refused {
  return new Refused(statusOf[refusal.code], refusal.code, wordRefusal(refusal), { refusal })
}

export function notFound(what: string): Refused {
  return new Refused(404, 'not-found', `There is no such ${what}.`)
}
