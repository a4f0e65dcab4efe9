import { readCells, seriesAt } from '@kataxis/core'
import { useProject } from '../../stores/project'
import type { Area, GridElement } from './grid-element'
import { blankRow, isEditable } from './rows'
import type { CellEdit } from './useLedgerEdits'

interface Around {
  readonly grid: () => GridElement | null
  /** Columns that the cursor reaches. */
  readonly names: () => string[]
  readonly edit: (cells: CellEdit[]) => unknown
}

/** Blocks of cells: series that are continued, and what is pasted. */
export function useGridBlocks({ grid, names, edit }: Around) {
  const project = useProject()
  /** Pulling the fill handle goes on with the series that the first cells begin. */
  async function onFill(event: Event) {
    event.preventDefault()
    const { oldRange, newRange } = (event as CustomEvent<{ oldRange: Area; newRange: Area }>).detail
    await continueSeries(oldRange, newRange)
  }
  async function continueSeries(from: Area, to: Area) {
    const visible = (await grid()?.getVisibleSource()) ?? []
    const inRange = names()
      .slice(from.x, from.x1 + 1)
      .filter(isEditable)
    const cells: CellEdit[] = []
    for (let y = to.y; y <= to.y1; y++) {
      if (y >= from.y && y <= from.y1) continue
      const row = visible[y]
      for (const name of row ? inRange : []) {
        const text = seriesAt(
          visible.slice(from.y, from.y1 + 1).map((source) => source[name] ?? ''),
          y - from.y,
        )
        if (text !== null) cells.push({ row: row!, column: name, text })
      }
    }
    edit(cells)
  }

  /** Ctrl+D: the rows of the selection go on with its first row. */
  async function fillDown() {
    const range = await grid()?.getSelectedRange()
    if (range && range.y1 > range.y) await continueSeries({ ...range, y1: range.y }, range)
  }

  /** Where the selection is, or the cursor alone. */
  async function selection(): Promise<Area | null> {
    const range = await grid()?.getSelectedRange()
    if (range) return range
    const { x, y } = (await grid()?.getFocused())?.cell ?? {}
    return x === undefined || y === undefined ? null : { x, y, x1: x, y1: y }
  }

  /** One cell copied goes over the whole selection, and a block over as many of its size; what finds
   *  no row becomes a signal that waits. */
  async function onPaste(event: Event) {
    event.preventDefault()
    const parsed = readCells((event as CustomEvent<{ dataText: string }>).detail.dataText)
    const area = await selection()
    if (!area || parsed.length === 0) return
    const visible = (await grid()?.getVisibleSource()) ?? []
    const reached = names()
    const [height, width] = [parsed.length, Math.max(...parsed.map((cells) => cells.length))]
    const times = (size: number, room: number) => (room % size === 0 ? room : size)
    const [rowCount, columnCount] = [
      times(height, area.y1 - area.y + 1),
      times(width, area.x1 - area.x + 1),
    ]
    const cells: CellEdit[] = []
    let waiting = 0
    for (let y = 0; y < rowCount; y++) {
      const source = parsed[y % height]!
      const columnOf = (x: number) => reached[area.x + x]
      const tag = Array.from({ length: columnCount }, (_, x) =>
        columnOf(x) === 'tag' ? source[x % width] : undefined,
      ).find((one) => one?.trim())
      const row = visible[area.y + y] ?? (tag ? blankRow(`pasted-${y}`) : undefined)
      if (!row) continue
      if (!visible[area.y + y]) waiting++
      for (let x = 0; x < columnCount; x++) {
        const text = source[x % width]
        const column = columnOf(x)
        if (text !== undefined && column !== undefined && isEditable(column))
          cells.push({ row, column, text })
      }
    }
    edit(cells)
    const lost = Math.max(0, area.y + rowCount - visible.length) - waiting
    if (waiting > 0)
      project.tell(
        `${waiting} of the ${height} rows found no row here: their signals wait without a channel.`,
      )
    if (lost > 0)
      project.tell(
        `${lost} of the ${height} rows that were pasted found no row here and have no tag to wait under.`,
      )
  }

  return { onFill, fillDown, onPaste }
}
