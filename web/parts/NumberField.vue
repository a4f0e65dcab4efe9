<script setup lang="ts">
import { NInputNumber } from 'naive-ui'
import { computed, ref, useAttrs, watch } from 'vue'
import { whyNoNumber } from './number-limits'

/** A named number with its unit and its limits. Where it is `optional`, an empty field is null; else
 *  the number before stays until another one is typed. What cannot be taken stays in the field, with
 *  the reason below it. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  label: string
  shown?: boolean
  optional?: boolean
  value: number | null | undefined
  min?: number
  max?: number
  step?: number
  unit?: string
  placeholder?: string
  disabled?: boolean
  size?: 'small' | 'medium'
}>()
const emit = defineEmits<{ 'update:value': [value: number | null] }>()
/** Where it stands is the outer element's, all else the field's. */
const attrs = useAttrs()
const inner = computed(() => ({ ...attrs, class: undefined }))

/** A number that was typed and cannot be taken. */
const held = ref<number | null>(null)
const text = ref('')
const fault = ref<string | null>(null)
watch(
  () => props.value,
  () => {
    held.value = null
    fault.value = null
  },
)
function take(value: number | null): void {
  held.value = null
  if (value === null) {
    if (props.optional) emit('update:value', null)
  } else if (whyNoNumber(String(value), props) === null) {
    fault.value = null
    emit('update:value', value)
  } else held.value = value
}
/** Somebody who is still typing is not told yet. A comma is known only here. */
function settle(): void {
  fault.value = text.value === '' ? null : whyNoNumber(text.value, props)
  if (fault.value === null && text.value.includes(',')) take(Number(text.value.replace(',', '.')))
}
const inputProps = computed(() => ({
  'aria-label': props.label,
  'aria-invalid': fault.value !== null || undefined,
  onInput: ({ target }: Event) => (text.value = (target as HTMLInputElement).value),
}))
</script>

<template>
  <component :is="shown ? 'label' : 'span'" class="number-field" :class="$attrs['class']">
    <span v-if="shown" class="label">{{ label }}</span>
    <NInputNumber
      v-bind="inner"
      :value="held ?? value ?? null"
      :step="step ?? 1"
      :placeholder="placeholder ?? ''"
      :disabled="disabled"
      :show-button="false"
      :size="size"
      :status="fault === null ? undefined : 'error'"
      :input-props="inputProps as never"
      @update:value="take"
      @blur="settle"
      @keydown.enter="settle"
    >
      <template v-if="unit" #suffix>{{ unit }}</template>
    </NInputNumber>
    <span v-if="fault !== null" class="fault" role="alert">{{ fault }}</span>
  </component>
</template>

<style scoped>
.number-field {
  display: block;
}
.fault {
  display: block;
  font: 12px/1.3 var(--narrow);
  color: var(--accent);
}
</style>
