<script setup lang="ts">
import { singleFailures, type SingleFailure, type WiredNetwork } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import type { Chosen } from './useNetworks'
import { linkWords } from './wire-words'

/** Every single failure with its cost, worst first: single points of failure are seen at once. */
const props = defineProps<{ wired: WiredNetwork }>()
const emit = defineEmits<{ show: [chosen: Chosen] }>()
const rows = computed(() => singleFailures(props.wired))
const isFree = ({ unreachable, drops, signals }: SingleFailure) =>
  unreachable + drops + signals === 0
const words = ({ link, node }: SingleFailure) =>
  link
    ? `Cut ${link.link.label ? `${link.link.label}: ` : ''}${linkWords(props.wired, link)}`
    : `Lose ${node!.name || '(no name)'}`
const columns: readonly RowColumn<SingleFailure>[] = [
  { key: 'what', title: 'What fails', text: words },
  {
    key: 'kind',
    title: 'Kind',
    width: 90,
    text: ({ link }) => (link ? 'link' : 'station'),
    choices: true,
  },
  {
    key: 'signals',
    title: 'Signals lost',
    width: 120,
    isNumber: true,
    sorts: (row) => row.signals,
  },
  {
    key: 'unreachable',
    title: 'Unreachable',
    width: 120,
    isNumber: true,
    sorts: (row) => row.unreachable,
  },
  { key: 'drops', title: 'Drop out', width: 100, isNumber: true, sorts: (row) => row.drops },
]
const keyOf = ({ link, node }: SingleFailure) => link?.id ?? node!.id
const show = ({ link, node }: SingleFailure) =>
  emit('show', link ? { kind: 'link', id: link.id } : { kind: 'node', id: node!.id })
</script>

<template>
  <div class="table">
    <RowTable
      label="Single failures"
      :rows="rows"
      :columns="columns"
      :key-of="keyOf"
      height="fill"
      empty="No links yet."
      :class-of="(row) => (isFree(row) ? 'free' : '')"
    >
      <template #what="{ row }">
        <NButton text @click="show(row)">{{ words(row) }}</NButton>
      </template>
    </RowTable>
  </div>
</template>

<style scoped>
.table {
  height: 100%;
  padding: 8px 18px 12px;
}
.table :deep(.free) {
  opacity: 0.65;
}
</style>
