import Papa from 'papaparse'
import { guarded } from './cell-text'

/** A row of a table that was copied out of a data sheet, a tool or a spreadsheet. */
export interface PastedRow<C extends string> {
  /** Counted from 1. */
  readonly line: number
  /** What stands in a column; empty where the table has none such. */
  readonly cell: (column: C) => string
}

export interface PastedFault {
  readonly line: number
  readonly sentence: string
}

/** Rows with something in them. Columns are known by their headings, in any order; where the first
 *  row names none they stand as `usual` has them. `names` says whether what was recognised is a row
 *  of headings. Separated by tabs, semicolons or commas. */
export function pastedRows<C extends string>(
  text: string,
  headings: Readonly<Record<C, RegExp>>,
  usual: readonly C[],
  names: (found: readonly (C | null)[]) => boolean = (found) => found.some((one) => one !== null),
): PastedRow<C>[] {
  const whole = text.replace(/^\ufeff/, '')
  const [first = ''] = whole.trimStart().split(/\r?\n/, 1)
  const delimiter = ['\t', ';', ','].find((separator) => first.includes(separator)) ?? '\t'
  const rows = Papa.parse<string[]>(whole, { delimiter })
    .data.map((cells, i) => ({
      line: i + 1,
      cells: cells.map((cell) => cell.replace(guarded, '').trim()),
    }))
    .filter(({ cells }) => cells.some((cell) => cell !== ''))
  const columns = Object.keys(headings) as C[]
  const found = rows[0]?.cells.map(
    (cell) => columns.find((column) => headings[column].test(cell)) ?? null,
  )
  const named = found && names(found) ? found : null
  const order: readonly (C | null)[] = named ?? usual
  return (named ? rows.slice(1) : rows).map(({ line, cells }) => ({
    line,
    cell: (column) => cells[order.indexOf(column)] ?? '',
  }))
}
