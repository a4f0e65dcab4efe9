<script setup lang="ts">
import { readFieldType, readOffset, wordFieldType, wordOffset, type DataField } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import PickField from '../../parts/PickField.vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import TypedInput from '../../parts/TypedInput.vue'
import { useProject } from '../../stores/project'

/** Fields over a block of data, each of which can be changed in its row. */
const props = defineProps<{
  fields: readonly DataField[]
  faults: ReadonlyMap<number, string>
  disabled: boolean
}>()
const emit = defineEmits<{
  edit: [index: number, set: Partial<DataField>]
  remove: [index: number]
}>()
const project = useProject()
interface Row {
  readonly index: number
  readonly field: DataField
}
const rows = computed(() => props.fields.map((field, index): Row => ({ index, field })))
const columns: readonly RowColumn<Row>[] = [
  { key: 'offset', title: 'Octet.bit', width: 96, isFixed: true },
  { key: 'type', title: 'Type', width: 116, isFixed: true },
  { key: 'bits', title: 'Bits', width: 74, isFixed: true },
  { key: 'name', title: 'Name', isFixed: true },
  { key: 'order', title: 'Octets', width: 124, isFixed: true },
  { key: 'gone', title: '', width: 44, isFixed: true },
]
function setOffset(index: number, text: string): void {
  const offsetBits = readOffset(text)
  if (offsetBits === null)
    return project.tell(`"${text}" is no place; octet and bit such as 3.5 are needed, or 0x1F.`)
  emit('edit', index, { offsetBits })
}
function setType(index: number, text: string): void {
  const type = readFieldType(text)
  if (!type)
    return project.tell(
      `"${text}" is no type; BOOL, UINT, INT12, REAL, 6 octets, unused and port 1 are some.`,
    )
  emit('edit', index, {
    type: type.type,
    ...(type.bits !== null && { bits: type.bits }),
    port: type.port,
  })
}
function setBits(index: number, text: string): void {
  const bits = Number(text)
  if (!Number.isInteger(bits) || bits < 1)
    return project.tell(`"${text}" is no number of bits; a whole number from 1 is needed.`)
  emit('edit', index, { bits })
}
const orders = [
  { value: '', label: 'as usual' },
  { value: 'big', label: 'highest first' },
  { value: 'little', label: 'lowest first' },
]
const hasOrder = ({ bits, type }: DataField) =>
  bits > 8 && (type === 'unsigned' || type === 'signed' || type === 'float')
</script>

<template>
  <RowTable
    label="Fields"
    :rows="rows"
    :columns="columns"
    :key-of="({ index }) => String(index)"
    height="fill"
    empty="No field yet: add one below, or paste a table from the data sheet."
    :class-of="({ index }) => (faults.has(index) ? 'faulty' : '')"
  >
    <template #offset="{ row }">
      <TypedInput
        :label="`Place of field ${row.index + 1}`"
        mono
        size="small"
        :disabled="disabled"
        :wrong="faults.has(row.index)"
        :value="wordOffset(row.field.offsetBits)"
        @change="setOffset(row.index, $event)"
      />
    </template>
    <template #type="{ row }">
      <TypedInput
        :label="`Type of field ${row.index + 1}`"
        mono
        size="small"
        :disabled="disabled"
        :value="wordFieldType(row.field)"
        @change="setType(row.index, $event)"
      />
    </template>
    <template #bits="{ row }">
      <TypedInput
        :label="`Bits of field ${row.index + 1}`"
        mono
        size="small"
        :disabled="disabled"
        :value="String(row.field.bits)"
        @change="setBits(row.index, $event)"
      />
    </template>
    <template #name="{ row }">
      <TypedInput
        :label="`Name of field ${row.index + 1}`"
        size="small"
        :disabled="disabled"
        :value="row.field.name"
        @change="emit('edit', row.index, { name: $event.trim().slice(0, 200) })"
      />
      <span v-if="faults.has(row.index)" class="fault" role="alert">{{
        faults.get(row.index)
      }}</span>
    </template>
    <template #order="{ row }">
      <PickField
        v-if="hasOrder(row.field)"
        :label="`Order of the octets of field ${row.index + 1}`"
        size="small"
        :disabled="disabled"
        :value="row.field.order ?? ''"
        :options="orders"
        @update:value="
          emit('edit', row.index, { order: ($event || undefined) as DataField['order'] })
        "
      />
    </template>
    <template #gone="{ row }">
      <NButton
        size="small"
        quaternary
        :disabled="disabled"
        :aria-label="`Remove field ${row.index + 1}`"
        @click="emit('remove', row.index)"
      >
        ×
      </NButton>
    </template>
  </RowTable>
</template>

<style scoped>
.fault {
  display: block;
  font: 12px/1.3 var(--narrow);
  color: var(--accent);
}
</style>
