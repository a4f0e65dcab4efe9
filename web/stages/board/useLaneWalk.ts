import { nextTick, shallowRef, type Ref } from 'vue'
import { laneSlots, type DerivedStation } from '@kataxis/core'

/** A cell of the Board: slot 0 is the head. */
export interface Cell {
  readonly stationId: string
  readonly slot: number
}

export const cellKey = ({ stationId, slot }: Cell) => `${stationId}:${slot}`

const mostFrames = 60

/** Walks the Board by keyboard: along a lane and from lane to lane, staying near the same slot. */
export function useLaneWalk(
  stations: Ref<readonly DerivedStation[]>,
  board: Ref<HTMLElement | undefined>,
) {
  const cursor = shallowRef<Cell | null>(null)

  const slotsOf = (view: DerivedStation) => [0, ...laneSlots(view).shown.map(({ slot }) => slot)]

  function moveTo(cell: Cell): void {
    cursor.value = cell
    void nextTick(() => focusWhenDrawn(cell, mostFrames))
  }

  /** Lanes that came into the window are drawn a few a frame; who went to a field or a dialog
   *  meanwhile keeps the keyboard. */
  function focusWhenDrawn(cell: Cell, frames: number): void {
    if (
      !board.value ||
      board.value.ownerDocument.activeElement?.closest(
        'input, textarea, select, [aria-modal="true"]',
      )
    )
      return
    const drawn = board.value.querySelectorAll<HTMLElement>(
      `[data-cell="${CSS.escape(cellKey(cell))}"]`,
    )
    // A place that waits for its next lane still holds the one before, hidden.
    const element = [...drawn].find((one) => one.checkVisibility())
    if (element) element.focus()
    else if (frames > 0 && cursor.value === cell)
      requestAnimationFrame(() => focusWhenDrawn(cell, frames - 1))
  }

  function step(columns: number, lanes: number): void {
    const lane = stations.value.findIndex(({ id }) => id === cursor.value?.stationId)
    const view = stations.value[lane]
    if (!view || !cursor.value) {
      const [first] = stations.value
      if (first) moveTo({ stationId: first.id, slot: 0 })
      return
    }
    const slots = slotsOf(view)
    if (lanes === 0) {
      const next = slots[slots.indexOf(cursor.value.slot) + columns]
      if (next !== undefined) moveTo({ stationId: view.id, slot: next })
      return
    }
    const target = stations.value[lane + lanes]
    if (!target) return
    const wanted = cursor.value.slot
    const nearest = slotsOf(target).reduce((best, slot) =>
      Math.abs(slot - wanted) < Math.abs(best - wanted) ? slot : best,
    )
    moveTo({ stationId: target.id, slot: nearest })
  }

  return { cursor, moveTo, step }
}

/** Arrow keys as steps over the Board. */
export const walkKeys: Readonly<Record<string, readonly [columns: number, lanes: number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
