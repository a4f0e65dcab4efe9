/** The position after the last row. */
export function behind(rows: readonly { position: number }[]): number {
  return rows.reduce((last, { position }) => Math.max(last, position), 0) + 1
}
