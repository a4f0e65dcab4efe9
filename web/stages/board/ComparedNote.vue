<script setup lang="ts">
import { NButton } from 'naive-ui'
/** Which two revisions the Board compares, and how they differ in all. */
defineProps<{ from: number; to: number | null; words: string }>()
const emit = defineEmits<{ stop: [] }>()
</script>

<template>
  <p class="compared" role="status">
    <strong>r{{ from }} against {{ to === null ? 'now' : `r${to}` }}</strong>
    <span>{{ words }}</span>
    <span>+ new · ~ changed, or something in it gone</span>
    <NButton size="small" @click="emit('stop')">Stop showing it</NButton>
  </p>
</template>

<style scoped>
.compared {
  position: sticky;
  left: 0;
  top: -10px;
  z-index: 12;
  display: flex;
  gap: 14px;
  align-items: baseline;
  margin: -10px -14px 8px;
  padding: 5px 18px;
  background: var(--paper-2);
  border-bottom: 1px solid var(--line);
  font: 13px/1.4 var(--narrow);
}
.compared .n-button {
  margin-left: auto;
}
</style>
