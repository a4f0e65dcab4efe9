<script setup lang="ts">
import type { SerialLine } from '@kataxis/core'
import { plainChoices } from './choices'
import PickField from './PickField.vue'

/** How characters travel on a serial line. */
const line = defineModel<SerialLine>({ required: true })
defineProps<{ disabled?: boolean }>()
const bauds = [1200, 2400, 4800, 9600, 19_200, 38_400, 57_600, 115_200]
const parities = ['even', 'odd', 'none'] as const
const set = (part: Partial<SerialLine>) => (line.value = { ...line.value, ...part })
</script>

<template>
  <PickField
    label="Bit/s"
    shown
    :disabled="disabled"
    :value="line.baud"
    :options="plainChoices(bauds)"
    @update:value="set({ baud: $event })"
  />
  <PickField
    label="Data bits"
    shown
    :disabled="disabled"
    :value="line.dataBits"
    :options="plainChoices([7, 8])"
    @update:value="set({ dataBits: $event as 8 })"
  />
  <PickField
    label="Parity"
    shown
    :disabled="disabled"
    :value="line.parity"
    :options="plainChoices(parities)"
    @update:value="set({ parity: $event as 'even' })"
  />
  <PickField
    label="Stop bits"
    shown
    :disabled="disabled"
    :value="line.stopBits"
    :options="plainChoices([1, 2])"
    @update:value="set({ stopBits: $event as 1 })"
  />
</template>
