<script setup lang="ts">
import {
  controllerIpOf,
  kindOf,
  numbered,
  prefixLengthOf,
  shapeOf,
  type Derived,
  type DerivedNetwork,
  type Mark,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref, shallowRef, watch } from 'vue'
import { useDrawBudget } from '../../parts/useDrawBudget'
import { useFocus, type Focus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import ChangeMark from './ChangeMark.vue'
import { nextPlaces, type LanePlace } from './lane-places'
import StationLane from './StationLane.vue'
import type { BoardDrag } from './useBoardDrag'
import type { BoardWindow } from './useBoardWindow'
import type { Cell } from './useLaneWalk'
import { visibleLanes, zooms, type Zoom } from './zooms'

const props = defineProps<{
  derived: Derived
  band: DerivedNetwork
  zoom: Zoom
  window: BoardWindow
  cursor: Cell | null
  focus: Focus | null
  selected: ReadonlySet<string>
  inserting: { stationId: string; slot: number; start: string; shifts: boolean } | null
  troubles: ReadonlyMap<string, string>
  drag: BoardDrag
  others: ReadonlyMap<string, string>
  /** What changed between the versions that are compared. */
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
  add: []
}>()

/** The same functions for every lane and every time, so that a lane is drawn anew only when it
 *  changed. */
const on = {
  walk: (cell: Cell) => emit('walk', cell),
  open: (next: Focus) => emit('open', next),
  toggle: (id: string) => emit('toggle', id),
  extend: (cell: Cell) => emit('extend', cell),
  insert: (cell: Cell) => emit('insert', cell),
  take: (stationId: string, module: string) => emit('take', stationId, module),
  close: () => emit('close'),
}
const lanes = ref<HTMLElement>()
const isFolded = ref(false)
const laneHeight = computed(() => zooms[props.zoom].lane)
const shown = computed(() => {
  const { stations } = props.band
  const { top, height, isPrinting } = props.window
  // Where the band stands depends on all bands above it; asking the browser is simpler than adding
  // them up.
  const range =
    isPrinting.value || !lanes.value
      ? { first: 0, last: isPrinting.value ? stations.length : Math.min(stations.length, 30) }
      : visibleLanes(stations.length, laneHeight.value, lanes.value.offsetTop, {
          top: top.value,
          height: height.value,
        })
  return { ...range, stations: stations.slice(range.first, range.last) }
})
/** Only stations count: a scroll that shows the same lanes changes nothing. */
const shownStations = computed(() => shown.value.stations)
const shownIds = computed(() => shownStations.value.map(({ id }) => id))
/** The lane with the cursor never waits, since the focus stands in it. */
const ready = useDrawBudget(shownIds, {
  perFrame: () => 4,
  anew: { when: () => props.zoom, but: () => props.cursor?.stationId ?? null },
})
const isReady = (id: string) => props.window.isPrinting.value || ready.value.has(id)
/** What was drawn for another station or zoom is hidden, and drawn over when it is its turn. */
const places = shallowRef<readonly LanePlace[]>([])
watch(
  [ready, shownIds, props.window.isPrinting],
  () => {
    places.value = nextPlaces(
      places.value,
      shownIds.value,
      isReady,
      props.zoom,
      props.cursor?.stationId ?? null,
    )
  },
  { flush: 'sync', immediate: true },
)
const ranks = computed(() => new Map(props.band.stations.map(({ id }, i) => [id, i])))
const words = computed(() => {
  const { network, stations } = props.band
  const kind = kindOf(network)
  return [
    kind.name,
    ...(kind.hasIp ? [`${controllerIpOf(network)}/${prefixLengthOf(network)}`] : []),
    numbered(stations.length, 'station'),
  ].join(' · ')
})
/** How its cables run, and whether anything is wrong with them. */
const project = useProject()
const { goTo } = useFocus()
const cables = computed(() => {
  const shape = shapeOf(props.band)
  const ids = new Set([props.band.network.id, ...props.band.stations.map(({ id }) => id)])
  const wrong = (project.findings?.all ?? []).filter(
    ({ code, at, severity }) =>
      severity !== 'note' && /^(link|ring|segment)\./.test(code) && ids.has(at.stationId ?? at.id),
  )
  return shape && { words: shape, wrong: wrong[0]?.message ?? null }
})
</script>

<template>
  <section class="band" :aria-label="`Network ${band.network.name}`">
    <div
      class="band-head"
      :class="{
        target: drag.overNetwork.value?.id === band.network.id && !drag.overNetwork.value.whyNot,
      }"
      @dragover="drag.isOverNetwork($event, band.network.id)"
      @drop="drag.dropOnNetwork($event, band.network.id)"
    >
      <button
        class="fold"
        :aria-expanded="!isFolded"
        :aria-label="`${isFolded ? 'Unfold' : 'Fold'} ${band.network.name}`"
        @click="isFolded = !isFolded"
      >
        {{ isFolded ? '▸' : '▾' }}
      </button>
      <button
        class="band-name head-name"
        :class="{ focused: focus?.id === band.network.id }"
        @click="emit('open', { kind: 'network', id: band.network.id })"
      >
        {{ band.network.name || '(no name)' }}
      </button>
      <ChangeMark :mark="marks.get(band.network.id) ?? null" />
      <span class="figures">{{ words }}</span>
      <NButton
        v-if="cables"
        text
        class="cables"
        :class="{ wrong: cables.wrong }"
        :title="cables.wrong ?? 'Show its cables'"
        :aria-label="`Cables of ${band.network.name}: ${cables.words}`"
        @click="goTo('networks', { kind: 'network', id: band.network.id })"
      >
        {{ cables.words }}{{ cables.wrong ? ' ▲' : '' }}
      </NButton>
      <NButton size="small" :data-add-station="band.network.id" @click="emit('add')">
        + Station
      </NButton>
      <span
        v-if="drag.overNetwork.value?.id === band.network.id && drag.overNetwork.value.whyNot"
        class="why"
        role="alert"
        >{{ drag.overNetwork.value.whyNot }}</span
      >
    </div>
    <div
      v-if="band.stations.length > 0 && !isFolded"
      ref="lanes"
      class="lanes"
      role="grid"
      :aria-label="`Stations on ${band.network.name}`"
      :aria-rowcount="band.stations.length"
      :style="{
        paddingTop: `${shown.first * laneHeight}px`,
        paddingBottom: `${(band.stations.length - shown.last) * laneHeight}px`,
      }"
    >
      <div
        v-for="{ place, id, drawn } in places"
        :key="place"
        role="presentation"
        :style="`order: ${ranks.get(id ?? '') ?? 0}; height: ${id === null ? 0 : laneHeight}px`"
      >
        <div
          v-if="id !== null && !isReady(id)"
          class="waiting"
          role="row"
          :aria-rowindex="ranks.get(id)! + 1"
          :style="{ height: `${laneHeight}px` }"
        >
          <span role="rowheader">{{ derived.stations.get(id)?.station.name }}</span>
        </div>
        <!-- What hides it stands around it: on the lane itself it would draw it anew with every
             scroll. -->
        <div
          v-if="drawn && derived.stations.has(drawn.id)"
          :class="{ resting: drawn.id !== id || !isReady(id) }"
          role="presentation"
        >
          <StationLane
            :aria-rowindex="(ranks.get(drawn.id) ?? 0) + 1"
            :derived="derived"
            :view="derived.stations.get(drawn.id)!"
            :zoom="drawn.zoom"
            :cursor-slot="cursor?.stationId === drawn.id ? cursor.slot : null"
            :has-cursor="cursor !== null"
            :focus-id="focus?.id ?? null"
            :selected="selected"
            :inserting="inserting?.stationId === drawn.id ? inserting : null"
            :troubles="troubles"
            :drag="drag"
            :others="others"
            :marks="marks"
            @walk="on.walk"
            @open="on.open"
            @toggle="on.toggle"
            @extend="on.extend"
            @insert="on.insert"
            @take="on.take"
            @close="on.close"
          />
        </div>
      </div>
    </div>
    <p v-else-if="!isFolded" class="hint">
      No station hangs on this network yet. Add one: its head module comes from a file on the Shelf.
    </p>
  </section>
</template>

<style scoped src="./head-row.css"></style>
<style scoped>
.cables {
  font: 12.5px/1.3 var(--narrow);
}
.cables.wrong {
  color: var(--accent);
}
.band {
  margin-bottom: 14px;
}
/* Lanes stand in the document as their places were made; each says where it belongs. */
.lanes {
  display: flex;
  flex-direction: column;
}
.lanes > div {
  flex: none;
}
/* Not to be seen and not to be found, but laid out: the next lane is drawn over it. */
.resting {
  height: 0;
  content-visibility: hidden;
}
.band-head {
  display: flex;
  align-items: center;
  gap: 12px;
  position: sticky;
  left: -4px;
  width: max-content;
  border-left: 4px solid var(--trunk);
  margin-left: 10px;
  padding: 3px 0 5px 4px;
}
.band-head.target {
  outline: 2px dashed var(--accent);
}
.fold {
  border: 0;
  background: none;
  color: var(--ink-2);
  width: 18px;
  padding: 0;
  margin-right: -12px;
  cursor: pointer;
}
.band-name {
  font: 600 14px/1.2 var(--sans);
}
.waiting {
  position: sticky;
  left: 0;
  width: max-content;
  margin-left: 10px;
  padding: 1px 0 0 24px;
  border-left: 4px solid var(--trunk);
  color: var(--ink-2);
  font: 600 13px/17px var(--sans);
}
.hint {
  margin-left: 26px;
  color: var(--ink-2);
  padding: 6px 0;
}
.why {
  padding: 4px 9px;
  background: var(--ink);
  color: var(--paper);
  font: 12px/1.35 var(--narrow);
}
</style>
