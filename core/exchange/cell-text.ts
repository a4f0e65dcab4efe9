import Papa from 'papaparse'

/** Cells as office spreadsheets put them on the clipboard (common practice): a line a row, tabs
 *  between cells, quotation marks around what has line breaks or tabs inside. Rows of texts; no
 *  error, a text that is no table is one column. */
export function readCells(text: string): string[][] {
  const whole = text.replace(/(\r\n|\n|\r)$/, '')
  const { data, errors } = Papa.parse<string[]>(whole, { delimiter: '\t' })
  // A quotation mark that stands for itself, such as an inch: nothing was quoted.
  const rows = errors.some(({ type }) => type === 'Quotes')
    ? whole.split(/\r\n|\n|\r/).map((line) => line.split('\t'))
    : data
  return rows.length === 0
    ? [['']]
    : rows.map((cells) => cells.map((cell) => cell.replace(/\r\n?/g, '\n').replace(guarded, '')))
}

/** What a spreadsheet would take for a formula; a number with its sign is none. */
const formula = /^(?![+-]?\d+([.,]\d+)?$)[=+\-@\t\r]/

/** The same back. What a spreadsheet would take for a formula gets an apostrophe in front. */
export function writeCells(rows: readonly (readonly string[])[]): string {
  return `${Papa.unparse(rows as string[][], { delimiter: '\t', newline: '\n', escapeFormulae: formula })}\n`
}

/** The apostrophe in front of what a spreadsheet would take for a formula is not part of the
 *  text. */
export const guarded = /^'(?=[=+\-@\t\r])/
