<script setup lang="ts">
import { formatNames, numbered } from '@kataxis/core'
import type { RouteLocationRaw } from 'vue-router'
import type { ShelfFile } from '../../api/client'
import { useProject } from '../../stores/project'

/** One file on the Shelf: what it is of, how much it offers, who uses it. */
defineProps<{ entry: ShelfFile; byMaker: boolean; used: number; to: RouteLocationRaw }>()
const project = useProject()
</script>

<template>
  <RouterLink class="spine" :to="to" :title="entry.name">
    <span class="maker"
      >{{
        byMaker
          ? entry.summary.protocol || entry.summary.adds > 0
            ? formatNames[entry.summary.format]
            : ''
          : entry.summary.vendor
      }}
      {{ entry.summary.formatVersion }}</span
    >
    <strong>{{ entry.summary.family || entry.name }}</strong>
    <span v-if="entry.summary.adds > 0" class="counts"
      >adds to {{ numbered(entry.summary.adds, 'head or module', 'heads and modules') }}</span
    >
    <span v-else class="counts"
      >{{ numbered(entry.summary.heads, 'head')
      }}<template v-if="entry.summary.modules > 0">
        · {{ numbered(entry.summary.modules, 'module') }}</template
      ></span
    >
    <span class="counts">{{
      entry.summary.offers.join(' ') || (entry.summary.adds > 0 ? '' : 'no named data')
    }}</span>
    <span class="marks">
      <span v-if="project.plan?.project.supplements.includes(entry.sha256)"
        >used by this project</span
      >
      <span v-else-if="used > 0">used by {{ numbered(used, 'station') }}</span>
      <span v-if="entry.summary.errors > 0" class="errors"
        >▲ {{ numbered(entry.summary.errors, 'error') }}</span
      >
      <span v-else-if="entry.summary.warnings > 0"
        >△ {{ numbered(entry.summary.warnings, 'warning') }}</span
      >
    </span>
  </RouterLink>
</template>

<style scoped>
.spine {
  display: grid;
  gap: 1px;
  align-content: start;
  min-height: 92px;
  padding: 8px 12px;
  border: 1px solid var(--line);
  border-bottom: 0;
  border-left: 5px solid var(--ink-2);
  background: var(--paper-2);
  color: var(--ink);
  text-decoration: none;
  overflow: hidden;
}
.spine:hover,
.spine:focus-visible {
  background: var(--paper);
  border-left-color: var(--accent);
}
.spine strong {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.maker,
.counts,
.marks {
  font: 12px/1.35 var(--narrow);
  color: var(--ink-2);
}
.marks {
  display: flex;
  gap: 8px;
}
.errors {
  color: var(--accent);
}
</style>
