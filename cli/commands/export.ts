import { writeFileSync } from 'node:fs'
import {
  CannotExport,
  check,
  derive,
  exportFormats,
  exportOptions,
  oneOr,
  usualOptions,
  wordIssue,
  writeExport,
  type ExportFormat,
  type ExportInput,
  type ExportName,
  type ExportOptions,
} from '@kataxis/core'
import { CannotDo } from '../cannot-do'
import { catalogOf, loadPlan } from '../files'
import { print, tell } from '../print'

interface Options {
  readonly as?: string
  readonly out?: string
  readonly files: string[]
  readonly option: string[]
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
  const { plan, revision, at, names, files } = loadPlan(path, options.files)
  const derived = derive(plan, catalogOf(files, plan))
  const { blockers } = check(derived)
  const loadFile = (hash: string) =>
    Promise.resolve(files.find(({ sha256 }) => sha256 === hash)?.bytes ?? null)
  const draw: ExportInput['draw'] = async (...wanted) =>
    (await import('@kataxis/pdf')).drawDocument(...wanted)
  const input = { derived, revision, blockers, at, files: names, loadFile, draw }
  try {
    const wanted = optionsOf(options.option)
    writeFileSync(out, await writeExport(as as ExportName, { ...input, options: wanted }))
  } catch (error) {
    throw error instanceof CannotExport ? new CannotDo(error.message) : error
  }
  if (blockers > 0)
    tell(`Written to ${out} as a draft: ${oneOr(blockers, 'a blocker is', 'blockers are')} open.`)
  return blockers > 0 ? 1 : 0
}

/** `name=value`, lists with commas between. */
function optionsOf(given: readonly string[]): Partial<ExportOptions> {
  const entries = given.map((text) => {
    const at = text.indexOf('=')
    const [name, value] = [text.slice(0, at), text.slice(at + 1)]
    const usual = Object.hasOwn(usualOptions, name)
      ? usualOptions[name as keyof ExportOptions]
      : null
    if (at < 1 || usual === null)
      throw new CannotDo(
        `"${text}" is no option; there are ${Object.keys(usualOptions).join(', ')}, each with = and a value.`,
      )
    const parts = value.split(',').map((part) => part.trim())
    const list = typeof usual[0] === 'number' ? parts.map(Number) : parts
    return [name, Array.isArray(usual) ? list : value] as const
  })
  const parsed = exportOptions.safeParse(Object.fromEntries(entries))
  if (!parsed.success) throw new CannotDo(parsed.error.issues.map(wordIssue).join(' '))
  return parsed.data
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
