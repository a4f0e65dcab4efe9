<script setup lang="ts">
import TextField from '../../parts/TextField.vue'
import PickField from '../../parts/PickField.vue'
import { protocolTitle, sheetProtocols } from '@kataxis/core'
import type { SheetDraft } from './useSheetDraft'

/** Who makes the device, and what it is. */
const draft = defineModel<SheetDraft>({ required: true })
</script>

<template>
  <section class="pairs" aria-label="Maker and device">
    <TextField label="Maker" shown v-model:value="draft.maker" :more="{ required: true }" />
    <TextField label="Device" shown v-model:value="draft.name" :more="{ required: true }" />
    <TextField label="Order number" shown v-model:value="draft.orderNumber" mono />
    <PickField
      label="Network"
      shown
      v-model:value="draft.network"
      :options="sheetProtocols.map((name) => ({ value: name, label: protocolTitle(name) }))"
    />
    <TextField
      class="wide"
      label="How its address is set"
      shown
      v-model:value="draft.addressing"
      placeholder="two rotary switches, 1 to 63"
    />
    <TextField class="wide" label="What it is" shown v-model:value="draft.info" />
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
