import { check as checkPlan, derive } from '@kataxis/core'
import { catalogOf, loadPlan } from '../files'
import { print } from '../print'

export function check(path: string, options: { files: string[] }): number {
  const { plan, files } = loadPlan(path, options.files)
  const { all, blockers, warnings, notes } = checkPlan(derive(plan, catalogOf(files, plan)))
  print({
    contract: 1,
    blockers,
    warnings,
    notes,
    findings: all.map(({ facts: _facts, ...finding }) => ({ ...finding, fixes: finding.fixes() })),
  })
  return blockers > 0 ? 1 : 0
}
