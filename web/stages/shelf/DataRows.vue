<script setup lang="ts">
import { sheetTypes, type SheetType, type WrittenSheet } from '@kataxis/core'

type Rows = NonNullable<NonNullable<WrittenSheet['head']>['inputs']>

/** Values of one direction, in the order in which they travel. */
defineProps<{ label: string }>()
const rows = defineModel<Rows>({ required: true })
const types = Object.keys(sheetTypes) as SheetType[]
const change = (at: number, set: Partial<Rows[number]>) => (rows.value = rows.value.map((row, i) => (i === at ? { ...row, ...set } : row)))
const add = () => (rows.value = [...rows.value, { name: '', type: rows.value.at(-1)?.type ?? 'bit', count: 1 }])
</script>

<template>
  <fieldset>
    <legend class="label">{{ label }}</legend>
    <div v-for="(row, i) in rows" :key="i" class="row">
      <input class="field" type="number" min="1" max="2048" :value="row.count ?? 1" :aria-label="`${label}, line ${i + 1}: how many`" @input="change(i, { count: Number(($event.target as HTMLInputElement).value) || 1 })" />
      <select class="field" :value="row.type" :aria-label="`${label}, line ${i + 1}: type`" @change="change(i, { type: ($event.target as HTMLSelectElement).value as SheetType })"><option v-for="type in types" :key="type">{{ type }}</option></select>
      <input class="field" :value="row.name" :aria-label="`${label}, line ${i + 1}: name`" placeholder="what it means" @input="change(i, { name: ($event.target as HTMLInputElement).value })" />
      <button class="button small" type="button" :aria-label="`Remove line ${i + 1} of ${label}`" @click="rows = rows.filter((_, at) => at !== i)">×</button>
    </div>
    <button class="button small" type="button" @click="add">+ value</button>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 3px;
  justify-items: start;
}
.row {
  display: grid;
  grid-template-columns: 64px 90px minmax(120px, 1fr) auto;
  gap: 4px;
  width: 100%;
}
</style>
