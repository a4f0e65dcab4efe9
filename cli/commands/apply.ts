import { readFileSync, writeFileSync } from 'node:fs'
import { newPlan, runCommandScript, writeProjectFile } from '@kataxis/core'
import { catalogOf, loadFolder, loadPlan, readBytes } from '../files'
import { tell } from '../print'

export function apply(
  path: string,
  commands: string,
  options: { files: string[]; out: string },
): number {
  const base =
    path === 'new'
      ? { plan: newPlan('project', 'New project'), revision: 0, names: [], files: [] }
      : loadPlan(path)
  const files = [
    ...base.files,
    ...(options.files.length > 0 ? options.files : ['.']).flatMap(loadFolder),
  ]
  readBytes(commands)
  const script = readFileSync(commands, 'utf8')
  const result = runCommandScript(base.plan, catalogOf(files), files, script)
  if ('fault' in result) {
    tell(`Line ${result.line}: ${result.fault}`)
    return 1
  }
  const revision = base.revision + script.split('\n').filter((line) => line.trim() !== '').length
  writeFileSync(options.out, writeProjectFile(result.plan, revision, [...base.names, ...files]))
  return 0
}
