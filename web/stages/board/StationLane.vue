<script setup lang="ts">
import {
  ipOf,
  kindOf,
  laneSlots,
  type Derived,
  type DerivedStation,
  type Mark,
} from '@kataxis/core'
import { computed } from 'vue'
import { useNotation } from '../../parts/useNotation'
import type { Focus } from '../../stores/focus'
import ModuleTile from './ModuleTile.vue'
import QuickInsert from './QuickInsert.vue'
import StationHead from './StationHead.vue'
import { tileWords } from './tile-words'
import type { BoardDrag } from './useBoardDrag'
import { cellKey, type Cell } from './useLaneWalk'
import { zooms, type Zoom } from './zooms'

const props = defineProps<{
  derived: Derived
  view: DerivedStation
  zoom: Zoom
  /** The slot of the cursor, where it stands in this lane. */
  cursorSlot: number | null
  hasCursor: boolean
  focusId: string | null
  selected: ReadonlySet<string>
  inserting: { slot: number; start: string; shifts: boolean } | null
  troubles: ReadonlyMap<string, string>
  drag: BoardDrag
  /** Who else is at which thing. */
  others: ReadonlyMap<string, string>
  marks: ReadonlyMap<string, Mark>
}>()
const emit = defineEmits<{
  walk: [cell: Cell]
  open: [focus: Focus]
  toggle: [id: string]
  extend: [cell: Cell]
  insert: [cell: Cell]
  take: [stationId: string, module: string]
  close: []
}>()

const lane = computed(() => laneSlots(props.view))
/** The head as a module of its own, where it brings channels. */
const ownData = computed(() =>
  props.view.modules[0]?.layout?.channels.length ? props.view.modules[0] : null,
)
const modules = computed(() => new Map(props.view.modules.map((module) => [module.id, module])))
const trouble = computed(() => props.troubles.get(props.view.id) ?? null)
const tabindexOf = (slot: number) =>
  props.cursorSlot === slot || (!props.hasCursor && slot === 0) ? 0 : -1
const cellAt = (slot: number): Cell => ({ stationId: props.view.id, slot })
const key = (slot: number) => cellKey(cellAt(slot))
const over = computed(() =>
  props.drag.over.value?.stationId === props.view.id ? props.drag.over.value : null,
)
const notationIn = useNotation()
const notation = computed(() => notationIn(props.view.station))
const wordsOf = (id: string) =>
  tileWords(modules.value.get(id)!, props.troubles.get(id) ?? null, props.marks.get(id) ?? null)
const isTarget = (slot: number) => over.value?.slot === slot && over.value.whyNot === null
const size = computed(() => ({
  '--lane': `${zooms[props.zoom].lane}px`,
  '--slot': `${zooms[props.zoom].slot}px`,
  '--head': `${zooms[props.zoom].head}px`,
}))
/** What tells the station apart on its network. */
const identity = computed(() => {
  const { station } = props.view
  const network = props.derived.plan.networks[station.networkId]
  return network && kindOf(network).hasIp ? ipOf(station) : String(station.deviceNumber)
})

/** Before the focus moves, and the cursor with it: a selection begins where the cursor still
 *  stands. */
function press(event: MouseEvent, slot: number, id: string): void {
  if (event.ctrlKey || event.metaKey) emit('toggle', id)
  else if (event.shiftKey) emit('extend', cellAt(slot))
}
function click(event: MouseEvent, slot: number, kind: 'station' | 'module', id: string): void {
  if (event.ctrlKey || event.metaKey || event.shiftKey) return
  emit('walk', cellAt(slot))
  emit('open', { kind, id })
}
/** What is dragged: the whole selection, if it holds what was taken hold of. */
function startDrag(event: DragEvent, kind: 'module' | 'station', id: string): void {
  const together = props.selected.has(id)
    ? [...props.selected].filter((one) => (kind === 'station') === props.derived.stations.has(one))
    : [id]
  props.drag.start(event, kind, together)
}
</script>

<template>
  <div class="lane" :class="[`at-${zoom}`, { raised: inserting || over }]" role="row" :style="size">
    <div
      role="rowheader"
      class="head-cell"
      @dragover="drag.isOver($event, view.id, 0)"
      @drop="drag.drop($event, view.id, 0)"
    >
      <StationHead
        class="head"
        :class="{
          focused: focusId === view.id,
          selected: selected.has(view.id),
          target: isTarget(0),
        }"
        :view="view"
        :zoom="zoom"
        :identity="identity"
        :trouble="trouble"
        :other="others.get(view.id) ?? null"
        :mark="marks.get(view.id) ?? null"
        :data-cell="key(0)"
        :tabindex="tabindexOf(0)"
        @mousedown="press($event, 0, view.id)"
        @click="click($event, 0, 'station', view.id)"
        @focus="emit('walk', cellAt(0))"
        @dragstart="startDrag($event, 'station', view.id)"
        @dragend="drag.end()"
      />
      <span v-if="over?.slot === 0 && over.whyNot" class="why" role="alert">{{ over.whyNot }}</span>
    </div>
    <div v-if="ownData" role="gridcell" class="cell">
      <button
        class="slot taken own"
        tabindex="-1"
        :title="`Data of ${view.station.name} itself`"
        @click="emit('open', { kind: 'station', id: view.id })"
      >
        <ModuleTile
          :notation="notation"
          :module="ownData"
          :zoom="zoom"
          :trouble="null"
          :other="null"
          :mark="null"
        />
      </button>
    </div>
    <div
      v-for="{ slot, moduleId } in lane.shown"
      :key="slot"
      role="gridcell"
      class="cell"
      :aria-selected="moduleId !== null && selected.has(moduleId)"
      @dragover="drag.isOver($event, view.id, slot)"
      @drop="drag.drop($event, view.id, slot)"
    >
      <button
        v-if="moduleId"
        class="slot taken"
        :class="{
          focused: focusId === moduleId,
          selected: selected.has(moduleId),
          target: isTarget(slot),
        }"
        :data-cell="key(slot)"
        :tabindex="tabindexOf(slot)"
        :aria-label="wordsOf(moduleId)"
        draggable="true"
        @mousedown="press($event, slot, moduleId)"
        @click="click($event, slot, 'module', moduleId)"
        @focus="emit('walk', cellAt(slot))"
        @dragstart="startDrag($event, 'module', moduleId)"
        @dragend="drag.end()"
      >
        <ModuleTile
          :notation="notation"
          :module="modules.get(moduleId)!"
          :zoom="zoom"
          :trouble="troubles.get(moduleId) ?? null"
          :other="others.get(moduleId) ?? null"
          :mark="marks.get(moduleId) ?? null"
        />
      </button>
      <button
        v-else
        class="slot free"
        :class="{ target: isTarget(slot), missing: troubles.has(key(slot)) }"
        :data-cell="key(slot)"
        :tabindex="tabindexOf(slot)"
        :aria-label="`Slot ${slot} of ${view.station.name}, free`"
        :title="`Slot ${slot} is free: type to insert`"
        @click="(emit('walk', cellAt(slot)), emit('insert', cellAt(slot)))"
        @focus="emit('walk', cellAt(slot))"
      >
        <span v-if="zoom !== 'plant'" class="number">{{ slot }}</span><span
          class="plus"
          aria-hidden="true"
          >+</span
        >
      </button>
      <QuickInsert
        v-if="inserting?.slot === slot"
        :key="slot"
        :derived="derived"
        :view="view"
        :slot-number="slot"
        :start="inserting.start"
        :shifts="inserting.shifts"
        @take="emit('take', view.id, $event)"
        @close="emit('close')"
      />
      <span
        v-if="over?.slot === slot && (over.whyNot || over.warning)"
        class="why"
        :class="{ warning: !over.whyNot }"
        role="alert"
        >{{ over.whyNot || over.warning }}</span
      >
    </div>
    <div v-if="lane.free > 0 && zoom !== 'plant'" role="gridcell" class="rest">
      {{ lane.free }} free
    </div>
  </div>
</template>

<style scoped>
.lane {
  display: flex;
  align-items: stretch;
  height: var(--lane);
  min-width: max-content;
  position: relative;
  /* A lane is painted once and then only moved. */
  contain: layout style paint;
}
.raised {
  z-index: 20;
  contain: layout style;
}
/* Only while somebody looks to the right: every sticky head costs a layer of its own. */
.sideways .head-cell {
  position: sticky;
  left: -14px;
}
.head-cell {
  position: relative;
  z-index: 5;
  background: var(--paper);
  padding-left: 26px;
}
.head-cell::before {
  content: '';
  position: absolute;
  left: 10px;
  top: 0;
  bottom: 0;
  width: 4px;
  background: var(--trunk);
}
.head-cell::after {
  content: '';
  position: absolute;
  left: 14px;
  top: calc(min(var(--lane), 44px) / 2 - 2px);
  width: 12px;
  height: 3px;
  background: var(--trunk);
}
.own {
  background: var(--paper-2);
}
.cell {
  position: relative;
  flex: none;
}
.slot {
  width: var(--slot);
  height: calc(var(--lane) - 4px);
  margin: 2px 0 0 -1px;
  padding: 0;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  cursor: pointer;
  position: relative;
}
.taken {
  contain: size style;
}
.taken:hover {
  background: var(--paper-2);
}
.free {
  border-style: dashed;
  background: transparent;
  color: var(--ink-3);
}
.free.missing {
  border-color: var(--accent);
  color: var(--accent);
}
.number {
  position: absolute;
  left: 5px;
  top: 2px;
  font: 11px/14px var(--narrow);
}
.plus {
  font: 16px/1 var(--sans);
}
.focused {
  background: var(--accent-soft);
  box-shadow: inset 0 -3px 0 var(--accent);
}
.slot:focus-visible,
.head:focus-visible {
  z-index: 4;
}
.selected {
  background: var(--accent-soft);
  outline: 2px solid var(--accent);
  outline-offset: -2px;
}
.at-plant .slot {
  height: calc(var(--lane) - 2px);
  margin-top: 1px;
}
.at-plant .plus {
  font-size: 10px;
}
.target {
  outline: 2px dashed var(--accent);
  outline-offset: -3px;
}
.why {
  position: absolute;
  top: calc(100% - 4px);
  left: 4px;
  z-index: 40;
  width: 300px;
  padding: 6px 9px;
  background: var(--ink);
  color: var(--paper);
  font: 12px/1.35 var(--narrow);
  pointer-events: none;
}
.rest {
  align-self: center;
  padding: 0 12px;
  font: 12px/1 var(--narrow);
  color: var(--ink-3);
  white-space: nowrap;
}
</style>
