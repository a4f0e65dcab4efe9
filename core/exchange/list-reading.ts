import { numbered, plural } from '../vocabulary/plural'
import Papa from 'papaparse'
import { decodeText } from '../device-files/decode-text'
import type { Derived } from '../derive/derive'
import { guarded } from './cell-text'
import { ioList } from './io-list'
import type { ListTable } from './list-table'
import { ioTable } from './xlsx'
import { readXmlList } from './xml-list'

const mostRows = 100_000
const mostColumns = 200

/** Reads a list out of a workbook (ECMA-376) or a text with any separator and encoding (RFC 4180);
 *  a sentence where it cannot. */
export async function readList(
  bytes: Uint8Array,
  fileName: string,
): Promise<readonly ListTable[] | string> {
  if (bytes.length === 0) return `${fileName} is empty.`
  const isWorkbook = bytes[0] === 0x50 && bytes[1] === 0x4b
  if (bytes[0] === 0xd0 && bytes[1] === 0xcf)
    return `${fileName} is a workbook in the format before 2007; save it as XLSX or CSV.`
  const tables = isWorkbook ? await readWorkbook(bytes, fileName) : readText(bytes, fileName)
  if (typeof tables === 'string') return tables
  const large = tables.find(({ rows }) => rows.length > mostRows)
  if (large)
    return `${large.name} has ${large.rows.length} rows; ${mostRows} are taken at once. Split the list.`
  const filled = tables.filter(({ rows }) => rows.length > 0)
  return filled.length > 0 ? filled : `${fileName} has no row under a heading.`
}

function readText(bytes: Uint8Array, fileName: string): ListTable[] | string {
  const decoded = decodeText(bytes)
  if ('problem' in decoded) return decoded.problem.message
  if (decoded.text.includes('\0')) return `${fileName} is neither a workbook nor a text.`
  const text = decoded.text.replace(/^\ufeff/, '')
  if (/^\s*</.test(text)) {
    const table = readXmlList(text, fileName)
    return typeof table === 'string' ? table : [table]
  }
  const { data, errors } = Papa.parse<string[]>(text, { delimiter: separatorOf(text) })
  const broken = errors.find(({ type }) => type === 'Quotes')
  if (broken)
    return `Row ${(broken.row ?? 0) + 1} of ${fileName} has a quotation mark that is not closed or stands in the middle: ${broken.message}.`
  return [
    tableOf(
      fileName,
      data.map((cells, i) => ({ line: i + 1, cells })),
      [],
    ),
  ]
}

const separators = [',', ';', '\t', '|'] as const

/** The separator by which most of the first rows have the same number of fields, more than one. */
function separatorOf(text: string): string {
  const scores = separators.map((delimiter) => {
    const counts = new Map<number, number>()
    for (const { length } of Papa.parse<string[]>(text, {
      delimiter,
      preview: 60,
      skipEmptyLines: 'greedy',
    }).data)
      if (length > 1) counts.set(length, (counts.get(length) ?? 0) + 1)
    return Math.max(0, ...[...counts].map(([fields, rows]) => rows * 1000 + fields))
  })
  return separators[scores.indexOf(Math.max(...scores))]!
}

async function readWorkbook(bytes: Uint8Array, fileName: string): Promise<ListTable[] | string> {
  const { default: ExcelJS } = await import('exceljs')
  const workbook = new ExcelJS.Workbook()
  try {
    await workbook.xlsx.load(bytes as never)
  } catch {
    return `${fileName} is no workbook that can be read; save it anew as XLSX, or as CSV.`
  }
  return workbook.worksheets.map((sheet) => {
    let [formulas, merged] = [0, 0]
    const rows: { line: number; cells: string[] }[] = []
    sheet.eachRow({ includeEmpty: false }, (row, line) => {
      const cells: string[] = []
      row.eachCell({ includeEmpty: true }, (cell, column) => {
        if (column > mostColumns) return
        // Only the first of merged cells holds the text; the others repeat it.
        const repeats = cell.isMerged && cell.master !== cell
        if (cell.isMerged && !repeats) merged++
        if (cell.type === ExcelJS.ValueType.Formula) formulas++
        cells[column - 1] = repeats ? '' : textOf(cell)
      })
      rows.push({ line, cells: Array.from(cells, (text) => text ?? '') })
    })
    const notes = [
      ...(merged > 0
        ? [
            `${merged} merged ${plural(merged, 'cell counts', 'cells count')} for its first row and column only.`,
          ]
        : []),
      ...(formulas > 0
        ? [
            `${numbered(formulas, 'formula was', 'formulas were')} read as the value that was saved with it.`,
          ]
        : []),
    ]
    return tableOf(sheet.name, rows, notes)
  })
}

/** A cell as it is shown, dates as ISO 8601. */
function textOf(cell: { readonly text: unknown; readonly value: unknown }): string {
  const value =
    typeof cell.value === 'object' && cell.value !== null && 'result' in cell.value
      ? cell.value.result
      : cell.value
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return value.toISOString().slice(0, 10)
  if (typeof value === 'object') return 'error' in value ? '' : String(cell.text ?? '')
  return String(value)
}

/** One column is a list of names, with or without a heading. */
function namesAlone(name: string, rows: ListTable['rows'], notes: readonly string[]): ListTable {
  const names = rows.map(({ line, cells }) => ({
    line,
    cells: cells.filter((text) => text !== ''),
  }))
  const [heading] = names
  return heading && /^(tag|tag ?name|signal|name|symbol|alias)s?$/i.test(heading.cells[0]!)
    ? { name, headings: heading.cells, rows: names.slice(1), notes }
    : { name, headings: names.length > 0 ? ['Tag'] : [], rows: names, notes }
}

/** The first row with two texts at least holds the headings. */
function tableOf(
  name: string,
  all: readonly { line: number; cells: readonly string[] }[],
  notes: readonly string[],
): ListTable {
  const clean = all
    .map(({ line, cells }) => ({
      line,
      cells: cells.slice(0, mostColumns).map((text) => text.replace(guarded, '').trim()),
    }))
    .filter(({ cells }) => cells.some((text) => text !== ''))
  const first = clean.findIndex(({ cells }) => cells.filter((text) => text !== '').length >= 2)
  if (first < 0) return namesAlone(name, clean, notes)
  const headings = clean[first]!.cells
  const twice = [
    ...new Set(headings.filter((heading, i) => heading !== '' && headings.indexOf(heading) !== i)),
  ]
  return {
    name,
    headings,
    rows: clean.slice(first + 1),
    notes: [
      ...notes,
      ...twice.map(
        (heading) =>
          `The heading "${heading}" stands more than once; each of its columns can be used for something else.`,
      ),
    ],
  }
}

/** The signals of another plan as a list, to be compared with this one. */
export function projectList(other: Derived, fileName: string): ListTable {
  const { name, columns, rows } = ioTable(ioList(other))
  return {
    name: `${fileName}, ${name}`,
    headings: columns.map(([heading]) => heading),
    rows: rows.map((cells, i) => ({
      line: i + 1,
      cells: cells.map((cell) => (cell === null ? '' : String(cell))),
    })),
    notes: [],
  }
}
