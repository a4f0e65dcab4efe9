import { derive, imageList, notations, type NotationName } from '@kataxis/core'
import { CannotDo } from '../cannot-do'
import { catalogOf, loadPlan } from '../files'
import { print } from '../print'

export function image(path: string, options: { files: string[]; notation: string }): number {
  if (!Object.hasOwn(notations, options.notation))
    throw new CannotDo(
      `There is no notation "${options.notation}"; there are ${Object.keys(notations).join(', ')}.`,
    )
  const { plan, files } = loadPlan(path, options.files)
  print({
    contract: 1,
    controllers: imageList(derive(plan, catalogOf(files, plan)), options.notation as NotationName),
  })
  return 0
}
