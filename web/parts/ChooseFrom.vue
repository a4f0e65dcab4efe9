<script setup lang="ts">
import { numbered } from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import { useProject } from '../stores/project'
import type { Choosable } from './choosable'
import type { RowColumn } from './row-table'
import RowTable from './RowTable.vue'
import TextField from './TextField.vue'

/** What a page can be opened for, while nothing is chosen: searched, by station, only with findings. */
const props = defineProps<{
  /** What one is called. */
  one: string
  choices: readonly Choosable[]
  /** Said where there is nothing to choose from. */
  empty: string
}>()
const emit = defineEmits<{ choose: [id: string] }>()
const project = useProject()
const text = ref('')
const onlyWrong = ref(false)

const wrongOf = computed(() => {
  const counts = new Map<string, number>()
  for (const { at, severity } of project.findings?.all ?? [])
    if (severity !== 'note') counts.set(at.id, (counts.get(at.id) ?? 0) + 1)
  return counts
})
const rows = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props.choices
    .map((choice) => ({ ...choice, wrong: wrongOf.value.get(choice.id) ?? 0 }))
    .filter(
      ({ station, place, name, info, wrong }) =>
        (!onlyWrong.value || wrong > 0) &&
        words.every((word) => `${station} ${place} ${name} ${info}`.toLowerCase().includes(word)),
    )
})
type Row = (typeof rows.value)[number]
const columns: readonly RowColumn<Row>[] = [
  { key: 'name', title: props.one },
  { key: 'info', title: 'Is' },
  { key: 'station', title: 'Station', width: 170, choices: true },
  { key: 'place', title: 'Place', width: 150 },
  {
    key: 'wrong',
    title: 'Findings',
    width: 110,
    isNumber: true,
    text: ({ wrong }) => (wrong > 0 ? String(wrong) : ''),
    sorts: ({ wrong }) => wrong,
  },
]
</script>

<template>
  <section class="choose" :aria-label="`Choose: ${one}`">
    <div class="tools">
      <TextField
        v-model:value="text"
        label="Search"
        type="search"
        class="search"
        placeholder="Tag, station, type …"
      />
      <NCheckbox v-model:checked="onlyWrong">only with findings</NCheckbox>
      <span class="quiet">{{ numbered(rows.length, 'row') }}</span>
    </div>
    <RowTable
      :label="one"
      :rows="rows"
      :columns="columns"
      :key-of="({ id }) => id"
      height="fill"
      :empty="choices.length === 0 ? empty : 'Nothing has these words.'"
    >
      <template #name="{ row }">
        <NButton text class="choice" @click="emit('choose', row.id)">{{ row.name }}</NButton>
      </template>
    </RowTable>
  </section>
</template>

<style scoped>
.choose {
  padding: 12px 18px;
  display: grid;
  gap: 8px;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.tools {
  display: flex;
  align-items: center;
  gap: 14px;
}
.search {
  width: 280px;
}
.choice {
  font-weight: 600;
  text-decoration: underline;
  text-underline-offset: 3px;
  text-decoration-color: var(--line);
}
</style>
