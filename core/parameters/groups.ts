import type { Parameter } from '../catalog/model'
import type { ParameterChoices } from '../plan/model'
import { computedFParameters } from '../safety/f-parameters'
import type { PlacedRecord } from './placed'
import { faultOf } from './record'

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
  /** Why the value is not sent. */
  readonly fault: string | null
}

/** Parameters under one heading: of one record, and of one menu in it. */
export interface ParameterGroup {
  readonly key: string
  readonly heading: readonly string[]
  readonly rows: readonly ParameterRow[]
}

/** Parameters as somebody looks at them: by owner and menu, in the order of the description's menus; what menus do not show stands under its record's
 *  name. What the description hides, and check sums that follow from the rest, are left out. */
export function parameterGroups(records: readonly PlacedRecord[], values: ParameterChoices): ParameterGroup[] {
  const owners = [...new Set(records.map(({ owner }) => owner))]
  return owners.flatMap((owner) => {
    const rows = inMenuOrder(records.filter((placed) => placed.owner === owner).map((placed) => rowsOf(placed, values[placed.key] ?? {})))
    const groups = new Map<string, { key: string; heading: readonly string[]; rows: ParameterRow[] }>()
    for (const row of rows) {
      const path = row.parameter.menu?.path ?? []
      const heading = [...(owners.length > 1 ? [owner] : []), ...(path.length > 0 ? path : [nameOfRecord(row.placed)])]
      const key = heading.join('/')
      const group = groups.get(key)
      if (group) group.rows.push(row)
      else groups.set(key, { key, heading, rows: [row] })
    }
    return [...groups.values()]
  })
}

function rowsOf(placed: PlacedRecord, chosen: Readonly<Record<string, number | string>>): ParameterRow[] {
  return placed.record.parameters.filter(({ visible, key }) => visible && !(placed.isFailSafe && computedFParameters.has(key))).map((parameter) => {
    const value = chosen[parameter.key]
    return { key: `${placed.key}/${parameter.key}`, placed, parameter, value: value ?? parameter.default, isChosen: value !== undefined, isFixed: !parameter.changeable || (value === undefined && allowsOnly(parameter)), fault: value === undefined ? null : faultOf(parameter, value)?.message ?? null }
  })
}

/** Menus of a whole device rank all its parameters; menus of single records only those within. */
function inMenuOrder(records: readonly ParameterRow[][]): ParameterRow[] {
  const byRank = (rows: ParameterRow[]) => rows.sort((a, b) => (a.parameter.menu?.rank ?? Number.MAX_SAFE_INTEGER) - (b.parameter.menu?.rank ?? Number.MAX_SAFE_INTEGER))
  const ranks = records.map((rows) => rows.flatMap(({ parameter }) => (parameter.menu ? [parameter.menu.rank] : []))).filter((own) => own.length > 0)
  const isOfDevice = ranks.length > 1 && new Set(ranks.flat()).size === ranks.flat().length
  return isOfDevice ? byRank(records.flat()) : records.flatMap(byRank)
}

function allowsOnly({ allowed, default: standard }: Parameter): boolean {
  return allowed.length === 1 && allowed[0]![0] === allowed[0]![1] && allowed[0]![0] === standard
}

function nameOfRecord({ record, isFailSafe }: PlacedRecord): string {
  if (isFailSafe) return 'F parameters'
  if (record.name) return record.name
  return record.index === null ? 'Parameter bytes' : `Record ${record.index}`
}

/** A value as the description words it; scaled where it says how a tool shows it. */
export function wordParameterValue(parameter: Parameter, value: number | string): string {
  return parameter.texts[String(value)] ?? `${shownValue(parameter, value)}${parameter.unit ? ` ${parameter.unit}` : ''}`
}

/** A value as somebody types it: scaled where the description says how a tool shows it. */
export function shownValue({ display }: Pick<Parameter, 'display'>, value: number | string): string {
  if (!display || typeof value !== 'number') return String(value)
  const shown = value * display.factor + display.offset
  return display.decimals === null ? String(Number(shown.toPrecision(12))) : shown.toFixed(display.decimals)
}

/** What somebody typed as the value that is stored; the text itself where it is no number, so that it can be refused with its words. Decimal comma and
 *  hexadecimal are taken; a scaled whole number becomes the nearest one. */
export function typedValue({ display, kind, unit }: Pick<Parameter, 'display' | 'kind' | 'unit'>, text: string): number | string {
  if (kind === 'text' || kind === 'octets') return text
  const written = (unit && text.trim().endsWith(unit) ? text.trim().slice(0, -unit.length) : text).trim().replace(',', '.')
  if (!/^(0x[0-9a-f]+|[-+]?\d+(\.\d+)?(e[-+]?\d+)?)$/i.test(written)) return text.trim()
  if (!display) return Number(written)
  const stored = (Number(written) - display.offset) / display.factor
  return kind === 'float' ? stored : Math.round(stored)
}
