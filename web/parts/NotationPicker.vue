<script setup lang="ts">
import PickField from './PickField.vue'
import { notationNames, notations } from '@kataxis/core'
import { usePreferences } from '../stores/preferences'

/** How addresses are written for a moment, everywhere at once; the plan keeps what each controller
 *  asks. */
const preferences = usePreferences()
</script>

<template>
  <PickField
    label="Addresses"
    shown
    v-model:value="preferences.notation"
    :options="[
      { value: '', label: 'as the controller asks' },
      ...notationNames.map((name) => ({
        value: name,
        label: `${notations[name].name}, ${notations[name].label}`,
      })),
    ]"
  />
</template>

<style scoped>
.picker {
  display: flex;
  gap: 6px;
  align-items: center;
  white-space: nowrap;
}
.label {
  margin: 0;
}
.field {
  width: 170px;
  padding: 3px 6px;
}
</style>
