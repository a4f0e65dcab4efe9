import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'
import type { Cell, GridElement } from './grid-element'
import { isEditable } from './rows'
import { rowSize } from './useLedgerColumns'
import type { CellEdit } from './useLedgerEdits'

interface Around {
  readonly holder: Readonly<Ref<HTMLElement | undefined>>
  readonly grid: () => GridElement | null
  /** Columns that the cursor reaches. */
  readonly names: () => string[]
  readonly rowCount: () => number
  readonly edit: (cells: CellEdit[]) => unknown
  readonly fillDown: () => Promise<void>
}

/** Keys that a spreadsheet has and the grid package does not, and the way in and out of it. */
export function useGridKeys({ holder, grid, names, rowCount, edit, fillDown }: Around) {
  /** Where the cursor stands, as the grid said last. */
  let cursor: Cell = { x: 0, y: 0 }
  /** The grid says where it stands now. */
  function stand(at: { readonly rowIndex?: number; readonly colIndex?: number }): void {
    cursor = { x: at.colIndex ?? cursor.x, y: at.rowIndex ?? cursor.y }
  }
  const lastColumn = () => names().length - 1
  const lastRow = () => rowCount() - 1
  const page = () => Math.max(1, Math.floor((holder.value?.clientHeight ?? 300) / rowSize) - 3)
  /** Keys that a spreadsheet has and the grid package does not: where the cursor goes. */
  const jumps: Readonly<Record<string, (at: Cell, isFar: boolean) => Cell>> = {
    Home: ({ y }, isFar) => ({ x: 0, y: isFar ? 0 : y }),
    End: ({ y }, isFar) => ({ x: lastColumn(), y: isFar ? lastRow() : y }),
    PageDown: ({ x, y }) => ({ x, y: Math.min(lastRow(), y + page()) }),
    PageUp: ({ x, y }) => ({ x, y: Math.max(0, y - page()) }),
  }
  async function goToCell(at: Cell, to = at) {
    await grid()?.scrollToRow(Math.max(0, at.y - 2))
    await grid()?.scrollToColumnIndex(at.x)
    await grid()?.setCellsFocus(at, to)
  }

  function leaveGrid(isBack: boolean) {
    const around = [
      ...document.querySelectorAll<HTMLElement>(
        'a[href], button:not([disabled]), input:not([disabled]), select:not([disabled])',
      ),
    ].filter((one) => !holder.value!.contains(one) && one.checkVisibility())
    const isBehind = (one: HTMLElement) =>
      (holder.value!.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0
    const next = isBack ? around.findLast((one) => !isBehind(one)) : around.find(isBehind)
    next?.focus()
  }

  /** Who comes into the grid by Tab stands on a cell at once. */
  function onEnter({ target }: FocusEvent) {
    if (target instanceof Element && target.matches('.vertical-inner')) void goToCell(cursor)
  }

  /** A click on a row number takes the whole row. */
  function onRowNumber({ target }: MouseEvent) {
    const row = target instanceof Element ? target.closest('.rowHeaders [data-rgrow]') : null
    if (row)
      void goToCell(
        { x: 0, y: Number(row.getAttribute('data-rgrow')) },
        { x: lastColumn(), y: Number(row.getAttribute('data-rgrow')) },
      )
  }

  async function onKey(event: KeyboardEvent) {
    // In the editor of a cell keys mean letters.
    if ((event.target as HTMLElement).closest('input, textarea')) return
    const isFar = event.ctrlKey || event.metaKey
    // At the end of a row Tab leads out of the grid, at its beginning Shift+Tab.
    if (event.key === 'Tab' && (event.shiftKey ? cursor.x <= 0 : cursor.x >= lastColumn())) {
      event.preventDefault()
      event.stopPropagation()
      return leaveGrid(event.shiftKey)
    }
    const jump = jumps[event.key]
    if (jump) {
      event.preventDefault()
      event.stopPropagation()
      return goToCell(jump(cursor, isFar))
    }
    if (event.key.toLowerCase() === 'd' && isFar) {
      event.preventDefault()
      event.stopPropagation()
      return fillDown()
    }
    if (event.key !== 'Delete' && event.key !== 'Backspace') return
    event.preventDefault()
    event.stopPropagation()
    const range = await grid()?.getSelectedRange()
    const visible = await grid()?.getVisibleSource()
    if (!range || !visible) return
    const inRange = names().slice(range.x, range.x1 + 1)
    edit(
      visible
        .slice(range.y, range.y1 + 1)
        .flatMap((row) => inRange.map((name) => ({ row, column: name, text: '' }))),
    )
  }

  /** The grid package has no key for it: F2 edits what is there, instead of typing over it. */
  useEventListener('keydown', async (event) => {
    if (event.key !== 'F2') return
    event.preventDefault()
    const at = await grid()?.getFocused()
    if (at?.column && isEditable(String(at.column.prop)))
      await grid()?.setCellEdit(at.cell.y, at.column.prop)
  })

  return { stand, onEnter, onRowNumber, onKey }
}
