<script setup lang="ts">
import { NButton, NButtonGroup } from 'naive-ui'
import { zoomNames, zooms, type Zoom } from './zooms'

const zoom = defineModel<Zoom>({ required: true })
</script>

<template>
  <div class="zooms">
    <NButtonGroup size="tiny" role="group" aria-label="How close">
      <NButton
        v-for="name in zoomNames"
        :key="name"
        :type="zoom === name ? 'primary' : 'default'"
        :aria-pressed="zoom === name"
        @click="zoom = name"
      >
        {{ zooms[name].label }}
      </NButton>
    </NButtonGroup>
  </div>
</template>

<style scoped>
/* At the right edge of what can be seen, however far the lanes are scrolled. */
.zooms {
  position: sticky;
  left: calc(100% - 160px);
  width: max-content;
  height: 0;
  z-index: 6;
}
.zooms :deep(.n-button) {
  background: var(--paper);
}
.zooms :deep(.n-button[aria-pressed='true']) {
  background: var(--ink);
}
@media print {
  .zooms {
    display: none;
  }
}
</style>
