import { shownColumns, type IoRow } from './io-list'
import type { Origin } from './origin'

/** Every file of one plan is the same to the byte; so the times inside are fixed. */
const fixedTime = new Date('2000-01-01T00:00:00Z')
/** The same day as ZIP archives count: years from 1980, months and days from 1; midnight. */
const fixedDosTime = (((2000 - 1980) << 9) | (1 << 5) | 1) << 16

/** One sheet of a workbook: columns with their headings and widths, and rows of cells. */
export interface SheetTable {
  readonly name: string
  readonly columns: readonly (readonly [heading: string, width: number])[]
  readonly rows: readonly (readonly (string | number | null)[])[]
}

/** The I/O list as a table. */
export function ioTable(rows: readonly IoRow[], chosen: readonly string[] = []): SheetTable {
  const shown = shownColumns(chosen)
  return {
    name: 'IO list',
    columns: shown.map(({ heading, width }) => [heading, width]),
    rows: rows.map((row) => shown.map(({ key }) => row[key] ?? null)),
  }
}

/** How far a long export is: rows written, of how many. */
export type Progress = (done: number, of: number) => void
const rowsBetweenWords = 2000

/** Tables as an Office Open XML workbook (ECMA-376), and a sheet that says which plan they are of.
 *  Row by row, so that a long list takes no more room than it needs. */
export async function writeXlsx(
  tables: readonly SheetTable[],
  origin: Origin,
  progress?: Progress,
): Promise<Uint8Array> {
  const { default: ExcelJS } = await import('exceljs')
  const workbook = new ExcelJS.stream.xlsx.WorkbookWriter({ useStyles: true })
  workbook.creator = 'Kataxis'
  workbook.created = workbook.modified = fixedTime
  const all = tables.reduce((sum, { rows }) => sum + rows.length, 0)
  let done = 0

  for (const { name, columns, rows } of tables) {
    const sheet = workbook.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] })
    sheet.columns = columns.map(([header, width]) => ({ header, width }))
    sheet.getRow(1).font = { bold: true }
    sheet.autoFilter = {
      from: { row: 1, column: 1 },
      to: { row: rows.length + 1, column: columns.length },
    }
    for (const row of rows) {
      sheet.addRow(row as (string | number | null)[]).commit()
      if (++done % rowsBetweenWords === 0) progress?.(done, all)
    }
    sheet.commit()
  }

  const plan = workbook.addWorksheet('Plan')
  plan.columns = [{ width: 12 }, { width: 40 }]
  for (const row of [
    ['Project', origin.project],
    ['Revision', origin.revision],
    ...(origin.at === null ? [] : [['Date', origin.at.slice(0, 10)]]),
    ['State', origin.blockers > 0 ? `DRAFT: ${origin.blockers} blockers open` : 'no blockers'],
    ...(origin.safetySignature === null
      ? []
      : [['Fail-safe', `signature ${origin.safetySignature}`]]),
  ])
    plan.addRow(row).commit()
  plan.commit()
  await workbook.commit()
  const written = (workbook as unknown as { readonly stream: { read(): Uint8Array } }).stream.read()
  return withFixedTimes(Uint8Array.from(written))
}

/** The archive with the same time at every entry, where it was the time of writing: DOS time at 10
 *  in local headers and at 12 in the directory, which the end record points to (ZIP application
 *  note, 4.3). */
function withFixedTimes(archive: Uint8Array): Uint8Array {
  const view = new DataView(archive.buffer)
  const end = archive.length - 22
  let at = view.getUint32(end + 16, true)
  for (let entries = view.getUint16(end + 10, true); entries > 0; entries--) {
    const header = view.getUint32(at + 42, true)
    for (const time of [at + 12, header + 10]) view.setUint32(time, fixedDosTime, true)
    at +=
      46 +
      view.getUint16(at + 28, true) +
      view.getUint16(at + 30, true) +
      view.getUint16(at + 32, true)
  }
  return archive
}
