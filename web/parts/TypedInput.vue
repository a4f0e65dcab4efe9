<script setup lang="ts">
import { ref, watch } from 'vue'
import TextField from './TextField.vue'

/** A field whose text is taken over on Enter or when it is left, and put back on Esc. What is being
 *  typed stays when the page is drawn again. */
const props = defineProps<{
  label: string
  shown?: boolean
  value: string
  mono?: boolean
  placeholder?: string
  disabled?: boolean
  wrong?: boolean
  size?: 'small' | 'medium'
}>()
const emit = defineEmits<{ change: [value: string] }>()
const text = ref(props.value)
watch(
  () => props.value,
  (value, before) => {
    if (text.value === before) text.value = value
  },
)
/** What was typed goes; where nothing was, Esc means what lies around the field. */
function undo(event: KeyboardEvent) {
  if (text.value === props.value) return
  event.stopPropagation()
  text.value = props.value
}
function settle() {
  if (text.value !== props.value) emit('change', text.value)
  // A refused value goes back to what the plan holds.
  text.value = props.value
}
function onKey(event: KeyboardEvent) {
  if (event.key === 'Enter') settle()
  else if (event.key === 'Escape') undo(event)
}
</script>

<template>
  <TextField
    v-model:value="text"
    :label="label"
    :shown="shown"
    :mono="mono"
    :placeholder="placeholder"
    :disabled="disabled"
    :wrong="wrong"
    :size="size"
    @blur="settle"
    @keydown="onKey"
  />
</template>
