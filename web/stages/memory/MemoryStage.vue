<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { blocksAt, formatAddress, readAddress, wordBytes, type Direction, type MapBlock } from '@kataxis/core'
import { api, type Version } from '../../api/client'
import NotationPicker from '../../parts/NotationPicker.vue'
import { useDrawBudget } from '../../parts/useDrawBudget'
import SideSheet from '../../parts/SideSheet.vue'
import { useFocus } from '../../stores/focus'
import { usePreferences } from '../../stores/preferences'
import { useProject } from '../../stores/project'
import { useDifference } from '../history/useDifference'
import BlockSheet from './BlockSheet.vue'
import { byteLabel } from './byte-labels'
import MemoryRow from './MemoryRow.vue'
import MemoryStrip from './MemoryStrip.vue'
import RepackDialog from './RepackDialog.vue'
import { useBlockDrag } from './useBlockDrag'
import { rowHeight, useMemoryMap } from './useMemoryMap'

const project = useProject()
const preferences = usePreferences()
const route = useRoute()
const router = useRouter()
const { focus, setFocus } = useFocus()
const derived = computed(() => project.derived!)

/** The controller whose image is shown: of what is in focus, else the one chosen, else the first. */
const chosen = ref('')
const focused = computed(() => {
  const at = focus.value
  if (!at) return null
  for (const { controller, networks } of derived.value.controllers) {
    if (at.id === controller.id) return { controllerId: controller.id, moduleId: null, signalId: null }
    for (const view of networks.flatMap(({ stations }) => stations)) {
      const module = view.modules.find(({ id, signals }) => id === at.id || (at.kind === 'signal' && [...signals.values()].some((signal) => signal.id === at.id)))
      if (module) return { controllerId: controller.id, moduleId: module.id, signalId: at.kind === 'signal' ? at.id : null }
    }
  }
  return null
})
const controllerId = computed(() => [chosen.value, derived.value.controllers[0]?.controller.id].find((id) => id && derived.value.plan.controllers[id]) ?? '')
const controller = computed(() => derived.value.plan.controllers[controllerId.value] ?? null)
const { map, byKey, height, held, rowAt, blockNear } = useMemoryMap(() => controllerId.value)
const notation = computed(() => preferences.notation || controller.value?.notation || 'iec')

const board = ref<HTMLElement>()
const { height: shownHeight } = useElementSize(board)
const top = ref(0)
useEventListener(board, 'scroll', () => (top.value = board.value!.scrollTop), { passive: true })
const shownRange = computed(() => `${Math.max(0, Math.floor(top.value / rowHeight) - 3)} ${Math.min(height.value, Math.ceil((top.value + shownHeight.value) / rowHeight) + 3)}`)
const bytes = computed(() => {
  const [first, last] = shownRange.value.split(' ').map(Number) as [number, number]
  return map.value ? Array.from({ length: Math.max(0, last - first) }, (_, i) => first + i) : []
})
const ready = useDrawBudget(bytes, { perFrame: () => 6 })
const sizes = computed(() => ({ in: map.value?.in.size ?? 0, out: map.value?.out.size ?? 0 }))
const areaWords = computed(() => {
  const words = { in: new Map<number, string>(), out: new Map<number, string>() }
  for (const { content, networkId, ...at } of controller.value?.areas ?? []) {
    for (const direction of ['in', 'out'] as const) if (at[direction] !== null) words[direction].set(at[direction], `${content === 'any' ? 'all data' : `${content} data`}${networkId === '' ? '' : ` of ${derived.value.plan.networks[networkId]?.name ?? ''}`}`)
  }
  return words
})
const labelsOf = (byte: number) => ({ in: byteLabel('in', byte, notation.value), out: byteLabel('out', byte, notation.value) })
const heldAt = (byte: number) => ({ in: held.value.in.get(byte), out: held.value.out.get(byte) })
const areasAt = (byte: number) => ({ in: areaWords.value.in.get(byte), out: areaWords.value.out.get(byte) })

const selected = shallowRef<ReadonlySet<string>>(new Set())
const currentKey = ref<string | null>(null)
const current = computed(() => (currentKey.value === null ? null : byKey.value.get(currentKey.value) ?? null))
const isSheetOpen = ref(false)
/** What can be moved of the selection, in order of address. */
const moving = computed(() => [...selected.value].flatMap((key) => byKey.value.get(key) ?? []).filter(({ isInside, block }) => !isInside && block.direction === current.value?.block.direction).sort((a, b) => a.start - b.start))

function scrollTo(byte: number): void {
  if (board.value) board.value.scrollTop = Math.max(0, byte * rowHeight - shownHeight.value / 3)
}
function select(block: MapBlock | null, extend = false): void {
  if (!block) return
  currentKey.value = block.key
  selected.value = extend ? new Set([...selected.value, block.key]) : new Set([block.key])
  keepInSight(block)
}
function keepInSight({ start }: MapBlock): void {
  const y = (start >> 3) * rowHeight
  if (board.value && (y < board.value.scrollTop || y > board.value.scrollTop + shownHeight.value - 2 * rowHeight)) scrollTo(start >> 3)
}
/** Another controller is looked at from its first byte. */
function look(id: string): void {
  chosen.value = id
  currentKey.value = null
  selected.value = new Set()
  isSheetOpen.value = false
  void setFocus({ kind: 'controller', id })
  scrollTo(0)
}
const focusOf = (block: MapBlock) => ({ kind: block.module.row ? 'module' as const : 'station' as const, id: block.module.id })
function open(block: MapBlock): void {
  isSheetOpen.value = true
  void setFocus(focusOf(block))
}

watch([focused, () => map.value === null], async ([at]) => {
  if (!at) return
  if (at.controllerId !== controllerId.value) chosen.value = at.controllerId
  if (at.moduleId === null || current.value?.module.id === at.moduleId) return
  await nextTick()
  select([...byKey.value.values()].find(({ module }) => module.id === at.moduleId) ?? null)
  isSheetOpen.value = true
}, { immediate: true })
onMounted(() => void nextTick(() => current.value && scrollTo(current.value.start >> 3)))

/** What is moved stays in sight. */
watch(() => current.value?.start, (start, before) => start !== undefined && before !== undefined && current.value && keepInSight(current.value))

const sideOf = (block: MapBlock) => map.value![block.block.direction]
const drag = useBlockDrag(sideOf, () => controller.value?.aligned ?? false, (address) => formatAddress(address, notation.value))
let scrolledAt = 0
function pick(key: string, event: PointerEvent): void {
  const block = byKey.value.get(key)
  if (!block || event.button !== 0) return
  const isOne = !selected.value.has(key)
  if (event.ctrlKey || event.metaKey) return select(block, true)
  if (event.shiftKey && current.value && current.value.block.direction === block.block.direction) return selectUpTo(block)
  if (isOne) select(block)
  else currentKey.value = key
  scrolledAt = board.value!.scrollTop
  if (!block.isInside) drag.wait(event, moving.value)
}
function selectUpTo(block: MapBlock): void {
  const [from, to] = [current.value!.start, block.start].sort((a, b) => a - b) as [number, number]
  selected.value = new Set(sideOf(block).blocks.filter(({ start, isInside }) => !isInside && start >= from && start <= to).map(({ key }) => key))
}
useEventListener(window, 'pointermove', (event) => {
  if (!board.value) return
  drag.move(event, board.value.scrollTop - scrolledAt)
  if (!drag.drag.value) return
  const { top: edge, bottom } = board.value.getBoundingClientRect()
  if (event.clientY < edge + 24) board.value.scrollTop -= rowHeight
  else if (event.clientY > bottom - 24) board.value.scrollTop += rowHeight
})
useEventListener(window, 'pointerup', () => {
  const wasDragged = drag.drag.value !== null
  drag.drop()
  if (!wasDragged && isSheetOpen.value && current.value && focus.value?.id !== current.value.module.id) void setFocus(focusOf(current.value))
})
const ghosts = computed(() => (drag.drag.value?.blocks ?? []).map(({ key, start, bits, block }) => ({ key, direction: block.direction, top: ((start >> 3) + drag.drag.value!.delta) * rowHeight, height: Math.ceil(((start & 7) + bits) / 8) * rowHeight })))

function walk(direction: Direction, step: 1 | -1, extend: boolean): void {
  const blocks = map.value![direction].blocks.filter(({ isInside }) => !isInside)
  const at = current.value ? blocks.indexOf(current.value) : -1
  select(blocks[at + step] ?? blocks[at] ?? blocks[0] ?? null, extend)
}
const keys: Readonly<Record<string, (event: KeyboardEvent) => void>> = {
  ArrowDown: (event) => (event.altKey ? drag.shift(moving.value, 1) : walk(current.value?.block.direction ?? 'in', 1, event.shiftKey)),
  ArrowUp: (event) => (event.altKey ? drag.shift(moving.value, -1) : walk(current.value?.block.direction ?? 'in', -1, event.shiftKey)),
  ArrowLeft: () => select(blockNear('in', (current.value?.start ?? 0) >> 3)),
  ArrowRight: () => select(blockNear('out', (current.value?.start ?? 0) >> 3)),
  Enter: () => current.value && open(current.value),
  Escape: () => (drag.drag.value ? drag.end() : (isSheetOpen.value = false)),
}
function onKey(event: KeyboardEvent): void {
  const act = keys[event.key]
  if (!act || event.ctrlKey || event.metaKey) return
  event.preventDefault()
  act(event)
}

const wanted = ref('')
function go(): void {
  const text = wanted.value.trim()
  const plainByte = /^\d+$/.test(text) ? Number(text) : null
  const [reading] = readAddress(text, [notation.value])
  const byte = reading && plainByte === null ? reading.address.byte : plainByte ?? reading?.address.byte
  if (byte === undefined || byte >= height.value) return project.tell(`"${text}" is no place of this image; type a byte or an address such as ${byteLabel('in', 0, notation.value)}.`)
  scrollTo(byte)
  const here = blocksAt(map.value![reading?.address.direction ?? current.value?.block.direction ?? 'in'], byte)
  select(here.findLast(({ isInside }) => isInside) ?? here[0] ?? null)
}
const gapAt = ref(0)
const gaps = computed(() => (['in', 'out'] as const).flatMap((direction) => (map.value?.[direction].gaps ?? []).map((gap) => ({ ...gap, direction }))))
function nextGap(): void {
  const gap = gaps.value[gapAt.value++ % Math.max(1, gaps.value.length)]
  if (gap) scrollTo(gap.byte)
}
const figures = computed(() => (['in', 'out'] as const).map((direction) => {
  const side = map.value?.[direction]
  const free = side?.gaps.reduce((sum, { bytes }) => sum + bytes, 0) ?? 0
  return `${direction === 'in' ? 'inputs' : 'outputs'} ${side?.usedBytes ?? 0} of ${side?.size ?? 0}${free > 0 ? `, ${wordBytes({ inputBytes: free, outputBytes: 0 }).replace(/ in.*/, '')} in gaps` : ''}`
}))

const versions = shallowRef<readonly Version[]>([])
void api.versions(project.id).then((found) => (versions.value = found.versions)).catch(() => undefined)
const from = computed(() => (typeof route.query['from'] === 'string' ? Number(route.query['from']) : null))
const difference = useDifference(from, ref(null))
const compareWith = (value: string) => void router.replace({ query: { ...route.query, from: value || undefined } })
const isRepacking = ref(false)
const spoken = computed(() => (current.value ? `${current.value.view.station.name} ${current.value.module.row ? `slot ${current.value.module.slot}` : 'head'}, ${formatAddress({ direction: current.value.block.direction, byte: current.value.start >> 3, bit: 0, bits: 8 }, notation.value)}, ${Math.ceil(current.value.bits / 8)} bytes${current.value.isFixed ? ', fixed' : ''}` : ''))
</script>

<template>
  <div class="memory">
    <div v-if="map && controller" class="main">
      <div class="tools">
        <h1>Memory</h1>
        <div v-if="derived.controllers.length > 1" class="switch" role="group" aria-label="Controller">
          <button v-for="one in derived.controllers" :key="one.controller.id" class="button small" :aria-pressed="one.controller.id === controllerId" @click="look(one.controller.id)">{{ one.controller.name || '(no name)' }}</button>
        </div>
        <NotationPicker />
        <input v-model="wanted" class="field go" aria-label="Go to an address" :placeholder="`Go to ${byteLabel('in', 8, notation)}`" @keydown.enter="go" />
        <select v-if="versions.length > 0" class="field against" aria-label="Show what changed since" :value="from === null ? '' : String(from)" @change="compareWith(($event.target as HTMLSelectElement).value)">
          <option value="">no comparison</option>
          <option v-for="version in versions" :key="version.name" :value="String(version.revision)">since {{ version.name }}</option>
        </select>
        <button class="button small" @click="isRepacking = true">Repack …</button>
        <span class="figures">{{ figures.join(' · ') }}<button v-if="gaps.length > 0" class="button small bare" @click="nextGap">next gap</button></span>
      </div>
      <p v-if="from !== null" class="compared" role="status">{{ difference.failure.value || difference.summary.value }} Marked where the place is: + new, ~ changed.</p>
      <div class="columns" aria-hidden="true">
        <div v-for="direction in (['in', 'out'] as const)" :key="direction" class="side head"><strong>{{ direction === 'in' ? 'Inputs' : 'Outputs' }}</strong><span class="bit-names"><span v-for="bit in 8" :key="bit">{{ 8 - bit }}</span></span><span class="owner-name">begins here</span></div>
      </div>
      <div class="picture">
        <MemoryStrip :map="map" :bytes="height" :top="top / rowHeight" :shown="shownHeight / rowHeight" :theme="preferences.theme" @go="scrollTo" />
        <div ref="board" class="rows" tabindex="0" role="group" :aria-label="`Memory of ${controller.name}: arrows walk from block to block, Alt with arrows moves, Enter opens`" @keydown="onKey" @dblclick="current && open(current)">
          <div class="sheet-of-rows" :style="{ height: `${height * rowHeight}px` }">
            <div v-for="byte in bytes" :key="byte" v-memo="[ready.has(byte), map, notation, selected, currentKey, difference.marks.value]" class="row" :style="{ transform: `translateY(${byte * rowHeight}px)` }" :data-byte="byte">
              <MemoryRow v-if="ready.has(byte)" :row="rowAt(byte)" :labels="labelsOf(byte)" :held="heldAt(byte)" :sizes="sizes" :areas="areasAt(byte)" :selected="selected" :current="currentKey" :marks="difference.marks.value" @pick="pick" />
              <span v-else class="waiting">{{ labelsOf(byte).in }}</span>
            </div>
            <div v-for="ghost in ghosts" :key="ghost.key" class="ghost" :class="[ghost.direction, { no: drag.drag.value!.whyNot }]" :style="{ transform: `translateY(${ghost.top}px)`, height: `${ghost.height}px` }"><span v-if="ghost.key === ghosts[0]!.key">{{ drag.words.value }}</span></div>
          </div>
        </div>
      </div>
      <p class="keys">Drag a block, or Alt ↑ ↓ to the next place that takes it · arrows walk · Shift and Ctrl select several · Enter opens · hatched bits belong to a block and are not used<span class="sr" aria-live="polite">{{ spoken }}</span></p>
    </div>
    <div v-else class="empty">
      <h2>No controller yet</h2>
      <p>Its memory is drawn here as soon as there is one on the Board.</p>
    </div>
    <SideSheet v-if="current && isSheetOpen" @close="isSheetOpen = false">
      <BlockSheet :block="current" :notation="notation" />
    </SideSheet>
    <RepackDialog v-if="isRepacking && controller" :controller-id="controllerId" :notation="notation" @close="isRepacking = false" />
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
.tools {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 8px 14px;
  flex-wrap: wrap;
}
.switch {
  display: flex;
}
.switch .button {
  border-radius: 0;
}
.switch [aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
.go {
  width: 110px;
}
.against {
  width: 130px;
}
.figures {
  margin-left: auto;
  font: 12.5px/1 var(--narrow);
  color: var(--ink-2);
  white-space: nowrap;
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
