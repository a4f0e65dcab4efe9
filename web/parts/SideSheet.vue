<script setup lang="ts">
import { X } from '@lucide/vue'

defineEmits<{ close: [] }>()
</script>

<template>
  <aside class="sheet" aria-label="Sheet" tabindex="0" @keydown.esc="$emit('close')">
    <button class="button bare small close" aria-label="Close the sheet" title="Close (Esc)" @click="$emit('close')"><X :size="16" /></button>
    <slot />
  </aside>
</template>

<style scoped>
.sheet {
  position: relative;
  flex: none;
  width: min(410px, 40vw);
  overflow: auto;
  border-left: 1px solid var(--line);
  background: var(--paper);
  padding: 14px 16px 30px;
}
.close {
  position: absolute;
  right: 8px;
  top: 10px;
}
</style>
