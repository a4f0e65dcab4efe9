<script setup lang="ts">
import { notationNames, notations } from '@kataxis/core'
import { usePreferences } from '../stores/preferences'

/** How addresses are written for a moment, everywhere at once; the plan keeps what each controller
 *  asks. */
const preferences = usePreferences()
</script>

<template>
  <label class="picker"
    ><span class="label">Addresses</span>
    <select v-model="preferences.notation" class="field" aria-label="Addresses are written">
      <option value="">as the controller asks</option>
      <option v-for="name in notationNames" :key="name" :value="name">
        {{ notations[name].name }}, {{ notations[name].label }}
      </option>
    </select>
  </label>
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
