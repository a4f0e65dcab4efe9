import { writeFileSync } from 'node:fs'
import { check, derive, exportFormats, oneOr, writeExport, type ExportName } from '@kataxis/core'
import { CannotDo } from '../cannot-do'
import { catalogOf, loadPlan } from '../files'
import { tell } from '../print'

export async function exportPlan(
  path: string,
  options: { as: string; out: string; files: string[] },
): Promise<number> {
  if (!Object.hasOwn(exportFormats, options.as))
    throw new CannotDo(
      `There is no export "${options.as}"; there are ${Object.keys(exportFormats).join(', ')}.`,
    )
  const { plan, revision, names, files } = loadPlan(path, options.files)
  const derived = derive(plan, catalogOf(files, plan))
  const { blockers } = check(derived)
  const loadFile = (hash: string) =>
    Promise.resolve(files.find(({ sha256 }) => sha256 === hash)?.bytes ?? null)
  writeFileSync(
    options.out,
    await writeExport(options.as as ExportName, {
      derived,
      revision,
      blockers,
      files: names,
      loadFile,
    }),
  )
  if (blockers > 0)
    tell(
      `Written to ${options.out} as a draft: ${oneOr(blockers, 'a blocker is', 'blockers are')} open.`,
    )
  return blockers > 0 ? 1 : 0
}
