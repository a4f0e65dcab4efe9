<script setup lang="ts">
import type { WrittenSheet } from '@kataxis/core'
import { NButton } from 'naive-ui'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import TypedInput from '../../parts/TypedInput.vue'
import FieldRows from './FieldRows.vue'
import { sheetLists } from './sheet-columns'

type Records = NonNullable<NonNullable<WrittenSheet['head']>['parameters']>

/** Parameter records of a head or module in the form of a device sheet: octets with the parameters
 *  in them. */
defineProps<{ label: string }>()
const records = defineModel<Records | undefined>({ required: true })
const change = (at: number, set: Partial<Records[number]>) =>
  (records.value = (records.value ?? []).map((record, i) =>
    i === at ? { ...record, ...set } : record,
  ))
const add = () =>
  (records.value = [
    ...(records.value ?? []),
    {
      index: (records.value ?? []).length,
      length: 4,
      byteOrder: 'big',
      constant: '',
      parameters: [],
    },
  ])
</script>

<template>
  <section :aria-label="label">
    <div v-for="(record, i) in records" :key="i" class="record">
      <div class="fields">
        <NumberField
          optional
          label="Index, empty for none"
          shown
          :min="0"
          :value="record.index"
          @update:value="change(i, { index: $event })"
        />
        <NumberField
          label="Octets"
          shown
          :min="1"
          :value="record.length"
          @update:value="change(i, { length: $event ?? 0 })"
        />
        <PickField
          label="Byte order"
          shown
          :value="record.byteOrder ?? 'big'"
          :options="[
            { value: 'big', label: 'highest first' },
            { value: 'little', label: 'lowest first' },
          ]"
          @update:value="change(i, { byteOrder: $event as 'big' })"
        />
        <TypedInput
          label="Constant octets, hex"
          shown
          mono
          :value="record.constant ?? ''"
          placeholder="00 00"
          @change="change(i, { constant: $event })"
        />
        <NButton
          size="small"
          :aria-label="`Remove record ${i + 1} of ${label}`"
          @click="records = (records ?? []).filter((_, at) => at !== i)"
        >
          ×
        </NButton>
      </div>
      <FieldRows
        :model-value="record.parameters"
        v-bind="sheetLists.parameters"
        :label="`${label}, record ${i + 1}`"
        @update:model-value="change(i, { parameters: $event })"
      />
    </div>
    <NButton size="small" @click="add">+ record of parameters</NButton>
  </section>
</template>

<style scoped>
section,
.record {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.record {
  width: 100%;
  justify-items: stretch;
}
.fields {
  display: grid;
  grid-template-columns: 90px 70px 110px 1fr auto;
  gap: 6px;
  align-items: end;
}
</style>
