<script setup lang="ts" generic="V extends string | number">
import { NSelect } from 'naive-ui'
import { computed, ref } from 'vue'
import type { Choice } from './choices'

/** One of several choices; typing narrows them down. The label stands above where `shown`. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  label: string
  shown?: boolean
  value: V | null
  options: readonly Choice<V>[]
  placeholder?: string
  disabled?: boolean
  size?: 'tiny' | 'small' | 'medium'
}>()
const emit = defineEmits<{ 'update:value': [value: V] }>()
const isOpen = ref(false)
/** The field itself is empty unless somebody types: what is chosen is told beside its name. */
const inputProps = computed(() => ({
  'aria-label': props.label,
  'aria-description': props.options.find(({ value }) => value === props.value)?.label,
  role: 'combobox',
  'aria-haspopup': 'listbox',
  'aria-expanded': isOpen.value,
}))
const field = computed(() => ({
  filterable: true,
  value: props.value,
  options: props.options as never,
  placeholder: props.placeholder ?? 'Choose …',
  disabled: props.disabled,
  size: props.size,
  inputProps: inputProps.value as never,
  onUpdateShow: (show: boolean) => void (isOpen.value = show),
  onUpdateValue: (value: V) => emit('update:value', value),
}))
</script>

<template>
  <label v-if="shown" v-bind="$attrs" class="shown">
    <span class="label">{{ label }}</span>
    <NSelect v-bind="field" />
  </label>
  <NSelect v-else v-bind="{ ...$attrs, ...field }" />
</template>

<style scoped>
.shown {
  display: block;
}
</style>
