import type { LedgerRow } from './rows'

export interface Cell {
  readonly x: number
  readonly y: number
}
/** A block of cells, from its first to its last. */
export interface Area extends Cell {
  readonly x1: number
  readonly y1: number
}

/** What the Ledger asks of the grid package's element. */
export interface GridElement extends HTMLElement {
  getSelectedRange(): Promise<Area | null>
  getVisibleSource(): Promise<LedgerRow[]>
  scrollToRow(row: number): Promise<void>
  scrollToColumnIndex(column: number): Promise<void>
  refresh(): Promise<void>
  getFocused(): Promise<{
    cell: Cell
    column?: { prop: string | number }
  } | null>
  setCellEdit(row: number, prop: string | number): Promise<void>
  setCellsFocus(from: Cell, to: Cell): Promise<void>
}
