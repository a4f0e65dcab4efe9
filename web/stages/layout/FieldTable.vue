<script setup lang="ts">
import { readFieldType, readOffset, wordFieldType, wordOffset, type DataField } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, nextTick, ref } from 'vue'
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
  { key: 'order', title: 'Order', width: 124, isFixed: true },
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
const wordOrder = (order: string) => orders.find(({ value }) => value === order)?.label ?? ''
/** The row that is being edited; all others are text, so that a thousand of them are there at once. */
const active = ref<number | null>(null)
const root = ref<HTMLElement>()
function open(index: number): void {
  active.value = index
  void nextTick(() =>
    root.value
      ?.querySelector<HTMLElement>(`input[aria-label="Place of field ${index + 1}"]`)
      ?.focus(),
  )
}
const hasOrder = ({ bits, type }: DataField) =>
  bits > 8 && (type === 'unsigned' || type === 'signed' || type === 'float')
</script>

<template>
  <div ref="root" class="table">
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
          v-if="active === row.index"
          :label="`Place of field ${row.index + 1}`"
          mono
          size="small"
          :disabled="disabled"
          :wrong="faults.has(row.index)"
          :value="wordOffset(row.field.offsetBits)"
          @change="setOffset(row.index, $event)"
        />
        <span v-else class="mono">{{ wordOffset(row.field.offsetBits) }}</span>
      </template>
      <template #type="{ row }">
        <TypedInput
          v-if="active === row.index"
          :label="`Type of field ${row.index + 1}`"
          mono
          size="small"
          :disabled="disabled"
          :value="wordFieldType(row.field)"
          @change="setType(row.index, $event)"
        />
        <span v-else class="mono">{{ wordFieldType(row.field) }}</span>
      </template>
      <template #bits="{ row }">
        <TypedInput
          v-if="active === row.index"
          :label="`Bits of field ${row.index + 1}`"
          mono
          size="small"
          :disabled="disabled"
          :value="String(row.field.bits)"
          @change="setBits(row.index, $event)"
        />
        <span v-else class="mono">{{ row.field.bits }}</span>
      </template>
      <template #name="{ row }">
        <TypedInput
          v-if="active === row.index"
          :label="`Name of field ${row.index + 1}`"
          size="small"
          :disabled="disabled"
          :value="row.field.name"
          @change="emit('edit', row.index, { name: $event.trim().slice(0, 200) })"
          @keydown.enter="active = row.index + 1"
        />
        <button
          v-else
          type="button"
          class="row-text"
          :disabled="disabled"
          :aria-label="`Edit field ${row.index + 1}, ${row.field.name || 'no name'}`"
          @click="open(row.index)"
        >
          {{ row.field.name || '–' }}
        </button>
        <span v-if="faults.has(row.index)" class="fault" role="alert">{{
          faults.get(row.index)
        }}</span>
      </template>
      <template #order="{ row }">
        <PickField
          v-if="active === row.index && hasOrder(row.field)"
          :label="`Order of the octets of field ${row.index + 1}`"
          size="small"
          :disabled="disabled"
          :value="row.field.order ?? ''"
          :options="orders"
          @update:value="
            emit('edit', row.index, { order: ($event || undefined) as DataField['order'] })
          "
        />
        <span v-else-if="row.field.order">{{ wordOrder(row.field.order) }}</span>
      </template>
      <template #gone="{ row }">
        <NButton
          v-if="active === row.index"
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
  </div>
</template>

<style scoped>
.table {
  min-height: 0;
}
.row-text {
  width: 100%;
  padding: 3px 0;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: text;
}
.row-text:focus-visible {
  outline: 2px solid var(--accent);
}
.fault {
  display: block;
  font: 12px/1.3 var(--narrow);
  color: var(--accent);
}
</style>
