<script setup lang="ts">
import FieldRows from './FieldRows.vue'
import { sheetLists } from './sheet-columns'
import type { SheetDraft } from './useSheetDraft'

/** What a controller has room for. */
const draft = defineModel<SheetDraft>({ required: true })
const setController = (values: Partial<NonNullable<SheetDraft['controller']>>) =>
  (draft.value.controller = {
    inputBytes: 4096,
    outputBytes: 4096,
    interfaces: [],
    ...draft.value.controller,
    ...values,
  })
</script>

<template>
  <section class="pairs" aria-label="Controller">
    <label
      ><span class="label">Input image, bytes</span
      ><input
        class="field"
        type="number"
        min="0"
        :value="draft.controller?.inputBytes ?? ''"
        @input="setController({ inputBytes: Number(($event.target as HTMLInputElement).value) })"
    /></label>
    <label
      ><span class="label">Output image, bytes</span
      ><input
        class="field"
        type="number"
        min="0"
        :value="draft.controller?.outputBytes ?? ''"
        @input="setController({ outputBytes: Number(($event.target as HTMLInputElement).value) })"
    /></label>
    <div class="wide">
      <FieldRows
        :model-value="draft.controller?.interfaces"
        v-bind="sheetLists.interfaces"
        label="Interfaces"
        @update:model-value="setController({ interfaces: $event })"
      />
    </div>
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
