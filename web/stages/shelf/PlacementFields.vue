<script setup lang="ts">
import type { WrittenSheet } from '@kataxis/core'
import TypedInput from '../../parts/TypedInput.vue'

type Placement = NonNullable<NonNullable<WrittenSheet['modules']>[number]['placement']>

/** Where a module may stand among the others, in the form of a device sheet. */
const placement = defineModel<Placement | undefined>({ required: true })
const set = (values: Placement) => (placement.value = { ...placement.value, ...values })
const text = (event: Event) => (event.target as HTMLInputElement).value
const number = (event: Event) => Number(text(event)) || 0
const numberOrNull = (event: Event) => (text(event) === '' ? null : number(event))
const flags = [
  ['firstOfKind', 'first of its kind'],
  ['lastOfKind', 'last of its kind'],
  ['nextToHead', 'next to the head'],
] as const
</script>

<template>
  <div class="four">
    <label
      ><span class="label">Kind</span
      ><TypedInput
        class="field mono"
        :value="placement?.kind ?? ''"
        placeholder="supply, io, end"
        @change="set({ kind: $event })"
    /></label>
    <label
      ><span class="label">Width, mm</span
      ><input
        class="field"
        type="number"
        min="0"
        step="any"
        :value="placement?.widthMm"
        @input="set({ widthMm: number($event) })"
    /></label>
    <label
      ><span class="label">Needs before it</span
      ><TypedInput
        class="field mono"
        :value="placement?.requiresBefore?.join(' ') ?? ''"
        placeholder="supply"
        @change="set({ requiresBefore: $event.split(/\s+/).filter(Boolean) })"
    /></label>
    <label
      ><span class="label">At most in a station</span
      ><input
        class="field"
        type="number"
        min="1"
        :value="placement?.maxModules ?? ''"
        @input="set({ maxModules: numberOrNull($event) })"
    /></label>
    <label
      ><span class="label">Field current, mA</span
      ><input
        class="field"
        type="number"
        min="0"
        :value="placement?.fieldCurrentMa"
        @input="set({ fieldCurrentMa: number($event) })"
    /></label>
    <label
      ><span class="label">Feeds a new group, mA</span
      ><input
        class="field"
        type="number"
        min="0"
        :value="placement?.fieldSupplyMa"
        @input="set({ fieldSupplyMa: number($event) })"
    /></label>
    <label
      ><span class="label">As extension, modules behind it</span
      ><input
        class="field"
        type="number"
        min="0"
        :value="placement?.maxAfterExtension ?? ''"
        @input="set({ maxAfterExtension: numberOrNull($event) })"
    /></label>
    <span class="flags"
      ><label v-for="[key, label] in flags" :key="key"
        ><input
          type="checkbox"
          :checked="placement?.[key]"
          @change="set({ [key]: ($event.target as HTMLInputElement).checked })"
        />
        {{ label }}</label
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
