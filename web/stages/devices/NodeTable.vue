<script setup lang="ts">
import { newId, placeOf, type NodeRow } from '@kataxis/core'
import { computed } from 'vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import TypedInput from '../../parts/TypedInput.vue'
import { useProject } from '../../stores/project'

/** A gateway's table node by node: word, bits, and the tag of each bit; several lines of tags pasted
 *  into one field go on in the fields after it. */
const props = defineProps<{ nodes: readonly NodeRow[]; disabled: boolean }>()
const project = useProject()
const width = computed(() => Math.max(1, ...props.nodes.map(({ channels }) => channels.length)))
const columns = computed((): RowColumn<NodeRow>[] => [
  {
    key: 'node',
    title: 'Node',
    width: 64,
    isNumber: true,
    text: ({ slot }) => String(slot),
    sorts: ({ slot }) => slot,
  },
  {
    key: 'direction',
    title: 'Data',
    width: 84,
    text: ({ direction, module }) => (!module ? 'both' : direction === 'in' ? 'inputs' : 'outputs'),
    choices: true,
  },
  {
    key: 'word',
    title: 'Word',
    width: 70,
    isMono: true,
    isNumber: true,
    sorts: ({ word }) => word,
  },
  {
    key: 'bits',
    title: 'Bits',
    width: 84,
    isMono: true,
    text: ({ firstBit, bits }) => `${firstBit}–${firstBit + bits - 1}`,
  },
  {
    key: 'device',
    title: 'Device',
    width: 150,
    text: ({ module }) => module?.described?.name ?? 'free',
    choices: true,
  },
  ...Array.from({ length: Math.min(16, width.value) }, (_, i) => ({
    key: `bit${i}`,
    title: `Tag ${i}`,
    isFixed: true,
  })),
])
/** All fields in the order in which they are read. */
const fields = computed(() =>
  props.nodes.flatMap(({ module, channels }) =>
    channels.map(({ channel, signal }) => ({ module: module!, channel, signal })),
  ),
)
function setFrom(row: NodeRow, i: number, text: string): void {
  const tags = text.split(/[\t\n\r; ]+/).map((tag) => tag.trim())
  const start = fields.value.findIndex(({ channel }) => channel === row.channels[i]!.channel)
  const edits = tags.flatMap((tag, n) => {
    const field = fields.value[start + n]
    return field
      ? [
          {
            id: field.signal?.id ?? newId(),
            place: { moduleId: field.module.id, ...placeOf(field.channel) },
            tag,
          },
        ]
      : []
  })
  project.run({ type: 'editSignals', edits })
  if (edits.length < tags.length)
    project.tell(`${tags.length - edits.length} tags found no bit behind the last node.`)
}
</script>

<template>
  <div class="table">
    <RowTable
      label="Nodes and their words"
      :rows="nodes"
      :columns="columns"
      :key-of="({ slot, direction }) => `${slot} ${direction}`"
      height="fill"
    >
      <template v-for="i in 16" #[`bit${i-1}`]="{ row }" :key="i">
        <TypedInput
          v-if="row.channels[i - 1]"
          :label="`Tag of node ${row.slot} ${row.direction}, ${row.channels[i - 1]!.channel.name}`"
          mono
          size="small"
          :disabled="disabled"
          :value="row.channels[i - 1]!.signal?.tag ?? ''"
          :placeholder="row.channels[i - 1]!.channel.name"
          @change="setFrom(row, i - 1, $event)"
        />
      </template>
    </RowTable>
  </div>
</template>

<style scoped>
.table {
  padding: 8px 18px 12px;
  min-height: 0;
}
</style>
