<script setup lang="ts">
import { notationNames, notations } from '@kataxis/core'
import { usePreferences } from '../stores/preferences'
import PickField from './PickField.vue'

/** How addresses are written for a moment, everywhere at once; the plan keeps what each controller
 *  asks. */
defineProps<{ bare?: boolean }>()
const preferences = usePreferences()
</script>

<template>
  <PickField
    v-model:value="preferences.notation"
    label="Addresses are written"
    :shown="!bare"
    :options="[
      { value: '', label: 'as the controller asks' },
      ...notationNames.map((name) => ({
        value: name,
        label: `${notations[name].name}, ${notations[name].label}`,
      })),
    ]"
  />
</template>
