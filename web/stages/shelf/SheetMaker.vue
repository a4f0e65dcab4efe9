<script setup lang="ts">
import PickField from '../../parts/PickField.vue'
import { protocolTitle, sheetProtocols } from '@kataxis/core'
import type { SheetDraft } from './useSheetDraft'

/** Who makes the device, and what it is. */
const draft = defineModel<SheetDraft>({ required: true })
</script>

<template>
  <section class="pairs" aria-label="Maker and device">
    <label
      ><span class="label">Maker</span><input v-model="draft.maker" class="field" required
    /></label>
    <label
      ><span class="label">Device</span><input v-model="draft.name" class="field" required
    /></label>
    <label
      ><span class="label">Order number</span><input v-model="draft.orderNumber" class="field mono"
    /></label>
    <PickField
      label="Network"
      shown
      v-model:value="draft.network"
      :options="sheetProtocols.map((name) => ({ value: name, label: protocolTitle(name) }))"
    />
    <label class="wide"
      ><span class="label">How its address is set</span
      ><input v-model="draft.addressing" class="field" placeholder="two rotary switches, 1 to 63"
    /></label>
    <label class="wide"
      ><span class="label">What it is</span><input v-model="draft.info" class="field"
    /></label>
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
