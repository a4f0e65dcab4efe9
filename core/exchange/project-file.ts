import { z } from 'zod'
import { planFromRows, rowsOfPlan } from '../plan/changes'
import { filesOfPlan } from '../plan/files'
import { projectRow, tableNames, tables, type Plan } from '../plan/model'
import { wordIssue } from '../schema-words'

export const projectFileVersion = 1

/** The project file: flat tables, rows by id. Description files travel beside it, named by hash. */
export const projectFile = z.object({
  kataxis: z.literal(projectFileVersion),
  revision: z.number().int().min(0),
  project: projectRow,
  controllers: z.array(tables.controllers),
  networks: z.array(tables.networks),
  stations: z.array(tables.stations),
  modules: z.array(tables.modules),
  signals: z.array(tables.signals),
  files: z.array(z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/), name: z.string().max(300) }).strict()),
}).strict()

export type ProjectFile = z.infer<typeof projectFile>
export interface FileName {
  readonly sha256: string
  readonly name: string
}

/** The whole plan, lossless; rows in order of id and keys in order of the schema, so that the same plan gives the same bytes. */
export function writeProjectFile(plan: Plan, revision: number, files: readonly FileName[]): string {
  const rows = rowsOfPlan(plan)
  const sorted = Object.fromEntries(tableNames.map((table) => [table, z.array(tables[table] as z.ZodType).parse(inOrder(rows[table] as readonly { id: string }[]))]))
  const used = new Set(filesOfPlan(plan))
  const named = files.filter(({ sha256 }) => used.has(sha256)).sort((a, b) => (a.sha256 < b.sha256 ? -1 : 1)).map(({ sha256, name }) => ({ sha256, name }))
  return `${JSON.stringify({ kataxis: projectFileVersion, revision, project: projectRow.parse(plan.project), ...sorted, files: named }, null, 1)}\n`
}

function inOrder<T extends { id: string }>(rows: readonly T[]): T[] {
  return [...rows].sort((a, b) => (a.id < b.id ? -1 : 1))
}

/** Reads a project file, or says which value is wrong, by its path. */
export function readProjectFile(text: string): { plan: Plan; revision: number; files: FileName[] } | { fault: string } {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch (error) {
    return { fault: `This is no project file: it is not JSON (${(error as Error).message}).` }
  }
  const version = (json as { kataxis?: unknown } | null)?.kataxis
  if (version === undefined) return { fault: 'This is no project file: it has no "kataxis" version number.' }
  if (version !== projectFileVersion) return { fault: `kataxis: the project file has version ${JSON.stringify(version)}; this program reads version ${projectFileVersion}.` }
  const parsed = projectFile.safeParse(json)
  if (!parsed.success) return { fault: parsed.error.issues.slice(0, 5).map(wordIssue).join(' ') }
  const { project, files, revision, controllers, networks, stations, modules, signals } = parsed.data
  const rows = { controllers, networks, stations, modules, signals }
  const fault = referenceFault(rows)
  return fault ? { fault } : { plan: planFromRows(project, rows), revision, files }
}

type Tables = Pick<ProjectFile, 'controllers' | 'networks' | 'stations' | 'modules' | 'signals'>

/** Ids twice, and references to rows that are not there. */
function referenceFault(rows: Tables): string | null {
  const ids = {} as Record<keyof Tables, Set<string>>
  for (const table of tableNames) {
    ids[table] = new Set()
    for (const [i, { id }] of rows[table].entries()) {
      if (ids[table].has(id)) return `${table}[${i}].id: "${id}" stands twice.`
      ids[table].add(id)
    }
  }
  const owners: [keyof Tables, string, (row: never) => string | null, (keyof Tables)[]][] = [
    ['networks', 'controllerId', ({ controllerId }: { controllerId: string }) => controllerId, ['controllers']],
    ['stations', 'networkId', ({ networkId }: { networkId: string }) => networkId, ['networks']],
    ['modules', 'stationId', ({ stationId }: { stationId: string }) => stationId, ['stations']],
    ['signals', 'place.moduleId', ({ place }: { place: { moduleId: string } | null }) => place?.moduleId ?? null, ['modules', 'stations']],
  ]
  for (const [table, property, read, targets] of owners) {
    for (const [i, row] of rows[table].entries()) {
      const target = read(row as never)
      if (target !== null && !targets.some((name) => ids[name].has(target))) return `${table}[${i}].${property}: there is no row "${target}".`
    }
  }
  const slots = new Set<string>()
  for (const [i, { stationId, slot }] of rows.modules.entries()) {
    const key = `${stationId}/${slot}`
    if (slots.has(key)) return `modules[${i}].slot: slot ${slot} of station "${stationId}" is taken twice.`
    slots.add(key)
  }
  const places = new Set<string>()
  for (const [i, { place }] of rows.signals.entries()) {
    if (!place) continue
    const key = `${place.moduleId}/${place.subslot}/${place.direction}/${place.offsetBits}`
    if (places.has(key)) return `signals[${i}].place: that channel carries two signals.`
    places.add(key)
  }
  return null
}
