<script setup lang="ts">
import { nibbleOrders } from '@kataxis/core'
import { computed } from 'vue'
import { plainChoices } from '../../parts/choices'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import type { SheetDraft } from './useSheetDraft'

/** Where the data of slots stand, and how their octets travel. */
const draft = defineModel<SheetDraft>({ required: true })
/** How slots and data go together: one of three ways. */
const slotData = computed(() =>
  draft.value.slots.everySlot ? 'every' : draft.value.slots.nibbles ? 'nibbles' : 'own',
)
function setSlotData(way: string): void {
  draft.value.slots.everySlot = way === 'every' ? { inputBytes: 16, outputBytes: 16 } : null
  draft.value.slots.nibbles =
    way === 'nibbles' ? { order: 'words-low-first', secondFirst: null } : null
}
</script>

<template>
  <section class="pairs" aria-label="Data of slots">
    <PickField
      label="Data of its slots"
      shown
      :value="slotData"
      :options="[
        { value: 'own', label: 'each module brings its own' },
        { value: 'every', label: 'every slot the same octets, plugged or not' },
        { value: 'nibbles', label: 'a gateway’s table of nibbles, a slot a node' },
      ]"
      @update:value="setSlotData($event)"
    />
    <template v-if="draft.slots.everySlot">
      <NumberField
        v-model:value="draft.slots.everySlot.inputBytes"
        label="Octets to the controller, every slot"
        shown
        :min="0"
      />
      <NumberField
        v-model:value="draft.slots.everySlot.outputBytes"
        label="Octets from the controller, every slot"
        shown
        :min="0"
      />
    </template>
    <template v-if="draft.slots.nibbles">
      <PickField
        label="Order of nibbles"
        shown
        :value="draft.slots.nibbles.order ?? null"
        :options="plainChoices(nibbleOrders)"
        @update:value="draft.slots.nibbles.order = $event"
      />
      <NumberField
        optional
        label="First B node, empty for none"
        shown
        :min="1"
        :value="draft.slots.nibbles.secondFirst"
        @update:value="draft.slots.nibbles.secondFirst = $event"
      />
    </template>
    <PickField
      label="Octets of its numbers travel"
      shown
      :value="draft.dataOrder ?? ''"
      :options="[
        { value: '', label: 'as the network asks' },
        { value: 'big', label: 'highest first' },
        { value: 'little', label: 'lowest first' },
      ]"
      @update:value="draft.dataOrder = ($event || null) as 'big' | 'little' | null"
    />
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
