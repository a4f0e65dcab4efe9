import { writeFileSync } from 'node:fs'
import { basename } from 'node:path'
import {
  applyCommand,
  compareList,
  derive,
  guessMapping,
  isZip,
  projectList,
  projectTextOf,
  readList,
  readProjectFile,
  takeList,
  wordRefusal,
  writeArchive,
  writeProjectFile,
  type Derived,
  type ListDifference,
  type ListTable,
} from '@kataxis/core'
import { CannotDo } from '../cannot-do'
import { catalogOf, loadPlan, readBytes } from '../files'
import { print, tell } from '../print'

interface Options {
  readonly into: string
  readonly out?: string
  readonly dryRun?: boolean
  readonly keep?: boolean
  readonly files: string[]
}

/** Takes the signals of a list, of variables, of a CAEX file or of a project over into a plan. */
export async function importFile(path: string, options: Options): Promise<number> {
  if (options.out === undefined && !options.dryRun)
    throw new CannotDo('--out FILE is needed, or --dry-run.')
  const { plan, revision, names, files } = loadPlan(options.into, options.files)
  const catalog = catalogOf(files, plan)
  const derived = derive(plan, catalog)
  const { headings, ...table } = await tableOf(path, derived)
  const mapping = guessMapping(headings)
  if (!mapping.some((field) => field !== null))
    throw new CannotDo(
      `${basename(path)}: none of its headings is known: ${headings.slice(0, 12).join(', ')}.`,
    )
  const { differences } = compareList(derived, { headings, ...table }, mapping)
  const taken = differences.filter(({ kind }) => !(options.keep && kind === 'removed'))
  const commands = takeList(taken)
  const result =
    commands.length === 0
      ? { ok: true as const, plan }
      : applyCommand(plan, catalog, {
          type: 'batch',
          label: `Import ${basename(path)}`.slice(0, 200),
          commands,
        })
  if (!result.ok) throw new CannotDo(`${basename(path)}: ${wordRefusal(result.refusal)}`)
  if (!options.dryRun) {
    const text = writeProjectFile(result.plan, revision + Number(commands.length > 0), names)
    const isArchive = isZip(readBytes(options.into)) && options.out!.toLowerCase().endsWith('.zip')
    writeFileSync(options.out!, isArchive ? writeArchive(text, files) : text)
  }
  const of = (kind: ListDifference['kind']) => taken.filter((one) => one.kind === kind)
  print({
    contract: 1,
    added: of('added').map(entryOf),
    changed: of('changed').map(entryOf),
    removed: of('removed').map(entryOf),
    unclear: of('ambiguous').map((one) => ({ at: placeOf(one), why: one.note })),
  })
  for (const note of table.notes) tell(note)
  return of('ambiguous').length > 0 ? 1 : 0
}

const placeOf = ({ line, where }: ListDifference) =>
  [line === null ? '' : `row ${line}`, where].filter(Boolean).join(', ')

function entryOf(difference: ListDifference) {
  const { tag, changes, note } = difference
  const words = changes.map(({ field, before, after }) =>
    before === '' ? `${field} ${after}` : `${field} ${before} → ${after}`,
  )
  return {
    at: placeOf(difference),
    tag,
    what: [...words, ...(note === '' ? [] : [note])].join('; ') || tag,
  }
}

/** A list from any of the files that come back; the signals of a project with the description files
 *  of the plan they go into. */
async function tableOf(path: string, { catalog }: Derived): Promise<ListTable> {
  const bytes = readBytes(path)
  const name = basename(path)
  const text = projectTextOf(bytes)
  if (text !== null) {
    const read = readProjectFile(text)
    if ('fault' in read) throw new CannotDo(`${name}: ${read.fault}`)
    return projectList(derive(read.plan, catalog), name)
  }
  const tables = await readList(bytes, name)
  if (typeof tables === 'string') throw new CannotDo(tables)
  return tables[0]!
}
