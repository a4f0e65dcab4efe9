<script setup lang="ts">
import type { DerivedController, NetworkKindName } from '@kataxis/core'
import { NButton, NDropdown } from 'naive-ui'
import { kindOptions } from './useNewNetworks'

/** A controller above its networks: how much of its memory they take, and a new network. */
defineProps<{ view: DerivedController; isFocused: boolean }>()
const emit = defineEmits<{ open: []; addNetwork: [kind: NetworkKindName] }>()
</script>

<template>
  <div class="controller">
    <button class="controller-name head-name" :class="{ focused: isFocused }" @click="emit('open')">
      {{ view.controller.name || '(no name)' }}
    </button>
    <span class="figures"
      >inputs {{ view.inputBytes }} of {{ view.controller.inputBytes }} bytes · outputs
      {{ view.outputBytes }} of {{ view.controller.outputBytes }} bytes</span
    >
    <NDropdown
      trigger="click"
      :options="kindOptions"
      @select="(kind: NetworkKindName) => emit('addNetwork', kind)"
      ><NButton size="tiny" quaternary :aria-label="`Add a network to ${view.controller.name}`"
        >+ Network</NButton
      ></NDropdown
    >
  </div>
</template>

<style scoped src="./head-row.css"></style>
<style scoped>
.controller {
  display: flex;
  align-items: center;
  gap: 12px;
  position: sticky;
  left: 0;
  width: max-content;
  padding: 2px 0 6px;
}
.controller-name {
  font: 600 16px/1.2 var(--sans);
}
</style>
