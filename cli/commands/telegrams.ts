import { derive, telegramList } from '@kataxis/core'
import { catalogOf, loadPlan } from '../files'
import { print } from '../print'

export function telegrams(path: string, options: { files: string[] }): number {
  const { plan, files } = loadPlan(path, options.files)
  print({ contract: 1, networks: telegramList(derive(plan, catalogOf(files, plan))) })
  return 0
}
