<script setup lang="ts">
import type { Derived } from '@kataxis/core'
import { useElementSize } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'
import { usePreferences } from '../../stores/preferences'
import type { BoardWindow } from './useBoardWindow'
import { zooms, type Zoom } from './zooms'

/** The whole plant in one strip: a line a station, as long as it is full, dark as far as it is
 *  named; a click goes there. */
const props = defineProps<{
  derived: Derived
  zoom: Zoom
  window: BoardWindow
  troubles: ReadonlyMap<string, string>
  board: HTMLElement | null
}>()
const canvas = ref<HTMLCanvasElement>()
const { height } = useElementSize(canvas)
const preferences = usePreferences()
const width = 44

const stations = computed(() =>
  props.derived.controllers.flatMap(({ networks }) =>
    networks.flatMap(({ stations: own, network }) =>
      own.map((view) => ({ view, networkId: network.id })),
    ),
  ),
)
const most = computed(() => Math.max(1, ...stations.value.map(({ view }) => view.channels)))
const stationsWithTrouble = computed(
  () =>
    new Set(
      stations.value
        .filter(({ view }) => view.modules.some(({ id }) => props.troubles.has(id)))
        .map(({ view }) => view.id),
    ),
)

watchEffect(() => {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value || height.value === 0) return
  void preferences.theme
  canvas.value.height = height.value
  const style = getComputedStyle(canvas.value)
  const colour = (name: string) => style.getPropertyValue(name)
  const each = height.value / stations.value.length
  context.clearRect(0, 0, width, height.value)
  for (const [i, { view }] of stations.value.entries()) {
    const length = 6 + (width - 10) * (view.channels / most.value)
    context.fillStyle = colour('--ink-faint')
    context.fillRect(4, i * each, length, Math.max(1, each * 0.8))
    context.fillStyle = colour('--ink-2')
    if (view.channels > 0)
      context.fillRect(4, i * each, length * (view.named / view.channels), Math.max(1, each * 0.8))
    if (stationsWithTrouble.value.has(view.id)) {
      context.fillStyle = colour('--accent')
      context.fillRect(0, i * each, 3, Math.max(2, each))
    }
  }
})

const shown = computed(() => {
  const whole = props.board?.scrollHeight ?? 1
  void props.zoom
  return {
    top: `${(100 * props.window.top.value) / whole}%`,
    height: `${Math.min(100, (100 * props.window.height.value) / whole)}%`,
  }
})
function goTo(event: MouseEvent): void {
  if (!props.board) return
  const share = event.offsetY / height.value
  props.window.scrollTo(share * props.board.scrollHeight - props.window.height.value / 2)
}
const words = computed(
  () => `${stations.value.length} stations, lanes of ${zooms[props.zoom].lane} pixels`,
)
</script>

<template>
  <div class="strip" :title="words" aria-hidden="true" @click="goTo">
    <canvas ref="canvas" :width="width" />
    <div class="shown" :style="shown" />
  </div>
</template>

<style scoped>
.strip {
  position: relative;
  flex: none;
  width: 44px;
  border-left: 1px solid var(--line);
  background: var(--paper-2);
  cursor: pointer;
}
canvas {
  width: 44px;
  height: 100%;
  display: block;
}
.shown {
  position: absolute;
  left: 0;
  right: 0;
  min-height: 6px;
  border: 1px solid var(--accent);
  pointer-events: none;
}
@media print {
  .strip {
    display: none;
  }
}
</style>
