import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { compareRows, filterRows, type LedgerRow } from './rows'

export interface Order {
  readonly by: keyof LedgerRow
  readonly isDescending: boolean
}

/** The rows that are shown, in the order in which they are. Both are found when somebody asks, by
 *  the filter or a heading, and hold while rows are edited: nothing vanishes or jumps under the
 *  cursor. */
export function useShownRows(
  rows: Ref<readonly LedgerRow[]>,
  wish: { readonly text: Ref<string>; readonly onlyFree: Ref<boolean> },
) {
  const order = ref<Order | null>(null)
  const keys = shallowRef<readonly string[]>([])
  const byKey = computed(() => new Map(rows.value.map((row) => [row.key, row])))

  /** Rows there were when somebody asked last. */
  let known: ReadonlySet<string> = new Set()
  const chosenFrom = (all: readonly LedgerRow[]) => {
    const matching = filterRows(all, wish.text.value)
    return wish.onlyFree.value ? matching.filter(({ tag }) => tag === '') : matching
  }
  function found(): readonly LedgerRow[] {
    const chosen = chosenFrom(rows.value)
    const by = order.value
    return by ? [...chosen].sort((a, b) => compareRows(by.by, a, b, by.isDescending)) : chosen
  }
  const isPlain = () =>
    wish.text.value.trim() === '' && !wish.onlyFree.value && order.value === null
  function askAgain(): void {
    known = new Set(isPlain() ? [] : rows.value.map(({ key }) => key))
    keys.value = isPlain() ? [] : found().map(({ key }) => key)
  }
  watch([wish.text, wish.onlyFree, order], askAgain, { immediate: true })

  /** Without a filter and an order every row is shown as it comes; with them, what came since
   *  stands behind the others. */
  const shown = computed<readonly LedgerRow[]>(() =>
    isPlain()
      ? rows.value
      : [
          ...keys.value.flatMap((key) => byKey.value.get(key) ?? []),
          ...chosenFrom(rows.value.filter(({ key }) => !known.has(key))),
        ],
  )
  /** How many rows stand otherwise than the filter and the order would have them now. */
  const outdated = computed(() => {
    if (isPlain()) return 0
    const now = found()
    if (now.length !== shown.value.length) return Math.abs(now.length - shown.value.length)
    return now.reduce((sum, row, i) => sum + Number(row.key !== shown.value[i]!.key), 0)
  })

  /** A heading was clicked: up, down, and as the plan has it. */
  function sortBy(column: keyof LedgerRow): void {
    const now = order.value
    order.value =
      now?.by !== column
        ? { by: column, isDescending: false }
        : now.isDescending
          ? null
          : { by: column, isDescending: true }
  }
  return { shown, outdated, order, sortBy, askAgain }
}
