import type { Derived } from '../derive/derive'
import { safetySignature } from '../safety'
import { numbered } from '../vocabulary/plural'

/** Which plan a file is of, and in which state; every file says it. */
export interface Origin {
  readonly project: string
  readonly revision: number
  /** Open ones; more than 0 make the file a draft. */
  readonly blockers: number
  /** Of all that is fail-safe in the plan; null where nothing is. */
  readonly safetySignature: string | null
  /** When the revision was made, ISO 8601 in UTC; null where nobody knows. */
  readonly at: string | null
}

export function originOf(
  derived: Derived,
  revision: number,
  blockers: number,
  at: string | null = null,
): Origin {
  return {
    project: derived.plan.project.name,
    revision,
    blockers,
    safetySignature: safetySignature(derived),
    at,
  }
}

/** The same for people, a phrase each: `revision 12`, `draft: 2 blockers are open`. */
export function wordsOfOrigin({ revision, blockers, safetySignature: signature, at }: Origin) {
  return [
    `revision ${revision}`,
    ...(at === null ? [] : [`of ${at.slice(0, 10)}`]),
    ...(signature === null ? [] : [`fail-safe signature ${signature}`]),
    ...(blockers > 0 ? [`DRAFT: ${numbered(blockers, 'blocker')} open`] : []),
  ]
}
