import { onBeforeUnmount, ref, watch, type Ref } from 'vue'

/** How much of a long list is drawn: a first part at once, the rest some every frame, so that it
 *  opens at once however long it is. */
export function useGrowing(of: Ref<unknown>, total: () => number, first: number, step: number) {
  const shown = ref(first)
  let frame = 0
  function grow(): void {
    frame = 0
    if (shown.value >= total()) return
    shown.value += step
    frame = requestAnimationFrame(grow)
  }
  watch(
    of,
    () => {
      shown.value = first
      cancelAnimationFrame(frame)
      // After the first part was painted.
      frame = requestAnimationFrame(() => (frame = requestAnimationFrame(grow)))
    },
    { immediate: true },
  )
  onBeforeUnmount(() => cancelAnimationFrame(frame))
  return shown
}
