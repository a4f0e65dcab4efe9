/** One cell of the grid package as somebody edited it. */
export interface GridCell<Row> {
  readonly row: Row
  readonly column: string
  readonly text: string
}

interface EditDetail<Row> {
  readonly model?: Row
  readonly prop?: string
  readonly val?: unknown
  readonly data?: Record<number, Record<string, unknown>>
  readonly models?: Record<number, Row>
}

/** The cell of an edit. The grid never writes by itself: every edit is a command, and the rows come
 *  back from the plan. */
export function takeEdit<Row>(event: Event): GridCell<Row>[] {
  event.preventDefault()
  const { model, prop, val } = (event as CustomEvent<EditDetail<Row>>).detail
  return model && prop ? [{ row: model, column: prop, text: String(val ?? '') }] : []
}

/** The cells of what was pasted or filled. */
export function takeRangeEdit<Row>(event: Event): GridCell<Row>[] {
  event.preventDefault()
  const { data = {}, models = {} } = (event as CustomEvent<EditDetail<Row>>).detail
  return Object.entries(data).flatMap(([index, values]) => {
    const row = models[Number(index)]
    return row
      ? Object.entries(values).map(([column, value]) => ({
          row,
          column,
          text: String(value ?? ''),
        }))
      : []
  })
}
