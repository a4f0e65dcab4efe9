<script setup lang="ts">
import { protocolTitle, sheetProtocols } from '@kataxis/core'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import type { SheetDraft } from './useSheetDraft'

/** Who makes the device, and what it is. */
const draft = defineModel<SheetDraft>({ required: true })
</script>

<template>
  <section class="pairs" aria-label="Maker and device">
    <TextField v-model:value="draft.maker" label="Maker" shown :more="{ required: true }" />
    <TextField v-model:value="draft.name" label="Device" shown :more="{ required: true }" />
    <TextField v-model:value="draft.orderNumber" label="Order number" shown mono />
    <PickField
      v-model:value="draft.network"
      label="Network"
      shown
      :options="sheetProtocols.map((name) => ({ value: name, label: protocolTitle(name) }))"
    />
    <TextField
      v-model:value="draft.addressing"
      class="wide"
      label="How its address is set"
      shown
      placeholder="two rotary switches, 1 to 63"
    />
    <TextField v-model:value="draft.info" class="wide" label="What it is" shown />
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
