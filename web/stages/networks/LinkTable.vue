<script setup lang="ts">
import { media, type CommandOf, type WiredLink, type WiredNetwork } from '@kataxis/core'
import { NButton } from 'naive-ui'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import TypedInput from '../../parts/TypedInput.vue'
import { useProject } from '../../stores/project'
import type { Chosen } from './useNetworks'
import { linkWords, mediumChoices, portWords, shareWords } from './wire-words'

/** All links of a network, a row each, to be edited where they stand. */
const props = defineProps<{ wired: WiredNetwork; disabled: boolean }>()
const emit = defineEmits<{ choose: [chosen: Chosen] }>()
const project = useProject()
const columns: readonly RowColumn<WiredLink>[] = [
  { key: 'from', title: 'From', width: 138, text: ({ from }) => portWords(props.wired, from) },
  { key: 'to', title: 'To', width: 152, text: ({ to }) => portWords(props.wired, to) },
  {
    key: 'medium',
    title: 'Medium',
    width: 122,
    text: ({ link }) => media[link.medium].word,
    choices: true,
  },
  { key: 'length', title: 'Length', width: 86, sorts: ({ link }) => link.lengthM ?? -1 },
  { key: 'cable', title: 'Cable', width: 102, text: ({ link }) => link.cable },
  { key: 'label', title: 'Label', width: 84, text: ({ link }) => link.label },
  {
    key: 'towards',
    title: 'In',
    width: 72,
    isNumber: true,
    text: ({ towards }) => shareWords(towards),
    sorts: ({ towards }) => towards ?? -1,
  },
  {
    key: 'away',
    title: 'Out',
    width: 72,
    isNumber: true,
    text: ({ away }) => shareWords(away),
    sorts: ({ away }) => away ?? -1,
  },
]
type Words = CommandOf<'updateLinks'>['edits'][number]['set']
const set = ({ from }: WiredLink, words: Words) =>
  project.run({ type: 'updateLinks', edits: [{ at: from, set: words }] })
const named = (what: string, row: WiredLink) => `${what} of ${linkWords(props.wired, row)}`
</script>

<template>
  <div class="table">
    <RowTable
      label="Links"
      :rows="wired.links"
      :columns="columns"
      :key-of="({ id }) => id"
      height="fill"
      wide
      empty="No links yet: link the stations as a line, or paste a list."
    >
      <template #from="{ row }">
        <NButton text @click="emit('choose', { kind: 'link', id: row.id })">{{
          portWords(wired, row.from)
        }}</NButton>
      </template>
      <template #medium="{ row }">
        <PickField
          size="tiny"
          :label="named('Medium', row)"
          :value="row.link.medium"
          :options="mediumChoices"
          :disabled="disabled"
          @update:value="set(row, { medium: $event })"
        />
      </template>
      <template #length="{ row }">
        <NumberField
          :label="named('Length', row)"
          size="small"
          optional
          unit="m"
          :min="0"
          :max="100000"
          :value="row.link.lengthM"
          :disabled="disabled"
          @update:value="set(row, { lengthM: $event })"
        />
      </template>
      <template v-for="part in ['cable', 'label'] as const" #[part]="{ row }" :key="part">
        <TypedInput
          size="small"
          :label="named(part === 'cable' ? 'Cable' : 'Label', row)"
          :value="row.link[part]"
          :disabled="disabled"
          @change="set(row, { [part]: $event.trim() })"
        />
      </template>
    </RowTable>
  </div>
</template>

<style scoped>
.table {
  height: 100%;
  padding: 8px 18px 12px;
}
</style>
