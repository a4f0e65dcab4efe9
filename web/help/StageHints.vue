<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { stageHelp } from './stage-help'

/** What is easily overlooked on a stage; shown until it is dismissed, then never again. */
const props = defineProps<{ stage: string }>()
/** Stages whose hints were dismissed; `all`: those of every stage. */
const dismissed = useStorage<readonly string[]>('kataxis.hints-dismissed', [])
const help = computed(() =>
  dismissed.value.includes('all') || dismissed.value.includes(props.stage)
    ? undefined
    : stageHelp[props.stage],
)
const dismiss = (what: string) => (dismissed.value = [...dismissed.value, what])
</script>

<template>
  <section v-if="help" class="hints" :aria-label="`Hints for ${help.title}`">
    <ul>
      <li v-for="hint in help.hints" :key="hint">{{ hint }}</li>
    </ul>
    <NButton size="small" @click="dismiss(stage)">Dismiss</NButton>
    <NButton size="small" quaternary @click="dismiss('all')">Hide all hints</NButton>
  </section>
</template>

<style scoped>
.hints {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 5px 12px;
  border-bottom: 1px solid var(--line);
  background: var(--paper-2);
}
ul {
  flex: 1;
  margin: 0;
  padding: 0;
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 22px;
  font: 12.5px/1.35 var(--narrow);
  color: var(--ink-2);
}
li::before {
  content: '· ';
  color: var(--accent);
  font-weight: 700;
}
</style>
