<script setup lang="ts">
import NumberField from '../../parts/NumberField.vue'
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
    <NumberField
      label="Input image, bytes"
      shown
      :min="0"
      :value="draft.controller?.inputBytes"
      @update:value="setController({ inputBytes: $event ?? 0 })"
    />
    <NumberField
      label="Output image, bytes"
      shown
      :min="0"
      :value="draft.controller?.outputBytes"
      @update:value="setController({ outputBytes: $event ?? 0 })"
    />
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
