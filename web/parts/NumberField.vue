<script setup lang="ts">
import { NInputNumber } from 'naive-ui'
import { computed, useAttrs } from 'vue'

/** A named number with its unit and its limits. Where it is `optional`, an empty field is null; else
 *  the number before stays until another one is typed. */
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
const inputProps = computed(() => ({ 'aria-label': props.label }))
</script>

<template>
  <component :is="shown ? 'label' : 'span'" class="number-field" :class="$attrs['class']">
    <span v-if="shown" class="label">{{ label }}</span>
    <NInputNumber
      v-bind="inner"
      :value="value ?? null"
      :min="min"
      :max="max"
      :step="step ?? 1"
      :placeholder="placeholder ?? ''"
      :disabled="disabled"
      :show-button="false"
      :size="size"
      :input-props="inputProps"
      @update:value="($event !== null || optional) && emit('update:value', $event)"
    >
      <template v-if="unit" #suffix>{{ unit }}</template>
    </NInputNumber>
  </component>
</template>

<style scoped>
.number-field {
  display: block;
}
</style>
