<script setup lang="ts">
import PickField from '../../parts/PickField.vue'
import { NButton } from 'naive-ui'
import type { WrittenSheet } from '@kataxis/core'
import FieldRows from './FieldRows.vue'
import { sheetLists } from './sheet-columns'
import TypedInput from '../../parts/TypedInput.vue'

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
const number = (event: Event) => Number((event.target as HTMLInputElement).value) || 0
const text = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <section :aria-label="label">
    <div v-for="(record, i) in records" :key="i" class="record">
      <div class="fields">
        <label
          ><span class="label">Index, empty for none</span
          ><input
            class="field mono"
            type="number"
            min="0"
            :value="record.index ?? ''"
            @input="change(i, { index: text($event) === '' ? null : number($event) })"
        /></label>
        <label
          ><span class="label">Octets</span
          ><input
            class="field mono"
            type="number"
            min="1"
            :value="record.length"
            @input="change(i, { length: number($event) })"
        /></label>
        <PickField
          label="Byte order"
          shown
          :value="record.byteOrder ?? 'big'"
          @update:value="change(i, { byteOrder: $event as 'big' })"
          :options="[
            { value: 'big', label: 'highest first' },
            { value: 'little', label: 'lowest first' },
          ]"
        />
        <label
          ><span class="label">Constant octets, hex</span
          ><TypedInput
            class="field mono"
            :value="record.constant ?? ''"
            placeholder="00 00"
            @change="change(i, { constant: $event })"
        /></label>
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
