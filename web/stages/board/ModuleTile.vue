<script setup lang="ts">
import { computed } from 'vue'
import { wordBytes, wordChannels, type DerivedModule } from '@kataxis/core'
import { pipBox, pipPaths } from './pips'

const props = defineProps<{ module: DerivedModule; trouble: string | null }>()
const label = computed(() => {
  const { described, layout } = props.module
  if (!described || !layout) return 'unknown'
  return wordChannels(layout) || (described.orderNumber ?? described.name)
})
const paths = computed(() => pipPaths(props.module))
const words = computed(() => {
  const { described, layout, slot, signals } = props.module
  if (!described || !layout) return `Slot ${slot}: not in the description file`
  const named = layout.channels.length === 0 ? '' : `, ${signals.size} of ${layout.channels.length} named`
  return `Slot ${slot}: ${described.name}, ${wordBytes(layout)}${named}${props.trouble ? `. ${props.trouble}` : ''}`
})
</script>

<template>
  <span class="tile" :class="{ trouble, unknown: !module.described }" :title="words">
    <span class="line"><span class="slot">{{ module.slot }}</span><span class="label">{{ label }}</span><span v-if="trouble" class="bang" aria-hidden="true">▲</span></span>
    <svg v-if="paths.length > 0" :viewBox="`0 0 ${pipBox.width} ${pipBox.height}`" :width="pipBox.width" :height="pipBox.height" aria-hidden="true">
      <path v-for="path in paths" :key="`${path.filled}${path.named}`" :d="path.d" :class="{ filled: path.filled, named: path.named }" />
    </svg>
    <span v-else class="plain">{{ module.described?.name ?? 'not in the file' }}</span>
    <span class="sr">{{ words }}</span>
  </span>
</template>

<style scoped>
.tile {
  display: grid;
  grid-template-rows: 14px 1fr;
  gap: 2px;
  height: 100%;
  padding: 3px 5px;
  text-align: left;
}
.line {
  display: flex;
  gap: 5px;
  align-items: baseline;
  font: 11px/14px var(--narrow);
  white-space: nowrap;
  overflow: hidden;
}
.slot {
  color: var(--ink-3);
  font-variant-numeric: tabular-nums;
}
.label {
  font-weight: 600;
  color: var(--ink);
  overflow: hidden;
  text-overflow: ellipsis;
}
.bang {
  color: var(--accent);
  margin-left: auto;
}
path {
  stroke: var(--ink-faint);
  stroke-width: 1;
  fill: none;
}
path.filled {
  fill: var(--ink-faint);
}
path.named {
  stroke: var(--ink);
  stroke-width: 1.3;
}
path.named.filled {
  fill: var(--ink);
}
.plain {
  font: 11px/1.3 var(--narrow);
  color: var(--ink-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
