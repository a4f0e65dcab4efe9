<script setup lang="ts">
import { ref, watch } from 'vue'

/** A field whose text is taken over on Enter or when it is left, and put back on Esc. What is being
 *  typed stays when the page is drawn again. */
const props = defineProps<{ value: string }>()
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
</script>

<template>
  <input
    :value="text"
    @input="text = ($event.target as HTMLInputElement).value"
    @blur="settle"
    @keydown.enter="settle"
    @keydown.esc="undo"
  />
</template>
