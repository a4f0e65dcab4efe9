import Papa from 'papaparse'
import { ioColumns, type IoRow } from './io-list'

/** What a spreadsheet would take for a formula, on however many lines. */
const formula = /^[=+\-@\t\r]/
/** What has to be quoted (RFC 4180, 2.6), and what programs that separate otherwise would take for
 *  a separator. */
const special = /[",;\t\r\n]|^\s|\s$/

/** RFC 4180, comma, UTF-8 with byte order mark so that office programs see the umlauts. Cells that
 *  a spreadsheet would take for a formula get an apostrophe in front. */
export function writeCsv(rows: readonly IoRow[]): Uint8Array {
  const text = Papa.unparse(
    {
      fields: ioColumns.map(({ heading }) => heading),
      data: rows.map((row) => ioColumns.map(({ key }) => row[key] ?? '')),
    },
    {
      newline: '\r\n',
      escapeFormulae: formula,
      quotes: (cell: unknown) => special.test(String(cell)),
    },
  )
  return new TextEncoder().encode(`\ufeff${text}\r\n`)
}
