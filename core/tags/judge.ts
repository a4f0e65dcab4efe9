import type { Id, Plan } from '../plan/model'
import { tagFault, tagIdentity } from './identifier'

/** What would be wrong with tags that are about to be given, one after the other: by the rules that
 *  findings of tags go by, and against the plan and those given before. `except` are signals whose
 *  tags go. A tag that is asked for counts as given. */
export function judgeOfTags(
  plan: Plan,
  except: ReadonlySet<Id> = new Set(),
): (tag: string) => string | null {
  const taken = new Set(
    [...Object.values(plan.stations).map(({ signals }) => signals), plan.unplaced].flatMap(
      (signals) =>
        Object.values(signals)
          .filter(({ id, tag }) => tag !== '' && !except.has(id))
          .map(({ tag }) => tagIdentity(tag)),
    ),
  )
  return (tag) => {
    if (tag === '') return 'it would be empty'
    const identity = tagIdentity(tag)
    const fault =
      tagFault(tag, plan.project) ?? (taken.has(identity) ? 'the tag stands already' : null)
    taken.add(identity)
    return fault
  }
}
