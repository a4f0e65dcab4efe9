<script setup lang="ts">
import { numbered, type FileSummary, type Problem } from '@kataxis/core'
import { shallowRef } from 'vue'
import SourceLines from './SourceLines.vue'

/** What is wrong in a file, each with its lines in the source. */
const { problems } = defineProps<{
  sha256: string
  summary: Pick<FileSummary, 'errors' | 'warnings'>
  problems: readonly Problem[]
}>()
const problem = shallowRef<Problem | null>(problems[0] ?? null)
</script>

<template>
  <section aria-label="Problems">
    <h2>
      {{ numbered(summary.errors, 'error') }} and {{ numbered(summary.warnings, 'warning') }} in the
      file
    </h2>
    <div class="problems">
      <ul tabindex="0" aria-label="List of problems">
        <li
          v-for="(one, i) in problems.slice(0, 200)"
          :key="i"
          :class="[one.severity, { chosen: one === problem }]"
        >
          <button :aria-pressed="one === problem" @click="problem = one">
            <span class="mono"
              >{{ one.severity === 'error' ? '▲' : '△' }} {{ one.line }}:{{ one.column }}</span
            >
            {{ one.message }}
          </button>
        </li>
      </ul>
      <SourceLines v-if="problem" :source="sha256" :problem="problem" />
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 4px;
}
.problems {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  gap: 12px;
  align-items: start;
}
.problems ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 220px;
  overflow: auto;
  font: 13px/1.4 var(--narrow);
}
.problems button {
  all: unset;
  display: block;
  cursor: pointer;
  padding: 2px 10px;
  border-left: 3px solid var(--warn);
}
.problems button:focus-visible {
  outline: 2px solid var(--accent);
  outline-offset: -2px;
}
.problems .error button {
  border-left-color: var(--accent);
}
.problems .chosen button {
  background: var(--paper-2);
}
</style>
