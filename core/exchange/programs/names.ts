import type { ProjectRow } from '../../plan/model'
import { legalTag, tagIdentity } from '../../tags/identifier'

/** Gives a legal name near to the wanted one, which no other name has. */
export type NamesOnce = (wanted: string, otherwise: string) => string

/** Puts something together that needs names beside tags. It is put together anew where a tag turns
 *  out to have one of the names: hardly ever, and looking at all tags before would take longer than
 *  the rest. */
export function withOwnNames<T>(
  project: ProjectRow,
  make: (once: NamesOnce) => T,
  tagsOf: (made: T) => Iterable<string>,
): T {
  const rules = { ...project, tagCase: 'any' } as const
  const tags = new Set<string>()
  for (;;) {
    const given = new Set<string>()
    const made = make((wanted, otherwise) => {
      for (let i = 1; ; i++) {
        const name = legalTag(i === 1 ? wanted : `${wanted}_${i}`, rules) || `${otherwise}_${i}`
        const key = tagIdentity(name)
        if (given.has(key) || tags.has(key)) continue
        given.add(key)
        return name
      }
    })
    let isClear = true
    for (const tag of tagsOf(made)) {
      const key = tagIdentity(tag)
      if (!given.has(key)) continue
      tags.add(key)
      isClear = false
    }
    if (isClear) return made
  }
}
