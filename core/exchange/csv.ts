import Papa from 'papaparse'
import { ioColumns, type IoRow } from './io-list'

/** RFC 4180, comma, UTF-8 with byte order mark so that office programs see the umlauts. Cells that a spreadsheet would
 *  take for a formula get an apostrophe in front. */
export function writeCsv(rows: readonly IoRow[]): Uint8Array {
  const text = Papa.unparse(
    { fields: ioColumns.map(({ heading }) => heading), data: rows.map((row) => ioColumns.map(({ key }) => row[key] ?? '')) },
    { newline: '\r\n', escapeFormulae: true },
  )
  return new TextEncoder().encode(`\ufeff${text}\r\n`)
}
