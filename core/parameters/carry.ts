import { findModule, type Catalog } from '../catalog/catalog'
import type { Device, Module, Parameter } from '../catalog/model'
import type { PluggedParts } from '../catalog/placed'
import type { ParameterChoices } from '../plan/model'
import { menuPath } from './menus'
import { recordsOfPlaced, type PlacedRecord } from './placed'

interface Choice {
  readonly module: string
  readonly plugged: PluggedParts
}

/** Chosen values of a module as another type takes them over: under the same record and key where
 *  those exist there, else under the same names. What fits nowhere stays under its old key, so that
 *  nothing is lost and a finding can tell it. */
export function carryValues(
  catalog: Catalog,
  fromFile: string,
  from: Choice & { readonly values: ParameterChoices },
  toFile: string,
  to: Choice,
): ParameterChoices {
  const [old, next] = [
    findModule(catalog, fromFile, from.module),
    findModule(catalog, toFile, to.module),
  ]
  return old && next
    ? carriedTo(
        recordsOfPlaced(catalog, fromFile, old, from.plugged),
        from.values,
        recordsOfPlaced(catalog, toFile, next, to.plugged),
      )
    : from.values
}

/** The same for heads. */
export function carryHeadValues(
  catalog: Catalog,
  from: Device | null,
  fromFile: string,
  values: ParameterChoices,
  fromPlugged: PluggedParts,
  to: Module | Device,
  toFile: string,
  plugged: PluggedParts,
): ParameterChoices {
  return from
    ? carriedTo(
        recordsOfPlaced(catalog, fromFile, from, fromPlugged),
        values,
        recordsOfPlaced(catalog, toFile, to, plugged),
      )
    : values
}

/** The values under the keys that `next` has for them. */
export function carriedTo(
  old: readonly PlacedRecord[],
  values: ParameterChoices,
  next: readonly PlacedRecord[],
): ParameterChoices {
  const places = new Set<string>(
    next.flatMap(({ key, record }) =>
      record.parameters.map((parameter) => `${key}/${parameter.key}`),
    ),
  )
  const byName = new Map(
    next
      .flatMap(({ key, record }) =>
        record.parameters.map(
          (parameter) => [nameOf(parameter), { record: key, parameter: parameter.key }] as const,
        ),
      )
      .reverse(),
  )
  const named = new Map<string, string>(
    old.flatMap(({ key, record }) =>
      record.parameters.map((parameter) => [`${key}/${parameter.key}`, nameOf(parameter)] as const),
    ),
  )
  const carriedOver: Record<string, Record<string, number | string>> = {}
  for (const [record, chosen] of Object.entries(values)) {
    for (const [parameter, value] of Object.entries(chosen)) {
      const place = `${record}/${parameter}`
      const name = named.get(place)
      const target = places.has(place)
        ? { record, parameter }
        : (name !== undefined && byName.get(name)) || { record, parameter }
      ;(carriedOver[target.record] ??= {})[target.parameter] = value
    }
  }
  return carriedOver
}

/** What a parameter is called, with the menus it stands in. */
function nameOf(parameter: Parameter): string {
  return [...menuPath(parameter), parameter.name].join(' › ').toLowerCase()
}
