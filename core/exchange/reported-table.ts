import Papa from 'papaparse'
import type { ReportedDevice } from '../plan/model'
import { guarded } from './cell-text'

const columns = ['slot', 'tag', 'address', 'serial'] as const
type Column = (typeof columns)[number]
const headings: Readonly<Record<Column, RegExp>> = {
  slot: /^(node|slot|no\.?|nr\.?|position|place)$/i,
  tag: /^(tag|name|label|device)$/i,
  address: /^(address|radio address|mac|eui|eui-64|device id|id)$/i,
  serial: /^(serial|serial ?no\.?|serial ?number|s\/n)$/i,
}

/** A gateway's list of devices as it is copied out of it: node, tag, address and serial number; by
 *  headings in any order, else in this one. Lines that name no device are told. */
export function readReportedTable(text: string): {
  readonly devices: readonly ReportedDevice[]
  readonly faults: readonly { readonly line: number; readonly sentence: string }[]
} {
  const [first = ''] = text.trimStart().split(/\r?\n/, 1)
  const delimiter = ['\t', ';', ','].find((separator) => first.includes(separator)) ?? '\t'
  const rows = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { delimiter }).data.map(
    (cells, i) => ({ line: i + 1, cells: cells.map((cell) => cell.replace(guarded, '').trim()) }),
  )
  const filled = rows.filter(({ cells }) => cells.some((cell) => cell !== ''))
  const named = filled[0]?.cells.map(
    (cell) => columns.find((column) => headings[column].test(cell)) ?? null,
  )
  const hasHeadings = named?.some((column) => column !== null) ?? false
  const order = hasHeadings ? named! : columns
  const devices: ReportedDevice[] = []
  const faults: { line: number; sentence: string }[] = []
  for (const { line, cells } of hasHeadings ? filled.slice(1) : filled) {
    const cell = (column: Column) => (cells[order.indexOf(column)] ?? '').slice(0, 100)
    const [, digits = ''] = /^\D*(\d+)$/.exec(cell('slot')) ?? []
    const slot = cell('slot') === '' ? null : digits === '' ? NaN : Number(digits)
    if (slot !== null && (!Number.isInteger(slot) || slot < 0 || slot > 65_535))
      faults.push({ line, sentence: `Line ${line}: "${cell('slot')}" is no number of a node.` })
    else if (cell('address') + cell('serial') === '')
      faults.push({ line, sentence: `Line ${line} has neither address nor serial number.` })
    else devices.push({ slot, tag: cell('tag'), address: cell('address'), serial: cell('serial') })
  }
  return { devices, faults }
}
