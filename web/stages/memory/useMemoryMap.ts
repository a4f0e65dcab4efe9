import { computed, shallowRef, watch, type Ref } from 'vue'
import {
  blocksAt,
  cellsAt,
  memoryMap,
  type Direction,
  type MapBlock,
  type MapCell,
  type MemorySide,
} from '@kataxis/core'
import { useProject } from '../../stores/project'

export const rowHeight = 22

export interface MapRow {
  readonly byte: number
  readonly in: readonly MapCell[]
  readonly out: readonly MapCell[]
  /** Blocks that begin in this byte. */
  readonly begins: Readonly<Record<Direction, readonly MapBlock[]>>
}

const none: readonly MapCell[] = []

/** Words for a byte of both sides. */
const both = (words: Readonly<Ref<Record<Direction, Map<number, string>>>>) => (byte: number) => ({
  in: words.value.in.get(byte),
  out: words.value.out.get(byte),
})

/** The picture of one controller's image, and its rows as far as they are looked at. */
export function useMemoryMap(controllerId: () => string) {
  const project = useProject()
  const map = computed(() => (project.derived ? memoryMap(project.derived, controllerId()) : null))
  const rows = shallowRef(new Map<number, MapRow>())
  watch(map, () => (rows.value = new Map()))

  const byKey = computed(
    () =>
      new Map<string, MapBlock>(
        [...(map.value?.in.blocks ?? []), ...(map.value?.out.blocks ?? [])].map((block) => [
          block.key,
          block,
        ]),
      ),
  )
  const height = computed(() => Math.max(map.value?.in.size ?? 0, map.value?.out.size ?? 0))
  const held = computed(() => {
    const bytes = { in: new Map<number, string>(), out: new Map<number, string>() }
    for (const direction of ['in', 'out'] as const)
      for (const { byte, bytes: count, view } of map.value?.[direction].held ?? [])
        for (let at = byte; at < byte + count; at++) bytes[direction].set(at, view.station.name)
    return bytes
  })

  /** What begins where an area does, in words. */
  const areaWords = computed(() => {
    const words = { in: new Map<number, string>(), out: new Map<number, string>() }
    const { controllers = {}, networks = {} } = project.plan ?? {}
    for (const { content, networkId, ...at } of controllers[controllerId()]?.areas ?? []) {
      const what = `${content === 'any' ? 'all data' : `${content} data`}${networkId === '' ? '' : ` of ${networks[networkId]?.name ?? ''}`}`
      for (const direction of ['in', 'out'] as const)
        if (at[direction] !== null) words[direction].set(at[direction], what)
    }
    return words
  })

  /** The same row for the same plan, so that scrolling draws only what is new. */
  function rowAt(byte: number): MapRow {
    let row = rows.value.get(byte)
    if (!row) {
      const { in: input, out: output } = map.value!
      const begins = (side: MemorySide) =>
        blocksAt(side, byte).filter(({ start }) => start >> 3 === byte)
      row = {
        byte,
        in: byte < input.size ? cellsAt(input, byte) : none,
        out: byte < output.size ? cellsAt(output, byte) : none,
        begins: { in: begins(input), out: begins(output) },
      }
      rows.value.set(byte, row)
    }
    return row
  }

  return { map, byKey, height, rowAt, heldAt: both(held), areasAt: both(areaWords) }
}
