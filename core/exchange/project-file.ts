import { z } from 'zod'
import { applyCommand } from '../changing/apply'
import { kindNamed } from '../protocols/registry'
import { planFromRows, rowsOfPlan } from '../plan/changes'
import { filesOfPlan } from '../plan/files'
import { projectRow, tableNames, tables, type Plan, type PlanRows } from '../plan/model'
import { liftTables } from '../plan/older'
import { faultsOfRows, wordFault, type PlanFault } from '../plan/validity'
import { wordIssue } from '../vocabulary/schema-words'

export const projectFileVersion = 1
/** Of one table; looked at before the rows are. */
const mostRows = 1_000_000

/** The project file: flat tables, rows by id. Description files travel beside it, named by hash. */
export const projectFile = z
  .object({
    kataxis: z.literal(projectFileVersion),
    revision: z.number().int().min(0).max(2_000_000_000),
    /** When the revision was made, ISO 8601 in UTC; left out where nobody knows. */
    at: z.iso.datetime().optional(),
    project: projectRow,
    controllers: z.array(tables.controllers),
    networks: z.array(tables.networks),
    stations: z.array(tables.stations),
    modules: z.array(tables.modules),
    signals: z.array(tables.signals),
    files: z.array(
      z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/), name: z.string().max(300) }).strict(),
    ),
  })
  .strict()

export type ProjectFile = z.infer<typeof projectFile>
export interface FileName {
  readonly sha256: string
  readonly name: string
}

/** The whole plan, lossless; rows in order of id and keys in order of the schema, so that the same
 *  plan gives the same bytes. */
export function writeProjectFile(
  plan: Plan,
  revision: number,
  files: readonly FileName[],
  at: string | null = null,
): string {
  const rows = rowsOfPlan(plan)
  const sorted = Object.fromEntries(
    tableNames.map((table) => [
      table,
      z.array(tables[table] as z.ZodType).parse(inOrder(rows[table] as readonly { id: string }[])),
    ]),
  )
  const named = filesOfPlan(plan)
    .toSorted()
    .flatMap((used) => files.filter(({ sha256 }) => sha256 === used).slice(0, 1))
    .map(({ sha256, name }) => ({ sha256, name }))
  return `${JSON.stringify({ kataxis: projectFileVersion, revision, ...(at !== null && { at }), project: projectRow.parse(plan.project), ...sorted, files: named }, null, 1)}\n`
}

function inOrder<T extends { id: string }>(rows: readonly T[]): T[] {
  return [...rows].sort((a, b) => (a.id < b.id ? -1 : 1))
}

export interface ReadProject {
  readonly plan: Plan
  readonly revision: number
  readonly at: string | null
  readonly files: FileName[]
}

/** Reads a project file, or says which value is wrong, by its path. */
export function readProjectFile(text: string): ReadProject | { fault: string } {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch (error) {
    return { fault: `This is no project file: it is not JSON (${(error as Error).message}).` }
  }
  const version = (json as { kataxis?: unknown } | null)?.kataxis
  if (version === undefined)
    return { fault: 'This is no project file: it has no "kataxis" version number.' }
  if (version !== projectFileVersion)
    return {
      fault: `kataxis: the project file has version ${JSON.stringify(version)}; this program reads version ${projectFileVersion}.`,
    }
  const many = tableNames.find(
    (table) => ((json as Record<string, unknown[]>)[table]?.length ?? 0) > mostRows,
  )
  if (many) return { fault: `${many}: more than the ${mostRows} rows that a project holds.` }
  const parsed = projectFile.safeParse(liftTables(json as Record<string, unknown>))
  if (!parsed.success) return { fault: parsed.error.issues.slice(0, 5).map(wordIssue).join(' ') }
  const {
    project,
    files,
    revision,
    at = null,
    controllers,
    networks,
    stations,
    modules,
    signals,
  } = parsed.data
  const rows = { controllers, networks, stations, modules, signals }
  const fault = referenceFault(rows)
  if (fault) return { fault }
  const plan = planFromRows(project, rows)
  return {
    plan: hasLinks(json as Record<string, unknown>) ? plan : lined(plan),
    revision,
    at,
    files,
  }
}

/** Whether a file comes from a program that knew links. */
function hasLinks({ stations }: Record<string, unknown>): boolean {
  return (stations as object[]).some((row) => 'links' in row)
}

/** The stations of each network linked in a line, as far as ports that are usual on it go. */
function lined(plan: Plan): Plan {
  return Object.values(plan.networks).reduce((current, { id, settings }) => {
    if (!kindNamed(settings.kind).wiring) return current
    const applied = applyCommand(current, new Map(), { type: 'lineUp', networkId: id })
    return applied.ok ? applied.plan : current
  }, plan)
}

/** The first row that makes this no plan, by its path. */
function referenceFault(rows: PlanRows): string | null {
  const [fault] = faultsOfRows(rows)
  if (!fault) return null
  const index = (rows[fault.table] as readonly { id: string }[]).findLastIndex(
    ({ id }) => id === fault.id,
  )
  return `${fault.table}[${index}].${faultyField(fault)}: ${wordFault(fault)}`
}

const ownerFields = {
  controllers: '',
  networks: 'controllerId',
  stations: 'networkId',
  modules: 'stationId',
  signals: 'place',
} as const

function faultyField({ code, table }: PlanFault): string {
  return {
    'id.twice': 'id',
    'slot.twice': 'slot',
    'channel.twice': 'place',
    'owner.missing': ownerFields[table],
  }[code]
}
