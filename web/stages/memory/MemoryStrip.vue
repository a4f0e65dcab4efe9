<script setup lang="ts">
import type { Direction, MemoryMap } from '@kataxis/core'
import { onMounted, ref, watch } from 'vue'

/** Both images from top to bottom in a strip as high as the window: what is given out, by station;
 *  a click goes there. */
const props = defineProps<{
  map: MemoryMap
  bytes: number
  top: number
  shown: number
  theme: string
}>()
const emit = defineEmits<{ go: [byte: number] }>()
const canvas = ref<HTMLCanvasElement>()
const width = 26

function draw(): void {
  const element = canvas.value
  if (!element) return
  const { clientHeight } = element
  element.width = width
  element.height = clientHeight
  const pen = element.getContext('2d')!
  const style = getComputedStyle(element)
  const colours = [1, 2, 3, 4].map((number) => style.getPropertyValue(`--band-${number}`))
  const scale = clientHeight / Math.max(1, props.bytes)
  for (const [i, direction] of (['in', 'out'] as Direction[]).entries()) {
    for (const { start, bits, station, isInside } of props.map[direction].blocks) {
      if (isInside) continue
      pen.fillStyle = colours[station % 4]!
      pen.fillRect(i * 14, (start / 8) * scale, 12, Math.max(1, (bits / 8) * scale))
    }
  }
}
onMounted(draw)
watch(() => [props.map, props.bytes, props.theme], draw, { flush: 'post' })
const go = ({ offsetY, currentTarget }: PointerEvent) =>
  emit('go', Math.floor((offsetY / (currentTarget as HTMLElement).clientHeight) * props.bytes))
</script>

<template>
  <div class="strip" title="The whole image; a click goes there" @pointerdown="go">
    <canvas ref="canvas" aria-hidden="true" />
    <span
      class="window"
      :style="{
        top: `${(top / Math.max(1, bytes)) * 100}%`,
        height: `${Math.min(100, (shown / Math.max(1, bytes)) * 100)}%`,
      }"
    />
  </div>
</template>

<style scoped>
.strip {
  position: relative;
  flex: none;
  width: 34px;
  padding: 0 4px;
  border-right: 1px solid var(--line);
  background: var(--paper-2);
  cursor: pointer;
}
canvas {
  width: 26px;
  height: 100%;
  display: block;
  pointer-events: none;
}
.window {
  position: absolute;
  left: 0;
  right: 0;
  min-height: 6px;
  border: 1px solid var(--ink);
  pointer-events: none;
}
</style>
