<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { onBeforeUnmount, onMounted, ref } from 'vue'

/** A box over the page: the first field has the focus, Esc closes it, and the focus goes back to
 *  where it was. */
defineProps<{ title: string; wide?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const box = ref<HTMLElement>()
const before = document.activeElement
// On the window: a part of the box that goes takes the focus with it.
useEventListener(window, 'keydown', (event) => event.key === 'Escape' && emit('close'))
onMounted(() => box.value?.querySelector<HTMLElement>('input, select, button')?.focus())
onBeforeUnmount(() => before instanceof HTMLElement && before.focus())
</script>

<template>
  <div class="veil" @mousedown.self="emit('close')">
    <div
      ref="box"
      class="box"
      :class="{ wide }"
      role="dialog"
      aria-modal="true"
      :aria-label="title"
    >
      <h2>{{ title }}</h2>
      <slot />
    </div>
  </div>
</template>

<style scoped>
.veil {
  position: fixed;
  inset: 0;
  z-index: 45;
  background: var(--veil);
}
.box {
  width: min(640px, 92vw);
  max-height: 84vh;
  overflow: auto;
  margin: 8vh auto 0;
  padding: 16px;
  background: var(--paper);
  border-top: 3px solid var(--accent);
  display: grid;
  gap: 10px;
}
.box.wide {
  width: min(820px, 94vw);
}
</style>
