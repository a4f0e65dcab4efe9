import { onBeforeUnmount, shallowRef, watch, type Ref } from 'vue'

interface BudgetOptions<Key> {
  /** How many are drawn in full within one frame; the others show next to nothing until it is their turn. */
  readonly perFrame: () => number
  /** What makes all of them be drawn anew, and the one that never waits for it. */
  readonly anew?: { readonly when: () => unknown; readonly but: () => Key | null }
}

/** Spreads the drawing of rows over frames, so that neither a long jump nor another zoom holds a frame up. Gives those whose turn has come. */
export function useDrawBudget<Key>(shown: Ref<readonly Key[]>, { perFrame, anew }: BudgetOptions<Key>) {
  const ready = shallowRef<ReadonlySet<Key>>(new Set())
  let frame = 0

  function next(): void {
    frame = 0
    const visible = new Set(shown.value)
    const kept = [...ready.value].filter((key) => visible.has(key))
    const waiting = [...visible].filter((key) => !ready.value.has(key))
    if (waiting.length > 0 || kept.length < ready.value.size) ready.value = new Set([...kept, ...waiting.slice(0, perFrame())])
    if (waiting.length > perFrame()) frame = requestAnimationFrame(next)
  }
  if (anew) {
    watch(anew.when, () => {
      ready.value = new Set([...ready.value].filter((key) => key === anew.but()))
      frame ||= requestAnimationFrame(next)
    }, { flush: 'sync' })
  }
  watch(shown, () => (frame ||= requestAnimationFrame(next)), { immediate: true })
  onBeforeUnmount(() => cancelAnimationFrame(frame))
  return ready
}
