import Papa from 'papaparse'
import { ioColumns, type IoRow } from './io-list'
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

/** RFC 4180, comma, UTF-8 with byte order mark so that office programs see the umlauts. Cells that
 *  a spreadsheet would take for a formula get an apostrophe in front. */
export function writeCsv(rows: Iterable<IoRow>): Uint8Array {
  const [first, ...others] = ioColumns.map(({ key }) => key) as [keyof IoRow, ...(keyof IoRow)[]]
  let text = `\ufeff${ioColumns.map(({ heading }) => wordOf(heading)).join(',')}\r\n`
  for (const row of rows) {
    text += wordOf(row[first])
    for (const key of others) text += `,${wordOf(row[key])}`
    text += '\r\n'
  }
  return new TextEncoder().encode(text)
}

/** Any table in the same way. */
export function writeTableCsv({ columns, rows }: Pick<SheetTable, 'columns' | 'rows'>): Uint8Array {
  const lines = [columns.map(([heading]) => heading), ...rows].map((cells) =>
    cells.map(wordOf).join(','),
  )
  return new TextEncoder().encode(`\ufeff${lines.join('\r\n')}\r\n`)
}
