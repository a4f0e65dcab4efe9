<script setup lang="ts">
import { X } from '@lucide/vue'
import { useEventListener, useStorage } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'

/** A sheet at the right; it pushes what stands beside it and is as wide as it was made last. */
defineEmits<{ close: [] }>()
const narrowest = 300
const widest = 760
const step = 24
const sheet = ref<HTMLElement>()
const width = useStorage('kataxis.sheet-width', 410)
const shown = computed(() => `min(${width.value}px, 60vw)`)
const setWidth = (wanted: number) =>
  (width.value = Math.round(Math.min(widest, Math.max(narrowest, wanted))))

let isPulled = false
function pull(event: PointerEvent): void {
  isPulled = true
  event.preventDefault()
}
useEventListener(window, 'pointermove', ({ clientX }) => {
  if (isPulled && sheet.value) setWidth(sheet.value.getBoundingClientRect().right - clientX)
})
useEventListener(window, ['pointerup', 'pointercancel'], () => (isPulled = false))

/** The first thing that can be typed or chosen in it gets the keyboard, else the sheet itself. */
function enter(): void {
  const field = sheet.value?.querySelector<HTMLElement>(
    'input:not([disabled]), textarea:not([disabled])',
  )
  ;(field ?? sheet.value)?.focus()
}
defineExpose({ enter })
</script>

<template>
  <div class="holder" :style="{ width: shown }">
    <div
      class="grip"
      role="separator"
      aria-orientation="vertical"
      aria-label="Width of the sheet"
      :aria-valuenow="width"
      :aria-valuemin="narrowest"
      :aria-valuemax="widest"
      tabindex="0"
      title="Pull, or ← → to change the width"
      @pointerdown="pull"
      @keydown.left.prevent="setWidth(width + step)"
      @keydown.right.prevent="setWidth(width - step)"
    />
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
  </div>
</template>

<style scoped>
.holder {
  position: relative;
  flex: none;
  display: flex;
}
.grip {
  position: absolute;
  left: -4px;
  top: 0;
  bottom: 0;
  width: 8px;
  z-index: 7;
  cursor: col-resize;
  touch-action: none;
}
.grip:hover,
.grip:focus-visible {
  background: var(--accent-soft);
}
.sheet {
  position: relative;
  flex: 1;
  min-width: 0;
  overflow: auto;
  /* Names may be hundreds of letters without a blank. */
  overflow-wrap: anywhere;
  border-left: 1px solid var(--line);
  background: var(--paper);
  padding: 14px 16px 30px;
}
.sheet :deep(h1) {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  overflow: hidden;
}
.close {
  position: absolute;
  right: 8px;
  top: 10px;
}
</style>
