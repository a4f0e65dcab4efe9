<script setup lang="ts">
import TypedInput from '../../parts/TypedInput.vue'
import type { SheetDraft } from './useSheetDraft'

/** How many modules a head takes, and what it asks of their row. */
const draft = defineModel<SheetDraft>({ required: true })
const setPlacement = (values: SheetDraft['placement']) =>
  (draft.value.placement = { ...draft.value.placement, ...values })
</script>

<template>
  <section class="pairs" aria-label="Slots">
    <label
      ><span class="label">Slots</span
      ><input v-model.number="draft.slots.count" class="field" type="number" min="0" max="4096"
    /></label>
    <label
      ><span class="label">Supplies to its modules, mA</span
      ><input
        class="field"
        type="number"
        min="0"
        :value="draft.supplyMa ?? ''"
        @input="
          draft.supplyMa =
            ($event.target as HTMLInputElement).value === ''
              ? null
              : Number(($event.target as HTMLInputElement).value)
        "
    /></label>
    <label
      ><span class="label">Width of the head, mm</span
      ><input
        class="field"
        type="number"
        min="0"
        step="any"
        :value="draft.placement?.widthMm ?? ''"
        @input="setPlacement({ widthMm: Number(($event.target as HTMLInputElement).value) })"
    /></label>
    <label
      ><span class="label">Every station needs a module of the kind</span
      ><TypedInput
        class="field mono"
        placeholder="supply end"
        :value="draft.placement?.requires?.join(' ') ?? ''"
        @change="setPlacement({ requires: $event.split(/\s+/).filter(Boolean) })"
    /></label>
    <label
      ><span class="label">Modules before an extension is needed</span
      ><input
        class="field"
        type="number"
        min="1"
        :value="draft.placement?.maxBeforeExtension ?? ''"
        @input="
          setPlacement({
            maxBeforeExtension:
              ($event.target as HTMLInputElement).value === ''
                ? null
                : Number(($event.target as HTMLInputElement).value),
          })
        "
    /></label>
    <label
      ><span class="label">Field supply of the head, mA</span
      ><input
        class="field"
        type="number"
        min="0"
        :value="draft.placement?.fieldSupplyMa ?? ''"
        @input="setPlacement({ fieldSupplyMa: Number(($event.target as HTMLInputElement).value) })"
    /></label>
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
