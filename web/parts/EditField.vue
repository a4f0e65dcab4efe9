<script setup lang="ts">
import { ref, useId, watch } from 'vue'
import { useSession } from '../stores/session'

/** A labelled value that is taken over on Enter or when the field is left, and put back on Esc. */
const props = withDefaults(defineProps<{ label: string; value: string; wrong?: boolean; mono?: boolean }>(), { wrong: false, mono: false })
const emit = defineEmits<{ change: [value: string] }>()
const session = useSession()
const fieldId = useId()
const text = ref(props.value)
watch(() => props.value, (value) => (text.value = value))
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
  <div>
    <label class="label" :for="fieldId">{{ label }}</label>
    <input :id="fieldId" v-model="text" :disabled="!session.may('plan')" class="field" :class="{ mono, wrong }" :aria-invalid="wrong || undefined" @blur="settle" @keydown.enter="settle" @keydown.esc="undo" />
  </div>
</template>

<style scoped>
.wrong {
  border-color: var(--accent);
}
</style>
