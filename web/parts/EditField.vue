<script setup lang="ts">
import { ref, useId, watch } from 'vue'

/** A labelled value that is taken over on Enter or when the field is left, and put back on Esc. */
const props = withDefaults(defineProps<{ label: string; value: string; hint?: string | null; mono?: boolean }>(), { hint: null, mono: false })
const emit = defineEmits<{ change: [value: string] }>()
const fieldId = useId()
const text = ref(props.value)
watch(() => props.value, (value) => (text.value = value))
function settle() {
  if (text.value !== props.value) emit('change', text.value)
  // A refused value goes back to what the plan holds.
  text.value = props.value
}
</script>

<template>
  <div>
    <label class="label" :for="fieldId">{{ label }}</label>
    <input :id="fieldId" v-model="text" class="field" :class="{ mono, bad: hint }" :aria-describedby="hint ? `${fieldId}-hint` : undefined" :aria-invalid="hint ? true : undefined" @blur="settle" @keydown.enter="settle" @keydown.esc.stop="text = value" />
    <p v-if="hint" :id="`${fieldId}-hint`" class="hint">{{ hint }}</p>
  </div>
</template>

<style scoped>
.bad {
  border-color: var(--accent);
}
.hint {
  font: 12px/1.35 var(--narrow);
  color: var(--accent);
  padding-top: 3px;
}
</style>
