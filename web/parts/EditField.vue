<script setup lang="ts">
import { useSession } from '../stores/session'
import TypedInput from './TypedInput.vue'

/** A value of the plan under its label, for those who may plan. */
defineProps<{ label: string; value: string; wrong?: boolean; mono?: boolean }>()
const emit = defineEmits<{ change: [value: string] }>()
const session = useSession()
</script>

<template>
  <TypedInput
    shown
    :label="label"
    :value="value"
    :mono="mono"
    :wrong="wrong"
    :disabled="!session.may('plan')"
    @change="emit('change', $event)"
  />
</template>
