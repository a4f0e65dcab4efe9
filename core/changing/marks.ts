import type { Catalog } from '../catalog/catalog'
import { stationIdOf, type RowChange } from '../plan/draft'
import { wordChange, type ChangeWords } from './history'
import type { Id, Plan, RowOf, TableName } from '../plan/model'

/** What happened at a place of the Board, most telling first. */
export interface Mark {
  readonly how: ChangeWords['how']
  readonly words: readonly string[]
}

/** Changes by the thing that shows them: modules and stations for themselves, signals at their
 *  module; what was removed at what it was part of. */
export function marksOf(
  changes: readonly RowChange[],
  before: Plan,
  after: Plan,
  catalog: Catalog,
): ReadonlyMap<Id, Mark> {
  const marks = new Map<Id, { how: Mark['how']; words: string[] }>()
  for (const change of changes) {
    const id = places[change.table](
      (change.after ?? change.before) as RowOf[TableName],
      change,
      before,
      after,
    )
    if (id === null) continue
    const { how, words } = wordChange(change, before, after, catalog)
    const isOwn = id === change.id
    const known = marks.get(id)
    if (!known) marks.set(id, { how: isOwn ? how : 'changed', words: [words] })
    else {
      known.words.push(words)
      if (isOwn) known.how = how
    }
  }
  return marks
}

/** The id of what stands on the Board after the change; null where nothing does. */
const places: Record<
  RowChange['table'],
  (row: RowOf[TableName], change: RowChange, before: Plan, after: Plan) => Id | null
> = {
  project: () => null,
  controllers: ({ id }, { after }) => (after ? id : null),
  networks: ({ id }, { after }) => (after ? id : null),
  stations: (row, { after }) => (after ? row.id : (row as RowOf['stations']).networkId),
  modules: (row, { after }) => (after ? row.id : (row as RowOf['modules']).stationId),
  signals: (row, { before: old }, before, after) => {
    const moduleId =
      (row as RowOf['signals']).place?.moduleId ?? (old as RowOf['signals'] | null)?.place?.moduleId
    if (moduleId === undefined) return null
    return stationIdOf(after, moduleId) === null ? stationIdOf(before, moduleId) : moduleId
  },
}
