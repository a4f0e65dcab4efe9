import { computed, shallowRef, watch } from 'vue'
import { blocksAt, cellsAt, memoryMap, type Direction, type MapBlock, type MapCell, type MemorySide } from '@kataxis/core'
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

/** The picture of one controller's image, and its rows as far as they are looked at. */
export function useMemoryMap(controllerId: () => string) {
  const project = useProject()
  const map = computed(() => (project.derived ? memoryMap(project.derived, controllerId()) : null))
  const rows = shallowRef(new Map<number, MapRow>())
  watch(map, () => (rows.value = new Map()))

  const byKey = computed(() => new Map<string, MapBlock>([...(map.value?.in.blocks ?? []), ...(map.value?.out.blocks ?? [])].map((block) => [block.key, block])))
  const height = computed(() => Math.max(map.value?.in.size ?? 0, map.value?.out.size ?? 0))
  const held = computed(() => {
    const bytes = { in: new Map<number, string>(), out: new Map<number, string>() }
    for (const direction of ['in', 'out'] as const) for (const { byte, bytes: count, view } of map.value?.[direction].held ?? []) for (let at = byte; at < byte + count; at++) bytes[direction].set(at, view.station.name)
    return bytes
  })

  /** The same row for the same plan, so that scrolling draws only what is new. */
  function rowAt(byte: number): MapRow {
    let row = rows.value.get(byte)
    if (!row) {
      const { in: input, out: output } = map.value!
      const begins = (side: MemorySide) => blocksAt(side, byte).filter(({ start }) => start >> 3 === byte)
      row = { byte, in: byte < input.size ? cellsAt(input, byte) : none, out: byte < output.size ? cellsAt(output, byte) : none, begins: { in: begins(input), out: begins(output) } }
      rows.value.set(byte, row)
    }
    return row
  }

  /** The block at a byte of a side, or the next one in that way. */
  function blockNear(direction: Direction, byte: number, step: 1 | -1 = 1): MapBlock | null {
    const blocks = map.value?.[direction].blocks.filter(({ isInside }) => !isInside) ?? []
    const at = blocks.find(({ start, bits }) => start <= byte * 8 + 7 && start + bits > byte * 8)
    return at ?? (step === 1 ? blocks.find(({ start }) => start >= byte * 8) ?? blocks.at(-1) : blocks.findLast(({ start }) => start < byte * 8) ?? blocks[0]) ?? null
  }

  return { map, byKey, height, held, rowAt, blockNear }
}
