<script setup lang="ts">
import type { DataItem } from '@kataxis/core'
import { NTable } from 'naive-ui'
import { computed } from 'vue'
import { bitRows } from './bit-rows'

/** Data both ways drawn to the bit: one row an octet, bit 7 left. */
const props = defineProps<{
  data: {
    readonly inputs: readonly DataItem[]
    readonly inputBytes: number
    readonly outputs: readonly DataItem[]
    readonly outputBytes: number
  }
  fromEnd?: boolean
  /** Octets each way that are drawn; 64 where left out. */
  most?: number
}>()
const mostRows = computed(() => props.most ?? 64)
const rows = computed(() => [
  ...bitRows(
    props.data.inputs,
    props.data.inputBytes,
    'in',
    props.fromEnd ?? false,
    mostRows.value,
  ),
  ...bitRows(
    props.data.outputs,
    props.data.outputBytes,
    'out',
    props.fromEnd ?? false,
    mostRows.value,
  ),
])
const hidden = computed(
  () =>
    Math.max(0, props.data.inputBytes - mostRows.value) +
    Math.max(0, props.data.outputBytes - mostRows.value),
)
</script>

<template>
  <NTable size="small" :bordered="false" class="strip">
    <thead>
      <tr>
        <th scope="col" class="octet">Octet</th>
        <th v-for="bit in 8" :key="bit" scope="col">{{ 8 - bit }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.label">
        <th scope="row">{{ row.label }}</th>
        <td
          v-for="(cell, i) in row.cells"
          :key="i"
          :colspan="cell.bits"
          :class="{ unused: cell.unused, more: cell.words === '…' }"
          :title="cell.words"
        >
          {{ cell.words }}
        </td>
      </tr>
    </tbody>
  </NTable>
  <p v-if="hidden > 0" class="quiet">{{ hidden }} more octets are not drawn.</p>
</template>

<style scoped>
.strip {
  border-collapse: collapse;
  width: 100%;
  max-width: 880px;
  table-layout: fixed;
  font: 12px/1.3 var(--narrow);
  margin: 4px 0 8px;
}
.strip th,
.strip td {
  border: 1px solid var(--line);
  padding: 3px 6px;
  text-align: center;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.strip th {
  font: 11px/1.3 var(--mono);
  color: var(--ink-2);
  font-weight: 400;
}

.octet {
  width: 74px;
}
.strip td {
  background: var(--paper-2);
}
.strip td.unused {
  background: transparent;
}
</style>
