<script setup lang="ts">
import {
  singleFailures,
  supplyFailures,
  type SingleFailure,
  type SupplyFailure,
  type WiredNetwork,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import { useProject } from '../../stores/project'
import type { Chosen } from './useNetworks'
import { linkWords } from './wire-words'

/** Every single failure with its cost, worst first: single points of failure are seen at once. */
const props = defineProps<{ wired: WiredNetwork }>()
const emit = defineEmits<{ show: [chosen: Chosen] }>()
const project = useProject()
type Failure = SingleFailure | SupplyFailure
/** Supplies on which something of this network hangs; they cost what they cost in all networks. */
const supplies = computed(() =>
  project.derived
    ? supplyFailures(project.derived).filter(({ supply }) =>
        supply.fed.some(({ view }) => props.wired.nodes.some(({ id }) => id === view.id)),
      )
    : [],
)
const rows = computed<Failure[]>(() =>
  [...singleFailures(props.wired), ...supplies.value].sort(
    (a, b) => b.signals - a.signals || b.unreachable - a.unreachable,
  ),
)
const isFree = ({ unreachable, drops, signals }: Failure) => unreachable + drops + signals === 0
/** What fails, as the stage chooses it. */
function failing(row: Failure): NonNullable<Chosen> {
  if ('supply' in row) return { kind: 'supply', id: row.supply.view.id }
  return row.link ? { kind: 'link', id: row.link.id } : { kind: 'node', id: row.node!.id }
}
function words(row: Failure): string {
  if ('supply' in row) return `Lose ${row.supply.view.station.name || '(no name)'}`
  const { link, node } = row
  return link
    ? `Cut ${link.link.label ? `${link.link.label}: ` : ''}${linkWords(props.wired, link)}`
    : `Lose ${node!.name || '(no name)'}`
}
const kindWords = { link: 'link', node: 'station', supply: 'supply' } as const
const columns: readonly RowColumn<Failure>[] = [
  { key: 'what', title: 'What fails', text: words },
  {
    key: 'kind',
    title: 'Kind',
    width: 90,
    text: (row) => kindWords[failing(row).kind],
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
const keyOf = (row: Failure) => failing(row).id
const show = (row: Failure) => emit('show', failing(row))
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
