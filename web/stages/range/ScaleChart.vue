<script setup lang="ts">
import type { Chain, Scaling } from '@kataxis/core'
import { computed, ref } from 'vue'
import { heightsOf, scalesOf, signalAtHeight } from './scales'

/** The aligned scales of a chain with the probe across them; another scaling leaves the line at the
 *  counts. */
const props = withDefaults(
  defineProps<{ chain: Chain; signal: number; other: Scaling | null; small?: boolean }>(),
  { small: false },
)
const emit = defineEmits<{ probe: [signal: number] }>()

const size = computed(() =>
  props.small
    ? { width: 250, height: 150, left: 26, gap: 48, top: 18, bottom: 12 }
    : { width: 760, height: 440, left: 70, gap: 150, top: 44, bottom: 18 },
)
const scales = computed(() => scalesOf(props.chain))
const x = (i: number) => size.value.left + i * size.value.gap
const y = (height: number) =>
  size.value.height -
  size.value.bottom -
  height * (size.value.height - size.value.top - size.value.bottom)
const heights = computed(() => heightsOf(props.chain, props.signal, props.other))
const cut = (height: number) => Math.min(1.04, Math.max(-0.04, height))
const svg = ref<SVGSVGElement>()

function take(event: PointerEvent): void {
  const box = svg.value!.getBoundingClientRect()
  const at = ((event.clientY - box.top) / box.height) * size.value.height
  emit(
    'probe',
    signalAtHeight(
      props.chain,
      (size.value.height - size.value.bottom - at) /
        (size.value.height - size.value.top - size.value.bottom),
    ),
  )
}
function start(event: PointerEvent): void {
  if (props.small) return
  svg.value!.setPointerCapture(event.pointerId)
  take(event)
}
function move(event: PointerEvent): void {
  if (!props.small && svg.value!.hasPointerCapture(event.pointerId)) take(event)
}
const keySteps: Readonly<Record<string, number>> = {
  ArrowUp: 0.01,
  ArrowDown: -0.01,
  PageUp: 0.1,
  PageDown: -0.1,
}
function key(event: KeyboardEvent): void {
  const step = keySteps[event.key]
  if (step === undefined) return
  event.preventDefault()
  emit('probe', signalAtHeight(props.chain, heights.value.at + step))
}
</script>

<template>
  <svg
    ref="svg"
    class="chart"
    :class="{ small }"
    :viewBox="`0 0 ${size.width} ${size.height}`"
    :role="small ? 'img' : 'slider'"
    :tabindex="small ? undefined : 0"
    :aria-label="small ? 'Scales of the signal' : 'Probe: arrow keys move it'"
    :aria-valuenow="small ? undefined : signal"
    @pointerdown="start"
    @pointermove="move"
    @keydown="key"
  >
    <g v-for="(scale, i) in scales" :key="scale.name">
      <rect
        v-for="band in scale.bands"
        :key="`${band.kind}${band.from}`"
        :class="band.kind"
        :x="x(i) - (small ? 5 : 9)"
        :width="small ? 10 : 18"
        :y="y(band.to)"
        :height="Math.max(0, y(band.from) - y(band.to))"
      >
        <title>{{ band.words }}</title>
      </rect>
      <line class="axis" :x1="x(i)" :x2="x(i)" :y1="y(0)" :y2="y(1)" />
      <template v-if="!small">
        <text class="heading" :x="x(i)" y="14">{{ scale.heading }}</text>
        <text class="unit" :x="x(i)" y="30">{{ scale.unit }}</text>
        <g v-for="tick in scale.ticks" :key="tick.words" class="tick">
          <line :x1="x(i) - 5" :x2="x(i) + 5" :y1="y(tick.at)" :y2="y(tick.at)" />
          <text
            :x="x(i) + (scale.name === 'program' ? 14 : -14)"
            :y="y(tick.at) + 4"
            :text-anchor="scale.name === 'program' ? 'start' : 'end'"
          >
            {{ tick.words }}
          </text>
        </g>
        <text
          v-for="band in scale.bands.filter(
            ({ kind, from, to }) => kind !== 'range' && to - from > 0.03,
          )"
          :key="`w${band.kind}${band.from}`"
          class="band-words"
          :x="x(i) + 13"
          :y="(y(band.from) + y(band.to)) / 2 + 4"
        >
          {{ band.words }}
        </text>
      </template>
      <text v-else class="unit" :x="x(i)" y="11">{{ scale.unit }}</text>
    </g>
    <line
      v-if="heights.wrong !== null"
      class="wrong"
      :x1="x(3)"
      :x2="x(4)"
      :y1="y(cut(heights.at))"
      :y2="y(cut(heights.wrong))"
    />
    <circle
      v-if="heights.wrong !== null"
      class="wrong-end"
      :cx="x(4)"
      :cy="y(cut(heights.wrong))"
      :r="small ? 3 : 4.5"
    />
    <line class="probe" :x1="x(0)" :x2="x(4)" :y1="y(cut(heights.at))" :y2="y(cut(heights.at))" />
    <circle
      v-for="(_, i) in scales"
      :key="i"
      class="point"
      :cx="x(i)"
      :cy="y(cut(heights.at))"
      :r="small ? 2.5 : 4.5"
    />
  </svg>
</template>

<style scoped>
.chart {
  display: block;
  width: 100%;
  max-width: 720px;
  aspect-ratio: v-bind('`${size.width} / ${size.height}`');
  touch-action: none;
  cursor: ns-resize;
}
.small {
  cursor: default;
}
.axis {
  stroke: var(--ink-2);
}
.tick line {
  stroke: var(--ink-2);
}
.tick text,
.unit,
.band-words {
  font: 12px var(--mono);
  fill: var(--ink-2);
}
.small .unit {
  font-size: 9px;
}
.unit,
.heading {
  text-anchor: middle;
}
.heading {
  font: 600 13px var(--sans);
  fill: var(--ink);
}
.band-words {
  font: 11px var(--narrow);
}
.range {
  fill: var(--paper-3);
}
.margin {
  fill: var(--accent-soft);
}
.failure {
  fill: var(--accent);
  opacity: 0.55;
}
.blind {
  fill: none;
  stroke: var(--accent);
  stroke-dasharray: 3 3;
}
.probe {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.point {
  fill: var(--ink);
}
.wrong {
  stroke: var(--accent);
  stroke-width: 1.2;
  stroke-dasharray: 5 4;
}
.wrong-end {
  fill: var(--paper);
  stroke: var(--accent);
}
</style>
