<script setup lang="ts">
import { computed } from 'vue'
import { laneSlots, type Derived, type DerivedStation } from '@kataxis/core'
import ModuleTile from './ModuleTile.vue'
import QuickInsert from './QuickInsert.vue'
import { cellKey, type Cell } from './useLaneWalk'
import type { ModuleDrag } from './useModuleDrag'

const props = defineProps<{
  derived: Derived
  view: DerivedStation
  cursor: Cell | null
  focusId: string | null
  inserting: { slot: number; start: string; shifts: boolean } | null
  troubles: ReadonlyMap<string, string>
  drag: ModuleDrag
}>()
const emit = defineEmits<{ walk: [slot: number]; open: [kind: 'station' | 'module', id: string]; insert: [slot: number]; take: [module: string]; close: [] }>()

const lane = computed(() => laneSlots(props.view))
const modules = computed(() => new Map(props.view.modules.map((module) => [module.id, module])))
const trouble = computed(() => props.troubles.get(props.view.id) ?? null)
const isCursor = (slot: number) => props.cursor?.stationId === props.view.id && props.cursor.slot === slot
const tabindexOf = (slot: number) => (isCursor(slot) || (!props.cursor && slot === 0) ? 0 : -1)
const key = (slot: number) => cellKey({ stationId: props.view.id, slot })
const refusal = computed(() => props.drag.over.value?.stationId === props.view.id ? props.drag.over.value : null)
</script>

<template>
  <div class="lane" role="row">
    <div role="rowheader" class="head-cell">
      <button class="head" :class="{ focused: focusId === view.id }" :data-cell="key(0)" :tabindex="tabindexOf(0)" @click="(emit('walk', 0), emit('open', 'station', view.id))" @focus="emit('walk', 0)">
        <span class="name" :class="{ bad: trouble }">{{ view.station.name || '(no name)' }}<span v-if="trouble" class="bang" :title="trouble">▲</span></span>
        <span class="ip mono">{{ view.station.ip }}</span>
        <span class="type">{{ view.device?.orderNumber ?? view.device?.name ?? 'description missing' }} {{ view.device?.firmware ?? '' }}</span>
        <span class="count">{{ view.named }}/{{ view.channels }}</span>
      </button>
    </div>
    <div v-for="{ slot, moduleId } in lane.shown" :key="slot" role="gridcell" class="cell" @dragover="drag.isOver($event, view.id, slot)" @drop="drag.drop($event, view.id, slot)">
      <button
        v-if="moduleId"
        class="slot taken"
        :class="{ focused: focusId === moduleId, target: refusal?.slot === slot && !refusal.whyNot }"
        :data-cell="key(slot)"
        :tabindex="tabindexOf(slot)"
        draggable="true"
        @click="(emit('walk', slot), emit('open', 'module', moduleId))"
        @focus="emit('walk', slot)"
        @dragstart="drag.start($event, moduleId)"
        @dragend="drag.end()"
      >
        <ModuleTile :module="modules.get(moduleId)!" :trouble="troubles.get(moduleId) ?? null" />
      </button>
      <button
        v-else
        class="slot free"
        :class="{ target: refusal?.slot === slot && !refusal.whyNot, missing: troubles.has(key(slot)) }"
        :data-cell="key(slot)"
        :tabindex="tabindexOf(slot)"
        :aria-label="`Slot ${slot} of ${view.station.name}, free`"
        :title="`Slot ${slot} is free: type to insert`"
        @click="(emit('walk', slot), emit('insert', slot))"
        @focus="emit('walk', slot)"
      >
        <span class="number">{{ slot }}</span><span class="plus" aria-hidden="true">+</span>
      </button>
      <QuickInsert v-if="inserting?.slot === slot" :key="slot" :derived="derived" :view="view" :slot-number="slot" :start="inserting.start" :shifts="inserting.shifts" @take="emit('take', $event)" @close="emit('close')" />
      <span v-if="refusal?.slot === slot && refusal.whyNot" class="why" role="alert">{{ refusal.whyNot }}</span>
    </div>
    <div v-if="lane.free > 0" role="gridcell" class="rest">{{ lane.free }} free</div>
  </div>
</template>

<style scoped>
.lane {
  display: flex;
  align-items: stretch;
  height: 44px;
  min-width: max-content;
}
.head-cell {
  position: sticky;
  left: 0;
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
  top: 20px;
  width: 12px;
  height: 3px;
  background: var(--trunk);
}
.head {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 1px 8px;
  align-content: center;
  width: 252px;
  height: 40px;
  padding: 2px 8px;
  margin-top: 2px;
  text-align: left;
  background: var(--paper-2);
  border: 1px solid var(--line);
  border-right: 3px solid var(--ink-2);
  color: var(--ink);
  cursor: pointer;
}
.name {
  font: 600 13px/17px var(--sans);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bang {
  color: var(--accent);
  margin-left: 6px;
  font-size: 11px;
}
.ip {
  font-size: 11.5px;
  line-height: 17px;
}
.type,
.count {
  font: 11.5px/14px var(--narrow);
  color: var(--ink-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.count {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.cell {
  position: relative;
}
.slot {
  width: 86px;
  height: 40px;
  margin: 2px 0 0 -1px;
  padding: 0;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  cursor: pointer;
  position: relative;
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
