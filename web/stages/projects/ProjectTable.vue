<script setup lang="ts">
import { roles, type ListedProject } from '@kataxis/core'
import { MoreHorizontal } from '@lucide/vue'
import { NButton, NDropdown } from 'naive-ui'
import type { RowColumn } from '../../parts/row-table'
import RowTable from '../../parts/RowTable.vue'
import { timeWords } from '../../parts/time-words'
import { actionsFor, type ProjectAction } from './project-actions'

/** Projects with their last change and what can be done to them. */
defineProps<{ label: string; projects: readonly ListedProject[]; empty?: string }>()
const emit = defineEmits<{ act: [what: ProjectAction, project: ListedProject] }>()

const columns: readonly RowColumn<ListedProject>[] = [
  { key: 'name', title: 'Project' },
  {
    key: 'at',
    title: 'Last change',
    width: 200,
    text: ({ at }) => timeWords(String(at)),
    sorts: ({ at }) => Date.parse(String(at)),
  },
  { key: 'by', title: 'By', width: 150, text: ({ by }) => by ?? '–' },
  {
    key: 'access',
    title: 'Open to',
    width: 130,
    text: ({ isOpen, role }) => (isOpen ? 'everyone' : `members (${roles[role].name})`),
  },
  { key: 'more', title: '', width: 90, isFixed: true },
]
</script>

<template>
  <RowTable
    :label="label"
    :rows="projects"
    :columns="columns"
    :key-of="({ id }) => id"
    :empty="empty"
  >
    <template #name="{ row }">
      <RouterLink v-if="row.state !== 'deleted'" :to="`/p/${row.id}/overview`" class="name">{{
        row.name
      }}</RouterLink>
      <span v-else
        >{{ row.name }}
        <small v-if="row.goneAt" class="quiet"
          >until {{ timeWords(String(row.goneAt)) }}</small
        ></span
      >
    </template>
    <template #more="{ row }">
      <NButton
        v-if="row.state === 'deleted'"
        size="small"
        :aria-label="`Restore ${row.name}`"
        :disabled="actionsFor(row).length === 0"
        @click="emit('act', 'active', row)"
        >Restore</NButton
      >
      <NDropdown
        v-else-if="actionsFor(row).length > 0"
        trigger="click"
        :options="actionsFor(row).map(({ key, label }) => ({ key, label }))"
        @select="(what: ProjectAction) => emit('act', what, row)"
      >
        <NButton size="small" quaternary :aria-label="`More for ${row.name}`">
          <MoreHorizontal :size="16" aria-hidden="true" />
        </NButton>
      </NDropdown>
    </template>
  </RowTable>
</template>

<style scoped>
.name {
  color: var(--ink);
  font-weight: 600;
  text-underline-offset: 3px;
}
</style>
