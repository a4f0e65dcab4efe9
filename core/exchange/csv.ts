import Papa from 'papaparse'
import { encodeText, encoderOf } from './encode-text'
import { shownColumns, type IoRow } from './io-list'
import { usualOptions, type ExportOptions } from './options'
import type { SheetTable } from './xlsx'

/** What a spreadsheet would take for a formula, on however many lines. */
const formula = /^[=+\-@\t\r]/
/** What has to be quoted (RFC 4180, 2.6), and what programs that separate otherwise would take for
 *  a separator. */
const special = /[",;\t\r\n]|^\s|\s$/
const options = {
  escapeFormulae: formula,
  quotes: (cell: unknown) => special.test(String(cell)),
}

/** Most cells are empty or plain, and stand as they are; the package writes the others. */
function wordOf(cell: string | number | null | undefined): string | number {
  if (cell === undefined || cell === null || cell === '') return ''
  return typeof cell === 'string' && (special.test(cell) || formula.test(cell))
    ? Papa.unparse([[cell]], options)
    : cell
}

/** The I/O list, RFC 4180; commas and UTF-8 with byte order mark, so that office programs see the
 *  umlauts, where nothing else is asked for. Cells that a spreadsheet would take for a formula get
 *  an apostrophe in front. */
export function writeCsv(
  rows: Iterable<IoRow>,
  { columns, separator, encoding }: ExportOptions = usualOptions,
): Uint8Array {
  const shown = shownColumns(columns)
  const [first, ...others] = shown.map(({ key }) => key) as [keyof IoRow, ...(keyof IoRow)[]]
  const file = encoderOf(encoding)
  file.add(`${shown.map(({ heading }) => wordOf(heading)).join(separator)}\r\n`)
  for (const row of rows) {
    let line = `${wordOf(row[first])}`
    for (const key of others) line += `${separator}${wordOf(row[key])}`
    file.add(`${line}\r\n`)
  }
  return file.finish()
}

/** Any table in the same way. */
export function writeTableCsv(
  { columns, rows }: Pick<SheetTable, 'columns' | 'rows'>,
  { separator, encoding }: ExportOptions = usualOptions,
): Uint8Array {
  const lines = [columns.map(([heading]) => heading), ...rows].map((cells) =>
    cells.map(wordOf).join(separator),
  )
  return encodeText(`${lines.join('\r\n')}\r\n`, encoding)
}
