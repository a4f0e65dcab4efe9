import { computed, ref, shallowRef, type ComputedRef } from 'vue'
import { blocksAt, type Direction, type MapBlock, type MemoryMap } from '@kataxis/core'

/** Which blocks are meant: the one at the cursor, and those that are selected with it. */
export function useBlockSelection(
  map: ComputedRef<MemoryMap | null>,
  byKey: ComputedRef<ReadonlyMap<string, MapBlock>>,
  see: (byte: number) => void,
) {
  const selected = shallowRef<ReadonlySet<string>>(new Set())
  const currentKey = ref<string | null>(null)
  const current = computed(() =>
    currentKey.value === null ? null : (byKey.value.get(currentKey.value) ?? null),
  )
  const side = computed<Direction>(() => current.value?.block.direction ?? 'in')
  const movable = (direction: Direction) =>
    map.value?.[direction].blocks.filter(({ isInside }) => !isInside) ?? []
  /** What can be moved of the selection, in order of address. */
  const moving = computed(() => movable(side.value).filter(({ key }) => selected.value.has(key)))

  function select(block: MapBlock | null, extend = false): void {
    if (!block) return
    currentKey.value = block.key
    selected.value = new Set(extend ? [...selected.value, block.key] : [block.key])
    see(block.start >> 3)
  }
  /** From the cursor to a block of the same side. */
  function selectUpTo({ start: end }: MapBlock): void {
    const [from, to] = [current.value!.start, end].sort((a, b) => a - b) as [number, number]
    selected.value = new Set(
      movable(side.value)
        .filter(({ start }) => start >= from && start <= to)
        .map(({ key }) => key),
    )
  }
  function clear(): void {
    currentKey.value = null
    selected.value = new Set()
  }

  /** To the next block of the side, or the one before. */
  function walk(step: 1 | -1, extend: boolean): void {
    const blocks = movable(side.value)
    const at = current.value ? blocks.indexOf(current.value) : -1
    select(blocks[at + step] ?? blocks[at] ?? blocks[0] ?? null, extend)
  }
  /** To the other side, about where the cursor is. */
  function cross(direction: Direction): void {
    const at = current.value?.start ?? 0
    const blocks = movable(direction)
    select(blocks.findLast(({ start }) => start <= at) ?? blocks[0] ?? null)
  }
  /** What stands at a byte, the innermost of it. */
  function selectAt(direction: Direction, byte: number): void {
    const here = map.value ? blocksAt(map.value[direction], byte) : []
    select(here.findLast(({ isInside }) => isInside) ?? here[0] ?? null)
  }

  return {
    selected,
    currentKey,
    current,
    side,
    moving,
    select,
    selectUpTo,
    clear,
    walk,
    cross,
    selectAt,
  }
}
