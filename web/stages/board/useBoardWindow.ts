import { useElementSize, useEventListener } from '@vueuse/core'
import { ref, type Ref } from 'vue'

/** What part of the Board can be seen, so that only those lanes are drawn; everything while it is
 *  printed. */
export function useBoardWindow(board: Ref<HTMLElement | undefined>) {
  const top = ref(0)
  const { height } = useElementSize(board)
  const isPrinting = ref(false)
  /** Heads stay in sight only while somebody looks to the right: every one that does costs a layer
   *  of its own. */
  const isSideways = ref(false)
  useEventListener(
    board,
    'scroll',
    () => {
      top.value = board.value!.scrollTop
      isSideways.value = board.value!.scrollLeft > 0
    },
    { passive: true },
  )
  useEventListener(window, 'beforeprint', () => (isPrinting.value = true))
  useEventListener(window, 'afterprint', () => (isPrinting.value = false))

  function scrollTo(next: number): void {
    if (board.value) board.value.scrollTop = next
  }

  return { top, height, isPrinting, isSideways, scrollTo }
}
export type BoardWindow = ReturnType<typeof useBoardWindow>
