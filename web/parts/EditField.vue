<script setup lang="ts">
import { useId } from 'vue'
import { useSession } from '../stores/session'
import TypedInput from './TypedInput.vue'

/** A labelled value that is taken over on Enter or when the field is left, and put back on Esc. */
withDefaults(defineProps<{ label: string; value: string; wrong?: boolean; mono?: boolean }>(), {
  wrong: false,
  mono: false,
})
const emit = defineEmits<{ change: [value: string] }>()
const session = useSession()
const fieldId = useId()
</script>

<template>
  <div>
    <label class="label" :for="fieldId">{{ label }}</label>
    <TypedInput
      :id="fieldId"
      :value="value"
      :disabled="!session.may('plan')"
      class="field"
      :class="{ mono, wrong }"
      :aria-invalid="wrong || undefined"
      @change="emit('change', $event)"
    />
  </div>
</template>

<style scoped>
.wrong {
  border-color: var(--accent);
}
</style>
