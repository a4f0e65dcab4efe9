import { applyCommand } from '../changing/apply'
import { emptyPlan } from '../plan/changes'
import { command } from '../plan/commands'
import type { Catalog } from '../catalog/catalog'
import { catalogFor } from '../catalog/plan-catalog'
import { projectRow, type Plan } from '../plan/model'
import { wordRefusal } from '../plan/refusals'
import type { FileName } from './project-file'
import { wordIssue } from '../vocabulary/schema-words'

/** Runs commands, one JSON object a line, as the interface would; stops at the first refused one
 *  and names its line. Description files may be named by file name instead of by hash. */
export function runCommandScript(
  plan: Plan,
  catalog: Catalog,
  files: readonly FileName[],
  script: string,
): { plan: Plan } | { fault: string; line: number } {
  const hashOf = new Map(files.map(({ name, sha256 }) => [name, sha256]))
  let current = plan
  for (const [i, text] of script.split(/\r?\n/).entries()) {
    if (text.trim() === '') continue
    const line = i + 1
    let json: unknown
    try {
      json = JSON.parse(text)
    } catch (error) {
      return { line, fault: `it is not JSON (${(error as Error).message}).` }
    }
    const parsed = command.safeParse(withHashes(json, hashOf))
    if (!parsed.success)
      return { line, fault: parsed.error.issues.slice(0, 3).map(wordIssue).join(' ') }
    const applied = applyCommand(current, catalogFor(current.project, catalog), parsed.data)
    if (!applied.ok) return { line, fault: wordRefusal(applied.refusal) }
    current = applied.plan
  }
  return { plan: current }
}

function withHashes(json: unknown, hashOf: ReadonlyMap<string, string>): unknown {
  if (typeof json !== 'object' || json === null) return json
  const { file, layout, commands, set } = json as {
    file?: unknown
    layout?: { file?: unknown } | string | null
    commands?: unknown
    set?: { supplements?: unknown }
  }
  const hashed = (name: unknown) => (typeof name === 'string' ? (hashOf.get(name) ?? name) : name)
  return {
    ...json,
    ...(file === undefined ? {} : { file: hashed(file) }),
    ...(typeof layout === 'object' && layout !== null
      ? { layout: { ...layout, file: hashed(layout.file) } }
      : {}),
    ...(Array.isArray(set?.supplements)
      ? { set: { ...set, supplements: set.supplements.map(hashed) } }
      : {}),
    ...(Array.isArray(commands)
      ? { commands: commands.map((inner) => withHashes(inner, hashOf)) }
      : {}),
  }
}

export function newPlan(id: string, name: string): Plan {
  return emptyPlan(projectRow.parse({ id, name, tagLength: 32 }))
}
