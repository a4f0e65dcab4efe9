import type { MenuPlace, Parameter, ParameterIs } from '../catalog/model'
import type { ParameterChoices } from '../plan/model'
import type { PlacedRecord } from './placed'
import { wordParameterValue } from './words'

/** The menu names of a parameter, from the outside in, where it is shown first; empty where no menu
 *  shows it. */
export function menuPath({ menus }: Pick<Parameter, 'menus'>): readonly string[] {
  return menus?.[0]?.path ?? []
}

/** Where the menus of one device show a parameter with the values as they are; or why they do
 *  not. */
export type Shown = { readonly menu: MenuPlace | null; readonly hidden: string | null }

/** Answers for the records of one owner. A condition on a parameter that is not among them is taken
 *  as met, since nobody can know it here. */
export function shownNow(
  records: readonly PlacedRecord[],
  values: ParameterChoices,
): (parameter: Parameter) => Shown {
  const standing = new Map<string, { parameter: Parameter; value: number | string }>()
  const find = (key: string) => {
    if (standing.size === 0)
      for (const placed of records)
        for (const parameter of placed.record.parameters)
          standing.set(parameter.key, {
            parameter,
            value: values[placed.key]?.[parameter.key] ?? parameter.default,
          })
    return standing.get(key)
  }
  const holds = ({ parameter, value }: ParameterIs) => {
    const found = find(parameter)
    return !found || Number(found.value) === value
  }
  return ({ menus }) => {
    if (!menus) return { menu: null, hidden: null }
    const menu = menus.find(({ when }) => !when || when.every(holds))
    if (menu) return { menu, hidden: null }
    const unmet = menus[0]!.when!.find((condition) => !holds(condition))!
    const { parameter, value } = find(unmet.parameter)!
    return {
      menu: null,
      hidden: `${parameter.name || parameter.key} is “${wordParameterValue(parameter, value)}”; it would have to be “${wordParameterValue(parameter, unmet.value)}”`,
    }
  }
}
