<script setup lang="ts">
import { NButton } from 'naive-ui'
import type { Version } from '../../api/client'
import { timeWords } from '../../parts/time-words'

/** Named states of the plan. */
defineProps<{
  versions: readonly Version[]
  /** The revision that waits for a second one to be compared with. */
  from: number | null
}>()
const emit = defineEmits<{
  compare: [version: Version]
  back: [version: Version]
  forget: [version: Version]
}>()
</script>

<template>
  <ul v-if="versions.length > 0">
    <li v-for="version in versions" :key="version.name">
      <strong>{{ version.name }}</strong><small
        >r{{ version.revision }} · {{ version.author }} · {{ timeWords(version.at) }}</small
      >
      <span class="actions">
        <NButton size="small" @click="emit('compare', version)">
          {{ from === null ? 'Compare with now' : `Compare with r${from}` }}
        </NButton>
        <NButton size="small" @click="emit('back', version)">Back to it</NButton>
        <NButton
          size="small"
          quaternary
          :aria-label="`Delete the name ${version.name}`"
          @click="emit('forget', version)"
        >
          Delete name
        </NButton>
      </span>
    </li>
  </ul>
  <p v-else class="quiet">
    No version has a name yet. A name makes a state easy to find again, to compare and to go back
    to.
  </p>
</template>

<style scoped>
.actions {
  display: flex;
  gap: 6px;
  justify-content: flex-end;
  white-space: nowrap;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
  font: 13px/1.4 var(--narrow);
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 8px;
}
small {
  grid-row: 2;
  color: var(--ink-2);
}
li .actions {
  grid-row: 1 / 3;
  grid-column: 2;
  align-self: center;
}
</style>
