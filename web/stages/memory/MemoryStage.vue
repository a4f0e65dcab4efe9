<script setup lang="ts">
import { formatAddress, type Direction, type MapBlock } from '@kataxis/core'
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import SideSheet from '../../parts/SideSheet.vue'
import { useFocus } from '../../stores/focus'
import { usePreferences } from '../../stores/preferences'
import { useProject } from '../../stores/project'
import { useDifference } from '../history/useDifference'
import BlockSheet from './BlockSheet.vue'
import { byteLabel } from './byte-labels'
import MemoryRow from './MemoryRow.vue'
import MemoryStrip from './MemoryStrip.vue'
import MemoryTools from './MemoryTools.vue'
import RepackDialog from './RepackDialog.vue'
import { useBlockDrag } from './useBlockDrag'
import { useBlockSelection } from './useBlockSelection'
import { rowHeight, useMemoryMap } from './useMemoryMap'
import { useMemoryWindow } from './useMemoryWindow'

const project = useProject()
const preferences = usePreferences()
const route = useRoute()
const router = useRouter()
const { focus, setFocus } = useFocus()
const derived = computed(() => project.derived!)

/** The controller whose image is shown: the one chosen or of what is in focus, else the first. */
const chosen = ref('')
const controllerId = computed(
  () =>
    [chosen.value, derived.value.controllers[0]?.controller.id].find(
      (id) => id && derived.value.plan.controllers[id],
    ) ?? '',
)
const controller = computed(() => derived.value.plan.controllers[controllerId.value] ?? null)
const notation = computed(() => preferences.notation || controller.value?.notation || 'iec')
const board = ref<HTMLElement>()
const { map, byKey, height, heldAt, areasAt, rowAt } = useMemoryMap(() => controllerId.value)
const { top, shownHeight, bytes, ready, scrollTo, keepInSight } = useMemoryWindow(board, height)
const { selected, currentKey, current, side, moving, ...selection } = useBlockSelection(
  map,
  byKey,
  keepInSight,
)
const sizes = computed(() => ({ in: map.value?.in.size ?? 0, out: map.value?.out.size ?? 0 }))
const labelsOf = (byte: number) => ({
  in: byteLabel('in', byte, notation.value),
  out: byteLabel('out', byte, notation.value),
})

const isSheetOpen = ref(false)
const isRepacking = ref(false)
const focusOf = (block: MapBlock) => ({
  kind: block.module.row ? ('module' as const) : ('station' as const),
  id: block.module.id,
})
function open(block: MapBlock): void {
  isSheetOpen.value = true
  void setFocus(focusOf(block))
}
/** Another controller is looked at from its first byte. */
function look(id: string): void {
  chosen.value = id
  selection.clear()
  isSheetOpen.value = false
  void setFocus({ kind: 'controller', id })
  scrollTo(0)
}
function go(direction: Direction, byte: number): void {
  scrollTo(byte)
  selection.selectAt(direction, byte)
}

/** What the address in the browser names, as a place of an image. */
const focused = computed(() => {
  const at = focus.value
  if (!at) return null
  for (const { controller: own, networks } of derived.value.controllers) {
    if (at.id === own.id) return { controllerId: own.id, moduleId: null }
    for (const { modules } of networks.flatMap(({ stations }) => stations)) {
      const module = modules.find(
        ({ id, signals }) =>
          id === at.id ||
          (at.kind === 'signal' && [...signals.values()].some((signal) => signal.id === at.id)),
      )
      if (module) return { controllerId: own.id, moduleId: module.id }
    }
  }
  return null
})
watch(
  [focused, () => map.value === null],
  async ([at]) => {
    if (!at) return
    if (at.controllerId !== controllerId.value) chosen.value = at.controllerId
    if (at.moduleId === null || current.value?.module.id === at.moduleId) return
    await nextTick()
    selection.select(
      [...byKey.value.values()].find(({ module }) => module.id === at.moduleId) ?? null,
    )
    isSheetOpen.value = true
  },
  { immediate: true },
)
onMounted(() => void nextTick(() => current.value && scrollTo(current.value.start >> 3)))
/** What is moved stays in sight. */
watch(
  () => current.value?.start,
  (start, before) => start !== undefined && before !== undefined && keepInSight(start >> 3),
)

const drag = useBlockDrag(
  (block) => map.value![block.block.direction],
  () => controller.value?.aligned ?? false,
  (address) => formatAddress(address, notation.value),
  board,
)
function pick(key: string, event: PointerEvent): void {
  const block = byKey.value.get(key)
  if (!block || event.button !== 0) return
  if (event.ctrlKey || event.metaKey) return selection.select(block, true)
  if (event.shiftKey && current.value && side.value === block.block.direction)
    return selection.selectUpTo(block)
  if (selected.value.has(key)) currentKey.value = key
  else selection.select(block)
  if (!block.isInside) drag.wait(event, moving.value)
}
useEventListener(window, 'pointerup', () => {
  const wasDragged = drag.drop()
  if (
    !wasDragged &&
    isSheetOpen.value &&
    current.value &&
    focus.value?.id !== current.value.module.id
  )
    void setFocus(focusOf(current.value))
})

const keys: Readonly<Record<string, (event: KeyboardEvent) => void>> = {
  ArrowDown: ({ altKey, shiftKey }) =>
    altKey ? drag.shift(moving.value, 1) : selection.walk(1, shiftKey),
  ArrowUp: ({ altKey, shiftKey }) =>
    altKey ? drag.shift(moving.value, -1) : selection.walk(-1, shiftKey),
  ArrowLeft: () => selection.cross('in'),
  ArrowRight: () => selection.cross('out'),
  Enter: () => current.value && open(current.value),
  Escape: () => (drag.drag.value ? drag.end() : (isSheetOpen.value = false)),
}
function onKey(event: KeyboardEvent): void {
  const act = keys[event.key]
  if (!act || event.ctrlKey || event.metaKey) return
  event.preventDefault()
  act(event)
}

const from = computed(() =>
  typeof route.query['from'] === 'string' ? Number(route.query['from']) : null,
)
const difference = useDifference(from, ref(null))
const compareWith = (value: string) =>
  void router.replace({ query: { ...route.query, from: value || undefined } })
const spoken = computed(() => {
  if (!current.value) return ''
  const { view, module, block, start, bits, isFixed } = current.value
  return `${view.station.name} ${module.row ? `slot ${module.slot}` : 'head'}, ${formatAddress({ direction: block.direction, byte: start >> 3, bit: 0, bits: 8 }, notation.value)}, ${Math.ceil(bits / 8)} bytes${isFixed ? ', fixed' : ''}`
})
</script>

<template>
  <div class="memory">
    <div v-if="map && controller" class="main">
      <MemoryTools
        :map="map"
        :notation="notation"
        :from="from"
        :size="height"
        :side="side"
        @look="look"
        @go="go"
        @scroll="scrollTo"
        @compare="compareWith"
        @repack="isRepacking = true"
      />
      <p v-if="from !== null" class="compared" role="status">
        {{ difference.failure.value || difference.summary.value }} Marked where the place is: + new,
        ~ changed.
      </p>
      <div class="columns" aria-hidden="true">
        <div v-for="direction in ['in', 'out'] as const" :key="direction" class="side head">
          <strong>{{ direction === 'in' ? 'Inputs' : 'Outputs' }}</strong><span class="bit-names"
            ><span v-for="bit in 8" :key="bit">{{ 8 - bit }}</span></span
          ><span class="owner-name">begins here</span>
        </div>
      </div>
      <div class="picture">
        <MemoryStrip
          :map="map"
          :bytes="height"
          :top="top / rowHeight"
          :shown="shownHeight / rowHeight"
          :theme="preferences.theme"
          @go="scrollTo"
        />
        <div
          ref="board"
          class="rows"
          tabindex="0"
          role="group"
          :aria-label="`Memory of ${controller.name}: arrows walk from block to block, Alt with arrows moves, Enter opens`"
          @keydown="onKey"
          @dblclick="current && open(current)"
        >
          <div class="sheet-of-rows" :style="{ height: `${height * rowHeight}px` }">
            <div
              v-for="byte in bytes"
              :key="byte"
              v-memo="[
                ready.has(byte),
                map,
                notation,
                selected,
                currentKey,
                difference.marks.value,
              ]"
              class="row"
              :style="{ transform: `translateY(${byte * rowHeight}px)` }"
              :data-byte="byte"
            >
              <MemoryRow
                v-if="ready.has(byte)"
                :row="rowAt(byte)"
                :labels="labelsOf(byte)"
                :held="heldAt(byte)"
                :sizes="sizes"
                :areas="areasAt(byte)"
                :selected="selected"
                :current="currentKey"
                :marks="difference.marks.value"
                @pick="pick"
              />
              <span v-else class="waiting">{{ labelsOf(byte).in }}</span>
            </div>
            <div
              v-for="ghost in drag.ghosts.value"
              :key="ghost.key"
              class="ghost"
              :class="[ghost.direction, { no: drag.drag.value!.whyNot }]"
              :style="{ transform: `translateY(${ghost.top}px)`, height: `${ghost.height}px` }"
            >
              <span v-if="ghost.key === drag.ghosts.value[0]!.key">{{ drag.words.value }}</span>
            </div>
          </div>
        </div>
      </div>
      <p class="keys">
        Drag a block, or Alt ↑ ↓ to the next place that fits · arrows walk · Shift and Ctrl select
        several · Enter opens · hatched bits belong to a block and are not used<span
          class="sr"
          aria-live="polite"
          >{{ spoken }}</span
        >
      </p>
    </div>
    <div v-else class="empty">
      <h2>No controller yet</h2>
      <p>Its memory is drawn here as soon as there is one on the Board.</p>
    </div>
    <SideSheet v-if="current && isSheetOpen" @close="isSheetOpen = false">
      <BlockSheet :block="current" :notation="notation" />
    </SideSheet>
    <RepackDialog
      v-if="isRepacking && controller"
      :controller-id="controllerId"
      :notation="notation"
      @close="isRepacking = false"
    />
  </div>
</template>

<style scoped>
.memory {
  display: flex;
  height: 100%;
}
.main {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.compared {
  padding: 0 14px 8px;
  font: 13px/1.3 var(--narrow);
}
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  padding: 0 14px 0 34px;
  border-bottom: 1px solid var(--line);
  background: var(--paper-2);
}
.head {
  display: grid;
  grid-template-columns: 70px minmax(0, 1fr) 116px;
  font: 12px/22px var(--narrow);
  color: var(--ink-2);
}
.head strong {
  padding-left: 8px;
}
.bit-names {
  display: grid;
  grid-template-columns: repeat(8, 1fr);
  font: 11px/22px var(--mono);
  text-align: center;
}
.owner-name {
  padding-left: 12px;
}
.picture {
  flex: 1;
  min-height: 0;
  display: flex;
}
.rows {
  flex: 1;
  min-width: 0;
  overflow-y: scroll;
  overflow-x: hidden;
  position: relative;
  contain: strict;
}
.rows,
.row {
  user-select: none;
}
.rows:focus-visible {
  outline-offset: -2px;
}
.sheet-of-rows {
  position: relative;
}
.row {
  position: absolute;
  left: 0;
  right: 0;
  height: 22px;
  display: grid;
  grid-template-columns: 1fr 1fr;
  contain: layout style;
}
.waiting {
  padding-left: 8px;
  font: 11.5px/21px var(--mono);
  color: var(--ink-3);
}
.ghost {
  position: absolute;
  top: 0;
  left: 70px;
  width: calc(50% - 70px - 116px);
  border: 2px solid var(--ink);
  background: color-mix(in srgb, var(--paper) 55%, transparent);
  pointer-events: none;
  z-index: 3;
}
.ghost.out {
  left: calc(50% + 70px);
}
.ghost.no {
  border: 2px dashed var(--accent);
}
.ghost span {
  position: absolute;
  left: 6px;
  top: 1px;
  background: var(--ink);
  color: var(--paper);
  font: 12px/18px var(--mono);
  padding: 0 6px;
  white-space: nowrap;
}
.keys {
  font: 12px/1 var(--narrow);
  color: var(--ink-3);
  padding: 7px 14px;
  border-top: 1px solid var(--line);
}
</style>
