import { writeFileSync } from 'node:fs'
import {
  check,
  derive,
  exportFormats,
  oneOr,
  writeExport,
  type ExportFormat,
  type ExportName,
} from '@kataxis/core'
import { CannotDo } from '../cannot-do'
import { catalogOf, loadPlan } from '../files'
import { print, tell } from '../print'

interface Options {
  readonly as?: string
  readonly out?: string
  readonly files: string[]
  readonly list?: boolean
}

export async function exportPlan(path: string | undefined, options: Options): Promise<number> {
  if (options.list) return listFormats()
  const { as, out } = options
  if (path === undefined || as === undefined || out === undefined)
    throw new CannotDo('A plan, --as FORMAT and --out FILE are needed, or --list.')
  if (!Object.hasOwn(exportFormats, as))
    throw new CannotDo(
      `There is no export "${as}"; there are ${Object.keys(exportFormats).join(', ')}.`,
    )
  const { plan, revision, names, files } = loadPlan(path, options.files)
  const derived = derive(plan, catalogOf(files, plan))
  const { blockers } = check(derived)
  const loadFile = (hash: string) =>
    Promise.resolve(files.find(({ sha256 }) => sha256 === hash)?.bytes ?? null)
  writeFileSync(
    out,
    await writeExport(as as ExportName, {
      derived,
      revision,
      blockers,
      files: names,
      loadFile,
    }),
  )
  if (blockers > 0)
    tell(`Written to ${out} as a draft: ${oneOr(blockers, 'a blocker is', 'blockers are')} open.`)
  return blockers > 0 ? 1 : 0
}

/** What there is to write. */
function listFormats(): number {
  const formats: [string, ExportFormat][] = Object.entries(exportFormats)
  print({
    contract: 1,
    formats: formats.map(([name, { mediaType, extension, comesBack = false }]) => ({
      ...{ name, mediaType, extension, comesBack },
    })),
  })
  return 0
}
