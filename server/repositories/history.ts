import { and, asc, desc, eq, gt, lt, sql, type SQL } from 'drizzle-orm'
import type { ChangeEntry, RowChange } from '@kataxis/core'
import type { Connection } from '../db/connect'
import { changes, controllers, modules, networks, projects, signals, stations } from '../db/schema'

export interface HistoryAsked {
  /** Only entries older than this revision. */
  readonly before: number | null
  /** Words that each stand in the entry: in who, in the kind of command, or in the names, tags and
   *  places of its rows. */
  readonly words: readonly string[]
}

/** As many as are given at once, and rows of each that are told. */
const pageLength = 100
const rowsTold = 3

/** What is told of each entry. */
const told = {
  revision: changes.revision,
  author: changes.author,
  at: changes.at,
  kind: changes.kind,
  target: changes.target,
  undone: changes.undone,
  command: changes.command,
  rows: sql<number>`jsonb_array_length(${changes.changes})::int`,
}

/** The newest entries first: who did what, and the first rows of each with their values before and
 *  after. */
export async function history(db: Connection, projectId: string, { before, words }: HistoryAsked) {
  return db
    .select({
      ...told,
      first: sql<
        RowChange[]
      >`jsonb_path_query_array(${changes.changes}, ${sql.raw(`'$[0 to ${rowsTold - 1}]'`)})`,
    })
    .from(changes)
    .where(
      and(
        eq(changes.projectId, projectId),
        before === null ? undefined : lt(changes.revision, before),
        ...words.map((word) => says(projectId, word.toLowerCase())),
      ),
    )
    .orderBy(desc(changes.revision))
    .limit(pageLength)
}

/** Whether a word stands in an entry. Rows name their station and module by identifier; those are
 *  looked up as they are called now. */
function says(projectId: string, word: string): SQL {
  const has = (text: SQL) => sql`position(${word} in lower(${text})) > 0`
  const own = sql`concat_ws(' ', ${changes.author}, 'r' || ${changes.revision}, ${changes.kind}, ${changes.command}->>'type', ${changes.command}->>'label')`
  const named = sql`(
    select id from ${controllers} where project_id = ${projectId} and ${has(sql`name`)}
    union all select id from ${networks} where project_id = ${projectId} and ${has(sql`name`)}
    union all select id from ${stations} where project_id = ${projectId} and ${has(sql`name`)}
    union all select m.id from ${modules} m join ${stations} s on s.project_id = m.project_id and s.id = m.station_id where m.project_id = ${projectId} and ${has(sql`s.name`)}
    union all select id from ${signals} where project_id = ${projectId} and ${has(sql`tag`)})`
  return sql`(${has(own)} or exists (
    select 1 from jsonb_array_elements(${changes.changes}) as change, lateral (values (change->'before'), (change->'after')) as side(told)
    where ${has(sql`concat_ws(' ', told->>'name', told->>'tag', told->>'comment', told->>'terminal', told->'settings'->>'roleName')`)}
      or told->>'id' in ${named} or told->>'stationId' in ${named} or told->'place'->>'moduleId' in ${named}))`
}

/** When a revision was made; null where it came in with the project, whose file did not say it. */
export async function momentOf(
  db: Connection,
  projectId: string,
  revision: number,
): Promise<string | null> {
  const [row] = await db
    .select({ at: changes.at })
    .from(changes)
    .where(and(eq(changes.projectId, projectId), eq(changes.revision, revision)))
  if (row) return row.at.toISOString()
  const [project] = await db
    .select({ at: projects.cameWithAt })
    .from(projects)
    .where(eq(projects.id, projectId))
  return project?.at?.toISOString() ?? null
}

/** All entries, oldest first, some at a time. */
export async function* changeLog(db: Connection, projectId: string): AsyncGenerator<ChangeEntry> {
  for (let after = -1; ;) {
    const page = await db
      .select(told)
      .from(changes)
      .where(and(eq(changes.projectId, projectId), gt(changes.revision, after)))
      .orderBy(asc(changes.revision))
      .limit(pageLength)
    for (const entry of page) yield { ...entry, at: entry.at.toISOString() }
    if (page.length < pageLength) return
    after = page.at(-1)!.revision
  }
}
