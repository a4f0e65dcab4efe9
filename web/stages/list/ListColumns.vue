<script setup lang="ts">
import {
  factColumns,
  listFields,
  type FactName,
  type ListField,
  type ListTable,
} from '@kataxis/core'
import ListOrderFields from './ListOrderFields.vue'
import PickField from '../../parts/PickField.vue'
import type { ListImport } from './useListImport'

/** What each column of the list is, as found from its heading, to be set otherwise here. */
const { of: list, table } = defineProps<{ of: ListImport; table: ListTable }>()
const { mapping, setColumn } = list

const fieldWords: Readonly<Record<Exclude<ListField, FactName>, string>> = {
  tag: 'Tag',
  comment: 'Comment',
  terminal: 'Terminal',
  address: 'Address',
  station: 'Station',
  slot: 'Slot',
  subslot: 'Subslot',
  channel: 'Channel',
  position: 'Position in the station',
  number: 'Running number',
  controller: 'Controller',
}
const wordField = (field: ListField) =>
  field in factColumns
    ? factColumns[field as FactName].heading
    : fieldWords[field as keyof typeof fieldWords]
const example = (column: number) =>
  table.rows.find(({ cells }) => (cells[column] ?? '') !== '')?.cells[column] ?? ''
</script>

<template>
  <aside tabindex="0" aria-label="Columns of the list">
    <h2>What the columns are</h2>
    <ul class="fields">
      <li v-for="(heading, i) in table.headings" :key="i">
        <label
          ><span class="heading">{{ heading || `Column ${i + 1}` }}</span
          ><small class="quiet">{{ example(i) }}</small>
          <PickField
            :label="heading || `Column ${i + 1}`"
            :value="mapping[i] ?? ''"
            :options="[
              { value: '', label: 'not used' },
              ...listFields.map((field) => ({ value: field, label: wordField(field) })),
            ]"
            @update:value="setColumn(i, $event as ListField | '')"
          />
        </label>
      </li>
    </ul>
    <ListOrderFields :of="list" />
    <p v-for="note in table.notes" :key="note" class="note">{{ note }}</p>
  </aside>
</template>

<style scoped>
aside {
  overflow: auto;
  padding: 12px 18px 40px;
  border-right: 1px solid var(--line);
}
.fields {
  list-style: none;
  margin: 8px 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.fields label {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 130px;
  gap: 0 8px;
  align-items: center;
}
.heading {
  font: 600 13px/1.3 var(--narrow);
}
.fields small {
  grid-row: 2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.fields .n-select {
  grid-row: 1 / 3;
  grid-column: 2;
}
.note {
  color: var(--warn);
  font: 12.5px/1.4 var(--narrow);
}
</style>
