<script setup lang="ts">
import { computed } from 'vue'
import { useProject } from '../stores/project'
import FixButtons from './FixButtons.vue'

/** Findings about one thing, with their fixes. */
const props = defineProps<{
  ids: readonly string[]
  notes?: boolean
  empty?: string
  /** Only of these rules. */
  codes?: ReadonlySet<string>
}>()
const project = useProject()
const own = computed(() =>
  (project.findings?.all ?? []).filter(
    ({ at, severity, code }) =>
      props.ids.includes(at.id) &&
      (props.notes || severity !== 'note') &&
      (!props.codes || props.codes.has(code)),
  ),
)
</script>

<template>
  <ul v-if="own.length > 0" class="findings">
    <li v-for="finding in own" :key="finding.code + finding.at.id" :class="finding.severity">
      <p>{{ finding.message }}</p>
      <FixButtons :finding="finding" />
    </li>
  </ul>
  <p v-else-if="empty" class="quiet">{{ empty }}</p>
</template>

<style scoped>
.findings {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
li {
  border-left: 3px solid var(--warn);
  background: var(--paper-2);
  padding: 6px 10px;
  font: 13px/1.35 var(--narrow);
}
li.note {
  border-left-color: var(--line);
}
li.blocker {
  border-left-color: var(--accent);
}
.n-button {
  margin: 5px 6px 0 0;
}
</style>
