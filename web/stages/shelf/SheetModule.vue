<script setup lang="ts">
import { NButton } from 'naive-ui'
import ElectricalFields from './ElectricalFields.vue'
import FieldRows from './FieldRows.vue'
import PlacementFields from './PlacementFields.vue'
import RecordRows from './RecordRows.vue'
import { sheetLists } from './sheet-columns'
import type { SheetDraft } from './useSheetDraft'

/** One module of a device sheet. */
defineProps<{ number: number }>()
const emit = defineEmits<{ remove: [] }>()
const module = defineModel<SheetDraft['modules'][number]>({ required: true })
</script>

<template>
  <section class="module" :aria-label="`Module ${number}`">
    <div class="pairs">
      <label
        ><span class="label">Key</span><input v-model="module.key" class="field mono" required
      /></label>
      <label><span class="label">Name</span><input v-model="module.name" class="field" /></label>
      <label
        ><span class="label">Order number</span
        ><input v-model="module.orderNumber" class="field mono"
      /></label>
      <label
        ><span class="label">Slots it fits, empty for all</span
        ><input v-model="module.slots" class="field mono" placeholder="1..4 7"
      /></label>
    </div>
    <div class="both">
      <FieldRows
        v-model="module.inputs"
        v-bind="sheetLists.data"
        :label="`Module ${number}, to the controller`"
      /><FieldRows
        v-model="module.outputs"
        v-bind="sheetLists.data"
        :label="`Module ${number}, from the controller`"
      />
    </div>
    <label class="current"
      ><span class="label">Takes from the backplane, mA (negative: supplies)</span
      ><input
        class="field"
        type="number"
        :value="module.currentMa ?? ''"
        @input="
          module.currentMa =
            ($event.target as HTMLInputElement).value === ''
              ? null
              : Number(($event.target as HTMLInputElement).value)
        "
    /></label>
    <details>
      <summary>Place on the rail</summary>
      <PlacementFields v-model="module.placement" />
    </details>
    <details>
      <summary>What its channels are electrically</summary>
      <ElectricalFields v-model="module.electrical" />
    </details>
    <details>
      <summary>Parameters</summary>
      <RecordRows v-model="module.parameters" :label="`Parameters of module ${number}`" />
    </details>
    <NButton size="small" @click="emit('remove')">Remove this module</NButton>
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
