<script setup lang="ts">
import type { WrittenSheet } from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import NumberField from '../../parts/NumberField.vue'
import TypedInput from '../../parts/TypedInput.vue'

type Placement = NonNullable<NonNullable<WrittenSheet['modules']>[number]['placement']>

/** Where a module may stand among the others, in the form of a device sheet. */
const placement = defineModel<Placement | undefined>({ required: true })
const set = (values: Placement) => (placement.value = { ...placement.value, ...values })
const flags = [
  ['firstOfKind', 'first of its kind'],
  ['lastOfKind', 'last of its kind'],
  ['nextToHead', 'next to the head'],
] as const
</script>

<template>
  <div class="four">
    <TypedInput
      label="Kind"
      shown
      mono
      :value="placement?.kind ?? ''"
      placeholder="supply, io, end"
      @change="set({ kind: $event })"
    />
    <NumberField
      label="Width, mm"
      shown
      :min="0"
      :value="placement?.widthMm"
      @update:value="set({ widthMm: $event ?? 0 })"
    />
    <TypedInput
      label="Needs before it"
      shown
      mono
      :value="placement?.requiresBefore?.join(' ') ?? ''"
      placeholder="supply"
      @change="set({ requiresBefore: $event.split(/\s+/).filter(Boolean) })"
    />
    <NumberField
      optional
      label="At most in a station"
      shown
      :min="1"
      :value="placement?.maxModules"
      @update:value="set({ maxModules: $event })"
    />
    <NumberField
      label="Field current, mA"
      shown
      :min="0"
      :value="placement?.fieldCurrentMa"
      @update:value="set({ fieldCurrentMa: $event ?? 0 })"
    />
    <NumberField
      label="Feeds a new group, mA"
      shown
      :min="0"
      :value="placement?.fieldSupplyMa"
      @update:value="set({ fieldSupplyMa: $event ?? 0 })"
    />
    <NumberField
      optional
      label="As extension, modules behind it"
      shown
      :min="0"
      :value="placement?.maxAfterExtension"
      @update:value="set({ maxAfterExtension: $event })"
    />
    <span class="flags"
      ><NCheckbox
        v-for="[key, label] in flags"
        :key="key"
        :checked="placement?.[key]"
        @update:checked="set({ [key]: $event })"
        >{{ label }}</NCheckbox
      ></span
    >
  </div>
</template>

<style scoped>
.flags {
  display: grid;
  font: 12.5px/1.5 var(--narrow);
}
</style>
