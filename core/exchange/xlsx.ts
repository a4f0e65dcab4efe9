import { unzipSync, zipSync } from 'fflate'
import { ioColumns, type IoRow } from './io-list'

export interface ExportFacts {
  readonly project: string
  readonly revision: number
  readonly blockers: number
  /** Of all that is fail-safe in the plan; null where nothing is. */
  readonly safetySignature: string | null
}

/** Every file of one plan is the same to the byte; so the times inside are fixed. */
const fixedTime = new Date('2000-01-01T00:00:00Z')

/** One sheet of a workbook: columns with their headings and widths, and rows of cells. */
export interface SheetTable {
  readonly name: string
  readonly columns: readonly (readonly [heading: string, width: number])[]
  readonly rows: readonly (readonly (string | number | null)[])[]
}

/** The I/O list as a table. */
export function ioTable(rows: readonly IoRow[]): SheetTable {
  return {
    name: 'IO list',
    columns: ioColumns.map(({ heading, width }) => [heading, width]),
    rows: rows.map((row) => ioColumns.map(({ key }) => row[key] ?? null)),
  }
}

/** Tables as an Office Open XML workbook (ECMA-376), and a sheet that says which plan they are
 *  of. */
export async function writeXlsx(
  tables: readonly SheetTable[],
  facts: ExportFacts,
): Promise<Uint8Array> {
  const { default: ExcelJS } = await import('exceljs')
  const workbook = new ExcelJS.Workbook()
  workbook.creator = 'Kataxis'
  workbook.created = workbook.modified = fixedTime

  for (const { name, columns, rows } of tables) {
    const sheet = workbook.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] })
    sheet.columns = columns.map(([header, width]) => ({ header, width }))
    sheet.getRow(1).font = { bold: true }
    sheet.addRows(rows as (string | number | null)[][])
    sheet.autoFilter = {
      from: { row: 1, column: 1 },
      to: { row: rows.length + 1, column: columns.length },
    }
  }

  const plan = workbook.addWorksheet('Plan')
  plan.addRows([
    ['Project', facts.project],
    ['Revision', facts.revision],
    ['State', facts.blockers > 0 ? `DRAFT: ${facts.blockers} blockers open` : 'no blockers'],
    ...(facts.safetySignature === null
      ? []
      : [['Fail-safe', `signature ${facts.safetySignature}`]]),
  ])
  plan.getColumn(1).width = 12
  plan.getColumn(2).width = 40
  return withFixedTimes(new Uint8Array(await workbook.xlsx.writeBuffer()))
}

function withFixedTimes(archive: Uint8Array): Uint8Array {
  const entries = Object.entries(unzipSync(archive)).sort(([a], [b]) => (a < b ? -1 : 1))
  return zipSync(
    Object.fromEntries(entries.map(([name, bytes]) => [name, [bytes, { mtime: fixedTime }]])),
  )
}
