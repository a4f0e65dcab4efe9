import { readCells, writeCells } from '@kataxis/core'

/** Tables that come from the clipboard, with cells of several lines, instead of the grid package's
 *  own reading. */
export function readPaste(event: Event): void {
  const { detail } = event as CustomEvent<{ dataText: string; parsed: string[][] }>
  detail.parsed = readCells(detail.dataText)
}

/** Tables that go there; what a spreadsheet would take for a formula is guarded. */
export function writeCopy(event: Event): void {
  const { detail } = event as CustomEvent<{ event: DataTransfer; data?: unknown[][] }>
  if (!detail.data) return
  event.preventDefault()
  detail.event.setData(
    'text/plain',
    writeCells(detail.data.map((row) => row.map((cell) => String(cell ?? '')))),
  )
}
