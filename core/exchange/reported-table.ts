import type { ReportedDevice } from '../plan/model'
import { pastedRows, type PastedFault } from './pasted-table'

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
  readonly faults: readonly PastedFault[]
} {
  const devices: ReportedDevice[] = []
  const faults: PastedFault[] = []
  for (const { line, cell: whole } of pastedRows(text, headings, columns)) {
    const cell = (column: Column) => whole(column).slice(0, 100)
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
