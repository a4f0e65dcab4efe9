import { computed, ref, shallowRef, type Ref } from 'vue'
import type { DerivedStation } from '@kataxis/core'
import type { Cell } from './useLaneWalk'

export type Selection = ReturnType<typeof useSelection>

/** Several modules or stations at once: what was picked singly, and everything between an anchor
 *  and the cursor. */
export function useSelection(stations: Ref<readonly DerivedStation[]>, cursor: Ref<Cell | null>) {
  const picked = shallowRef<ReadonlySet<string>>(new Set())
  const anchor = ref<Cell | null>(null)

  const ranged = computed<ReadonlySet<string>>(() => {
    const [from, to] = [anchor.value, cursor.value]
    return from && to ? idsBetween(stations.value, from, to) : new Set()
  })
  const ids = computed<ReadonlySet<string>>(() =>
    ranged.value.size === 0 ? picked.value : new Set([...picked.value, ...ranged.value]),
  )
  const stationIds = computed(() =>
    stations.value.filter(({ id }) => ids.value.has(id)).map(({ id }) => id),
  )
  const moduleIds = computed(() =>
    ids.value.size === 0
      ? []
      : stations.value.flatMap(({ modules }) =>
          modules.filter(({ row, id }) => row && ids.value.has(id)).map(({ id }) => id),
        ),
  )

  /** Adds one, or takes it away again; what stood at the cursor comes along with the first. */
  function toggle(id: string, before: string | null): void {
    const next = new Set(ids.value)
    anchor.value = null
    if (next.size === 0 && before !== null) next.add(before)
    if (!next.delete(id)) next.add(id)
    picked.value = next
  }

  /** From where the cursor stands to where it goes next. */
  function extend(): void {
    anchor.value ??= cursor.value
  }

  function clear(): void {
    if (picked.value.size > 0) picked.value = new Set()
    anchor.value = null
  }

  return { ids, stationIds, moduleIds, toggle, extend, clear }
}

/** The modules in the rectangle between two cells; their heads instead, where it reaches the
 *  heads. */
export function idsBetween(
  stations: readonly DerivedStation[],
  from: Cell,
  to: Cell,
): ReadonlySet<string> {
  const lanes = [from, to]
    .map(({ stationId }) => stations.findIndex(({ id }) => id === stationId))
    .sort((a, b) => a - b) as [number, number]
  const [low, high] = [Math.min(from.slot, to.slot), Math.max(from.slot, to.slot)]
  const inside = lanes[0] < 0 ? [] : stations.slice(lanes[0], lanes[1] + 1)
  if (low === 0) return new Set(inside.map(({ id }) => id))
  return new Set(
    inside.flatMap(({ modules }) =>
      modules.filter(({ row, slot }) => row && slot >= low && slot <= high).map(({ id }) => id),
    ),
  )
}
