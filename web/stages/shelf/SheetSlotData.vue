<script setup lang="ts">
import { computed } from 'vue'
import { nibbleOrders } from '@kataxis/core'
import { numberOrNull } from './number-or-null'
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
    <label
      ><span class="label">Data of its slots</span
      ><select
        class="field"
        :value="slotData"
        @change="setSlotData(($event.target as HTMLSelectElement).value)"
      >
        <option value="own">each module brings its own</option>
        <option value="every">every slot the same octets, plugged or not</option>
        <option value="nibbles">a gateway’s table of nibbles, a slot a node</option>
      </select></label
    >
    <template v-if="draft.slots.everySlot">
      <label
        ><span class="label">Octets to the controller, every slot</span
        ><input
          v-model.number="draft.slots.everySlot.inputBytes"
          class="field"
          type="number"
          min="0"
      /></label>
      <label
        ><span class="label">Octets from the controller, every slot</span
        ><input
          v-model.number="draft.slots.everySlot.outputBytes"
          class="field"
          type="number"
          min="0"
      /></label>
    </template>
    <template v-if="draft.slots.nibbles">
      <label
        ><span class="label">Order of nibbles</span
        ><select v-model="draft.slots.nibbles.order" class="field">
          <option v-for="order in nibbleOrders" :key="order">{{ order }}</option>
        </select></label
      >
      <label
        ><span class="label">First B node, empty for none</span
        ><input
          class="field"
          type="number"
          min="1"
          :value="draft.slots.nibbles.secondFirst ?? ''"
          @input="draft.slots.nibbles.secondFirst = numberOrNull($event)"
      /></label>
    </template>
    <label
      ><span class="label">Octets of its numbers travel</span
      ><select
        class="field"
        :value="draft.dataOrder ?? ''"
        @change="
          draft.dataOrder = (($event.target as HTMLSelectElement).value || null) as
            'big' | 'little' | null
        "
      >
        <option value="">as the network asks</option>
        <option value="big">highest first</option>
        <option value="little">lowest first</option>
      </select></label
    >
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
