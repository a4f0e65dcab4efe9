<script setup lang="ts">
import { X } from '@lucide/vue'
import { NButton } from 'naive-ui'
import { ref } from 'vue'

defineEmits<{ close: [] }>()
const sheet = ref<HTMLElement>()
/** The first thing that can be typed or chosen in it gets the keyboard, else the sheet itself. */
function enter(): void {
  const field = sheet.value?.querySelector<HTMLElement>(
    'input:not([disabled]), select:not([disabled]), textarea:not([disabled])',
  )
  ;(field ?? sheet.value)?.focus()
}
defineExpose({ enter })
</script>

<template>
  <aside ref="sheet" class="sheet" aria-label="Sheet" tabindex="0" @keydown.esc="$emit('close')">
    <NButton
      size="small"
      quaternary
      class="close"
      aria-label="Close the sheet"
      title="Close (Esc)"
      @click="$emit('close')"
    >
      <X :size="16" />
    </NButton>
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
