<script setup lang="ts">
import NumberField from '../../parts/NumberField.vue'
import TypedInput from '../../parts/TypedInput.vue'
import type { SheetDraft } from './useSheetDraft'

/** How many modules a head takes, and what it asks of their row. */
const draft = defineModel<SheetDraft>({ required: true })
const setPlacement = (values: SheetDraft['placement']) =>
  (draft.value.placement = { ...draft.value.placement, ...values })
</script>

<template>
  <section class="pairs" aria-label="Slots">
    <NumberField v-model:value="draft.slots.count" label="Slots" shown :min="0" :max="4096" />
    <NumberField
      optional
      label="Supplies to its modules, mA"
      shown
      :min="0"
      :value="draft.supplyMa"
      @update:value="draft.supplyMa = $event"
    />
    <NumberField
      label="Width of the head, mm"
      shown
      :min="0"
      :value="draft.placement?.widthMm"
      @update:value="setPlacement({ widthMm: $event ?? 0 })"
    />
    <TypedInput
      label="Every station needs a module of the kind"
      shown
      mono
      placeholder="supply end"
      :value="draft.placement?.requires?.join(' ') ?? ''"
      @change="setPlacement({ requires: $event.split(/\s+/).filter(Boolean) })"
    />
    <NumberField
      optional
      label="Modules before an extension is needed"
      shown
      :min="1"
      :value="draft.placement?.maxBeforeExtension"
      @update:value="
        setPlacement({
          maxBeforeExtension: $event,
        })
      "
    />
    <NumberField
      label="Field supply of the head, mA"
      shown
      :min="0"
      :value="draft.placement?.fieldSupplyMa"
      @update:value="setPlacement({ fieldSupplyMa: $event ?? 0 })"
    />
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
