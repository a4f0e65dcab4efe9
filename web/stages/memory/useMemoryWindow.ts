import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { useDrawBudget } from '../../parts/useDrawBudget'
import { rowHeight } from './useMemoryMap'

/** Rows above and below the window that are drawn too. */
const around = 3

/** Which bytes can be seen, and which of them have their turn to be drawn. */
export function useMemoryWindow(board: Ref<HTMLElement | undefined>, height: Ref<number>) {
  const { height: shownHeight } = useElementSize(board)
  const top = ref(0)
  useEventListener(board, 'scroll', () => (top.value = board.value!.scrollTop), { passive: true })
  // As one text, so that a scroll within a row changes nothing.
  const range = computed(
    () =>
      `${Math.max(0, Math.floor(top.value / rowHeight) - around)} ${Math.min(height.value, Math.ceil((top.value + shownHeight.value) / rowHeight) + around)}`,
  )
  const bytes = computed(() => {
    const [first, last] = range.value.split(' ').map(Number) as [number, number]
    return Array.from({ length: Math.max(0, last - first) }, (_, i) => first + i)
  })
  const ready = useDrawBudget(bytes, { perFrame: () => 6 })

  function scrollTo(byte: number): void {
    if (board.value) board.value.scrollTop = Math.max(0, byte * rowHeight - shownHeight.value / 3)
  }
  function keepInSight(byte: number): void {
    const y = byte * rowHeight
    if (
      board.value &&
      (y < board.value.scrollTop || y > board.value.scrollTop + shownHeight.value - 2 * rowHeight)
    )
      scrollTo(byte)
  }

  return { top, shownHeight, bytes, ready, scrollTo, keepInSight }
}
