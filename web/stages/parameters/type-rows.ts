import {
  choicesOf,
  editFor,
  parameterGroups,
  recordsOfPlaced,
  typedValue,
  wordParameterValue,
  type Catalog,
  type Derived,
  type DerivedModule,
  type DerivedStation,
  type ParameterEdit,
  type ParameterRow,
} from '@kataxis/core'

/** A parameter as a column of the table over all modules of a type. */
export interface TypeColumn {
  /** `record/parameter`. */
  readonly key: string
  readonly heading: string
  readonly row: ParameterRow
}

/** One module of the type: its place, then the value of each column in words. */
export interface TypeRow {
  readonly id: string
  readonly station: string
  readonly slot: string
  readonly tags: string
  readonly values: Readonly<Record<string, string>>
  readonly chosen: ReadonlySet<string>
}

/** All modules (or heads) of the plan that are of the same type as this one. */
export function modulesOfType(
  { stations }: Derived,
  view: DerivedStation,
  module: DerivedModule,
): { view: DerivedStation; module: DerivedModule }[] {
  return [...stations.values()]
    .filter((other) => other.station.file === view.station.file)
    .flatMap((other) =>
      other.modules
        .filter(
          ({ row, described }) =>
            described === module.described && (row === null) === (module.row === null),
        )
        .map((one) => ({ view: other, module: one })),
    )
}

export function typeColumns(
  catalog: Catalog,
  view: DerivedStation,
  module: DerivedModule,
  text: string,
): TypeColumn[] {
  if (!module.described) return []
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  return parameterGroups(
    recordsOfPlaced(catalog, view.station.file, module.described, module.plugged),
    {},
  )
    .flatMap(({ heading, rows }) =>
      rows
        .filter(({ isFixed }) => !isFixed)
        .map((row) => ({
          key: row.key,
          heading: `${heading.at(-1) ?? ''} · ${row.parameter.name || row.parameter.key}`,
          row,
        })),
    )
    .filter(({ heading }) => words.every((word) => heading.toLowerCase().includes(word)))
}

export function typeRows(
  modules: readonly { view: DerivedStation; module: DerivedModule }[],
  columns: readonly TypeColumn[],
): TypeRow[] {
  return modules.map(({ view, module }) => {
    const { values } = choicesOf(view, module)
    const chosen = new Set<string>()
    const words: Record<string, string> = {}
    for (const {
      key,
      row: { placed, parameter },
    } of columns) {
      const value = values[placed.key]?.[parameter.key]
      if (value !== undefined) chosen.add(key)
      words[key] = wordParameterValue(parameter, value ?? parameter.default)
    }
    return {
      id: module.id,
      station: view.station.name,
      slot: module.row ? String(module.slot) : 'head',
      tags: [...module.signals.values()]
        .map(({ tag }) => tag)
        .filter(Boolean)
        .slice(0, 3)
        .join(' '),
      values: words,
      chosen,
    }
  })
}

/** The edit that a typed or pasted text means; an empty text: as the description says. Or why it
 *  means none. */
export function editOf(
  moduleId: string,
  { row: { placed, parameter } }: TypeColumn,
  text: string,
): ParameterEdit | string {
  const written = text.trim()
  const about = { moduleId, record: placed.key, parameter: parameter.key }
  if (written === '') return { ...about, value: null }
  if (parameter.kind === 'text' || parameter.kind === 'octets') return { ...about, value: text }
  const named = Object.entries(parameter.texts).find(
    ([value, words]) => words.toLowerCase() === written.toLowerCase() || value === written,
  )
  if (named) return { ...about, value: Number(named[0]) }
  const value = typedValue(parameter, written)
  return typeof value === 'number'
    ? { ...about, value }
    : editFor(
        moduleId,
        {
          meaning: 'range',
          placed,
          parameter,
          value: parameter.default,
          words: '',
          isOfModule: false,
        },
        written,
      )
}
