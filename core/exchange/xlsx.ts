import { unzipSync, zipSync } from 'fflate'
import { ioColumns, type IoRow } from './io-list'

export interface ExportFacts {
  readonly project: string
  readonly revision: number
  readonly blockers: number
}

/** Every file of one plan is the same to the byte; so the times inside are fixed. */
const fixedTime = new Date('2000-01-01T00:00:00Z')

/** The I/O list as an Office Open XML workbook (ECMA-376): the list, and a sheet that says which plan it is of. */
export async function writeXlsx(rows: readonly IoRow[], facts: ExportFacts): Promise<Uint8Array> {
  const { default: ExcelJS } = await import('exceljs')
  const workbook = new ExcelJS.Workbook()
  workbook.creator = 'Kataxis'
  workbook.created = workbook.modified = fixedTime

  const list = workbook.addWorksheet('IO list', { views: [{ state: 'frozen', ySplit: 1 }] })
  list.columns = ioColumns.map(({ key, heading, width }) => ({ key, header: heading, width }))
  list.getRow(1).font = { bold: true }
  list.addRows(rows as IoRow[])
  list.autoFilter = { from: { row: 1, column: 1 }, to: { row: rows.length + 1, column: ioColumns.length } }

  const plan = workbook.addWorksheet('Plan')
  plan.addRows([
    ['Project', facts.project],
    ['Revision', facts.revision],
    ['State', facts.blockers > 0 ? `DRAFT: ${facts.blockers} blockers open` : 'no blockers'],
  ])
  plan.getColumn(1).width = 12
  plan.getColumn(2).width = 40
  return withFixedTimes(new Uint8Array(await workbook.xlsx.writeBuffer()))
}

function withFixedTimes(archive: Uint8Array): Uint8Array {
  const entries = Object.entries(unzipSync(archive)).sort(([a], [b]) => (a < b ? -1 : 1))
  return zipSync(Object.fromEntries(entries.map(([name, bytes]) => [name, [bytes, { mtime: fixedTime }]])))
}
