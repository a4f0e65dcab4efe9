/** What stands beside the grid. */
export type Beside = 'pattern' | 'replace' | 'rules' | 'tray' | 'wiring' | 'findings'

/** What can be done with the rows, in the order of the menu. */
export const ledgerEdits = {
  pattern: 'Names by pattern …',
  replace: 'Replace …',
  takeOff: 'Take off the channel',
  list: 'Import a list …',
  listHere: 'Import a list in order from here …',
  rules: 'Rules for tags …',
} as const
export type LedgerEdit = keyof typeof ledgerEdits

/** Where the row with the cursor is shown elsewhere. */
export const ledgerWays = { board: 'Board', memory: 'Memory', range: 'Range bench' } as const
export type LedgerWay = keyof typeof ledgerWays

/** What is shown of the row with the cursor, beside the grid. */
export const rowSheets = { wiring: 'Circuit', findings: 'Findings' } as const
