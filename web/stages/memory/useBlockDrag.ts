import { useEventListener } from '@vueuse/core'
import { computed, shallowRef, type Ref } from 'vue'
import {
  freePlace,
  whyNotThere,
  type Command,
  type ImageAddress,
  type MapBlock,
  type MemorySide,
} from '@kataxis/core'
import { useProject } from '../../stores/project'
import { rowHeight } from './useMemoryMap'

interface Drag {
  readonly blocks: readonly MapBlock[]
  readonly delta: number
  readonly whyNot: string | null
}

/** Blocks under the pointer or moved by keys: where they would come to stand, and why not. */
export function useBlockDrag(
  sideOf: (block: MapBlock) => MemorySide,
  isAligned: () => boolean,
  word: (address: ImageAddress) => string,
  board: Readonly<Ref<HTMLElement | undefined>>,
) {
  const project = useProject()
  const drag = shallowRef<Drag | null>(null)
  let startY = 0
  let startTop = 0
  let waiting: readonly MapBlock[] = []

  const whyNotAt = (blocks: readonly MapBlock[], delta: number) =>
    whyNotThere(sideOf(blocks[0]!), blocks, delta, isAligned())

  function wait(event: PointerEvent, blocks: readonly MapBlock[]): void {
    startY = event.clientY
    startTop = board.value!.scrollTop
    waiting = blocks
  }
  /** How far it was moved counts from where the pointer went down, scrolling included; at the edges
   *  the picture goes on. */
  function move({ clientY }: PointerEvent): void {
    if (waiting.length === 0 || !board.value) return
    const delta = Math.round((clientY - startY + board.value.scrollTop - startTop) / rowHeight)
    if (drag.value?.delta !== delta && (delta !== 0 || drag.value))
      drag.value = { blocks: waiting, delta, whyNot: delta === 0 ? null : whyNotAt(waiting, delta) }
    if (!drag.value) return
    const { top, bottom } = board.value.getBoundingClientRect()
    if (clientY < top + rowHeight) board.value.scrollTop -= rowHeight
    else if (clientY > bottom - rowHeight) board.value.scrollTop += rowHeight
  }
  useEventListener(window, 'pointermove', move)

  /** Whether anything was dragged. */
  function drop(): boolean {
    const at = drag.value
    end()
    if (at && at.delta !== 0) {
      if (at.whyNot === null) project.run(commandFor(at.blocks, at.delta))
      else project.tell(`It was not moved: ${at.whyNot}.`)
    }
    return at !== null
  }
  function end(): void {
    waiting = []
    drag.value = null
  }

  /** To the next place that takes all of them. */
  function shift(blocks: readonly MapBlock[], step: 1 | -1): void {
    const [first] = blocks
    if (!first) return
    const from = first.start >> 3
    const to = freePlace(sideOf(first), blocks, from + step, step, isAligned())
    if (to === null)
      return project.tell(`There is no free place ${step === 1 ? 'further down' : 'further up'}.`)
    project.run(commandFor(blocks, to - from))
  }

  const words = computed(() => (drag.value ? wordsOf(drag.value, word) : ''))
  const ghosts = computed(() => (drag.value ? ghostsOf(drag.value) : []))
  return { drag, words, ghosts, wait, drop, end, shift }
}

function commandFor(blocks: readonly MapBlock[], delta: number): Command {
  const commands = blocks.map(({ module, block, start }) => ({
    type: 'setAddress' as const,
    moduleId: module.id,
    subslot: block.subslot,
    direction: block.direction,
    byte: (start >> 3) + delta,
    bit: start & 7,
  }))
  return commands.length === 1
    ? commands[0]!
    : { type: 'batch', label: `Move ${commands.length} blocks`, commands }
}

/** From where to where, and why not. */
function wordsOf(
  { blocks: [first], delta, whyNot }: Drag,
  word: (address: ImageAddress) => string,
): string {
  const at = (byte: number) =>
    word({
      direction: first!.block.direction,
      byte,
      bit: first!.start & 7,
      bits: first!.bits % 8 === 0 ? Math.min(first!.bits, 8) : 1,
    })
  const from = first!.start >> 3
  return from + delta < 0
    ? whyNot!
    : `${at(from)} → ${at(from + delta)}${whyNot ? `: ${whyNot}` : ''}`
}

/** Where the blocks would come to stand, in pixels. */
const ghostsOf = ({ blocks, delta }: Drag) =>
  blocks.map(({ key, start, bits, block }) => ({
    key,
    direction: block.direction,
    top: ((start >> 3) + delta) * rowHeight,
    height: Math.ceil(((start & 7) + bits) / 8) * rowHeight,
  }))
