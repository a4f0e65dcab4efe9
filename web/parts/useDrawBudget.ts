import { nextTick, onBeforeUnmount, shallowRef, watch, type Ref } from 'vue'

interface BudgetOptions<Key> {
  /** How many are drawn in full within one frame at the most; the others show next to nothing until
   *  it is their turn. */
  readonly perFrame: () => number
  /** What makes all of them be drawn anew, and the one that never waits for it. */
  readonly anew?: { readonly when: () => unknown; readonly but: () => Key | null }
}

/** Of a frame, for drawing rows; the browser needs as much again to lay them out and paint them. */
const budgetMs = 7
/** A frame that has already worked so long, e.g. on what a scroll takes away, draws nothing more;
 *  but no row waits longer than so many frames. */
const busyMs = 6
const mostPostponed = 3

/** Spreads the drawing of rows over frames, so that neither a long jump nor another zoom holds a
 *  frame up. Gives those whose turn has come. */
export function useDrawBudget<Key>(
  shown: Ref<readonly Key[]>,
  { perFrame, anew }: BudgetOptions<Key>,
) {
  const ready = shallowRef<ReadonlySet<Key>>(new Set())
  let frame = 0
  /** What one row took lately; 0: not known yet. */
  let rowMs = 0
  let postponed = 0

  async function measure(rows: number): Promise<void> {
    const started = performance.now()
    await nextTick()
    const took = (performance.now() - started) / rows
    rowMs = rowMs === 0 ? took : 0.7 * rowMs + 0.3 * took
  }

  function next(frameStart: number): void {
    if (performance.now() - frameStart > busyMs && postponed < mostPostponed) {
      postponed++
      frame = requestAnimationFrame(next)
      return
    }
    postponed = 0
    frame = 0
    const visible = new Set(shown.value)
    const kept = [...ready.value].filter((key) => visible.has(key))
    const waiting = [...visible].filter((key) => !ready.value.has(key))
    const room = Math.max(1, Math.min(perFrame(), rowMs === 0 ? 1 : Math.floor(budgetMs / rowMs)))
    if (waiting.length > 0 || kept.length < ready.value.size)
      ready.value = new Set([...kept, ...waiting.slice(0, room)])
    if (waiting.length > 0) void measure(Math.min(room, waiting.length))
    if (waiting.length > room) frame = requestAnimationFrame(next)
  }
  if (anew) {
    watch(
      anew.when,
      () => {
        ready.value = new Set([...ready.value].filter((key) => key === anew.but()))
        rowMs = 0
        frame ||= requestAnimationFrame(next)
      },
      { flush: 'sync' },
    )
  }
  watch(shown, () => (frame ||= requestAnimationFrame(next)), { immediate: true })
  onBeforeUnmount(() => cancelAnimationFrame(frame))
  return ready
}
