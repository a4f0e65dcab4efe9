<script setup lang="ts">
import { computed } from 'vue'

const props = defineProps<{ label: string; used: number; limit: number | null; unit: string }>()
const share = computed(() => (props.limit ? Math.min(100, (100 * props.used) / props.limit) : 0))
const isOver = computed(() => props.limit !== null && props.used > props.limit)
</script>

<template>
  <div class="bar" :class="{ over: isOver }">
    <span>{{ label }}</span>
    <span class="track" aria-hidden="true"><span :style="{ width: `${share}%` }" /></span>
    <span class="figure"
      >{{ used }} of {{ limit ?? 'no stated limit' }} {{ limit === null ? '' : unit
      }}<template v-if="isOver"> – too much</template></span
    >
  </div>
</template>

<style scoped>
.bar {
  display: grid;
  grid-template-columns: 96px 1fr auto;
  gap: 10px;
  align-items: center;
  font: 12.5px/1.3 var(--narrow);
}
.track {
  height: 7px;
  background: var(--paper-3);
}
.track span {
  display: block;
  height: 100%;
  background: var(--ink-2);
}
.over .track span {
  background: var(--accent);
}
.figure {
  font-variant-numeric: tabular-nums;
  color: var(--ink-2);
}
</style>
