import type { MenuPlace, Parameter } from '../catalog/model'
import type { ParameterChoices } from '../plan/model'
import { computedFParameters } from './f-parameters'
import { menuPath, shownNow } from './menus'
import type { PlacedRecord } from './placed'
import { faultOf } from './record'
import { withLinks } from './words'

/** A parameter as it stands in the plan. */
export interface ParameterRow {
  readonly key: string
  readonly placed: PlacedRecord
  readonly parameter: Parameter
  readonly value: number | string
  /** Whether somebody chose the value, other than the description's. */
  readonly isChosen: boolean
  /** The description leaves no choice. */
  readonly isFixed: boolean
  /** Where the menus show it with the values as they are; null where they do not, or show it
   *  nowhere. */
  readonly menu: MenuPlace | null
  /** Chosen, but the menus do not show it with the other values as they are: why. */
  readonly hidden: string | null
  /** Why the value is not sent. */
  readonly fault: string | null
}

/** Parameters under one heading: of one record, and of one menu in it. */
export interface ParameterGroup {
  readonly key: string
  readonly heading: readonly string[]
  readonly rows: readonly ParameterRow[]
}

/** Parameters as somebody looks at them: by owner and menu, in the order of the description's
 *  menus; what menus never show stands under its record's name. What the description hides, what
 *  its menus do not show with the values as they are, and check sums that follow from the rest, are
 *  left out; a chosen value that menus do not show stays in sight. */
export function parameterGroups(
  records: readonly PlacedRecord[],
  values: ParameterChoices,
): ParameterGroup[] {
  const owners = [...new Set(records.map(({ owner }) => owner))]
  return owners.flatMap((owner) => {
    const rows = inMenuOrder(
      rowsOfOwner(
        records.filter((placed) => placed.owner === owner),
        values,
      ),
    )
    const groups = new Map<
      string,
      { key: string; heading: readonly string[]; rows: ParameterRow[] }
    >()
    for (const row of rows) {
      const path = row.menu?.path ?? menuPath(row.parameter)
      const heading = [
        ...(owners.length > 1 ? [owner] : []),
        ...(path.length > 0 ? path : [nameOfRecord(row.placed)]),
      ]
      const key = heading.join('/')
      const group = groups.get(key)
      if (group) group.rows.push(row)
      else groups.set(key, { key, heading, rows: [row] })
    }
    return [...groups.values()]
  })
}

function rowsOfOwner(records: readonly PlacedRecord[], values: ParameterChoices): ParameterRow[][] {
  const shown = shownNow(records, values)
  const valueOf = valuesByKey(records, values)
  return records.map((placed) =>
    placed.record.parameters.flatMap((described): ParameterRow[] => {
      const parameter = withLinks(described, valueOf)
      const value = values[placed.key]?.[parameter.key]
      const isChosen = value !== undefined
      const { menu, hidden } = shown(parameter)
      if (
        !parameter.visible ||
        (placed.isFailSafe && computedFParameters.has(parameter.key)) ||
        (hidden !== null && !isChosen)
      )
        return []
      return [
        {
          key: `${placed.key}/${parameter.key}`,
          placed,
          parameter,
          menu,
          hidden,
          value: value ?? parameter.default,
          isChosen,
          isFixed: !parameter.changeable || (!isChosen && allowsOnly(parameter)),
          fault: isChosen ? (faultOf(parameter, value)?.message ?? null) : null,
        },
      ]
    }),
  )
}

/** Values of parameters by their keys, looked for only where something links to one. */
function valuesByKey(
  records: readonly PlacedRecord[],
  values: ParameterChoices,
): (key: string) => number | string | undefined {
  let known: Map<string, number | string> | null = null
  return (wanted) => {
    known ??= new Map(
      records.flatMap(({ key, record }) =>
        record.parameters.map((one) => [one.key, values[key]?.[one.key] ?? one.default] as const),
      ),
    )
    return known.get(wanted)
  }
}

/** Menus of a whole device rank all its parameters; menus of single records only those within. */
function inMenuOrder(records: readonly ParameterRow[][]): ParameterRow[] {
  const byRank = (rows: ParameterRow[]) => rows.sort((a, b) => rankOf(a) - rankOf(b))
  const ranks = records
    .map((rows) => rows.flatMap(({ menu }) => (menu ? [menu.rank] : [])))
    .filter((own) => own.length > 0)
  const isOfDevice = ranks.length > 1 && new Set(ranks.flat()).size === ranks.flat().length
  return isOfDevice ? byRank(records.flat()) : records.flatMap(byRank)
}

function rankOf({ menu, parameter }: ParameterRow): number {
  return (menu ?? parameter.menus?.[0])?.rank ?? Number.MAX_SAFE_INTEGER
}

function allowsOnly({ allowed, default: standard }: Parameter): boolean {
  return allowed.length === 1 && allowed[0]![0] === allowed[0]![1] && allowed[0]![0] === standard
}

function nameOfRecord({ record, isFailSafe }: PlacedRecord): string {
  if (isFailSafe) return 'F parameters'
  if (record.name) return record.name
  return record.index === null ? 'Parameter bytes' : `Record ${record.index}`
}
