import { onBeforeUnmount, shallowRef, watch, type Ref } from 'vue'

/** Lanes that are drawn in full within one frame; the others show their name until it is their turn. */
const perFrame = 2

/** Spreads the drawing of lanes over frames, so that neither a long jump nor another zoom holds a frame up. Gives the lanes whose
 *  turn has come; the one with the cursor never waits, since the focus stands in it. */
export function useLaneBudget(shown: Ref<readonly { readonly id: string }[]>, zoom: () => string, cursorAt: () => string | null) {
  const ready = shallowRef<ReadonlySet<string>>(new Set())
  let frame = 0

  function next(): void {
    frame = 0
    const visible = new Set(shown.value.map(({ id }) => id))
    const kept = [...ready.value].filter((id) => visible.has(id))
    const waiting = [...visible].filter((id) => !ready.value.has(id))
    if (waiting.length > 0 || kept.length < ready.value.size) ready.value = new Set([...kept, ...waiting.slice(0, perFrame)])
    if (waiting.length > perFrame) frame = requestAnimationFrame(next)
  }
  watch(zoom, () => {
    ready.value = new Set([...ready.value].filter((id) => id === cursorAt()))
    frame ||= requestAnimationFrame(next)
  }, { flush: 'sync' })
  watch(shown, () => (frame ||= requestAnimationFrame(next)), { immediate: true })
  onBeforeUnmount(() => cancelAnimationFrame(frame))
  return ready
}
