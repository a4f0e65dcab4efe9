<script setup lang="ts">
import { NButton, NCheckbox, NCollapse, NCollapseItem } from 'naive-ui'
import NumberField from '../../parts/NumberField.vue'
import TextField from '../../parts/TextField.vue'
import FailSafeFields from './FailSafeFields.vue'
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
      <TextField v-model:value="module.key" label="Key" shown mono :more="{ required: true }" />
      <TextField v-model:value="module.name" label="Name" shown />
      <TextField v-model:value="module.orderNumber" label="Order number" shown mono />
      <TextField
        v-model:value="module.slots"
        label="Slots it fits, empty for all"
        shown
        mono
        placeholder="1..4 7"
      />
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
    <NumberField
      optional
      class="current"
      label="Takes from the backplane, mA (negative: supplies)"
      shown
      :value="module.currentMa"
      @update:value="module.currentMa = $event"
    />
    <NCollapse
      ><NCollapseItem name="it" title="Place on the rail">
        <PlacementFields v-model="module.placement" /> </NCollapseItem
    ></NCollapse>
    <NCollapse
      ><NCollapseItem name="it" title="What its channels are electrically">
        <ElectricalFields v-model="module.electrical" /> </NCollapseItem
    ></NCollapse>
    <NCheckbox v-model:checked="module.changesRunning">
      Its type may be changed while the station runs
    </NCheckbox>
    <NCollapse
      ><NCollapseItem name="it" title="Fail-safe">
        <FailSafeFields v-model="module.failSafe" /> </NCollapseItem
    ></NCollapse>
    <NCollapse
      ><NCollapseItem name="it" title="Networks that it brings">
        <FieldRows
          v-model="module.interfaces"
          v-bind="sheetLists.interfaces"
          :label="`Interfaces of module ${number}`"
        /> </NCollapseItem
    ></NCollapse>
    <NCollapse
      ><NCollapseItem name="it" title="Parameters">
        <RecordRows
          v-model="module.parameters"
          :label="`Parameters of module ${number}`"
        /> </NCollapseItem
    ></NCollapse>
    <NButton size="small" @click="emit('remove')">Remove this module</NButton>
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
