<script setup lang="ts">
import { NInput } from 'naive-ui'
import { computed, ref, useAttrs } from 'vue'

/** A named line of text. The label stands above where `shown`. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  label: string
  shown?: boolean
  mono?: boolean
  type?: 'text' | 'search' | 'password' | 'textarea'
  placeholder?: string
  disabled?: boolean
  wrong?: boolean
  size?: 'small' | 'medium' | 'large'
  rows?: number
  /** What only the browser's own field knows: `autocomplete`, `required`, roles … */
  more?: Readonly<Record<string, string | number | boolean | undefined>>
}>()
const value = defineModel<string>('value')
const field = ref<InstanceType<typeof NInput>>()
/** Where it stands is the outer element's, all else the field's. */
const attrs = useAttrs()
const inner = computed(() => ({ ...attrs, class: undefined }))
const inputProps = computed(() => ({
  'aria-label': props.label,
  'aria-invalid': props.wrong || undefined,
  spellcheck: !props.mono,
  ...props.more,
}))
defineExpose({
  focus: () => field.value?.focus(),
  select: () => field.value?.select(),
})
</script>

<template>
  <component :is="shown ? 'label' : 'span'" class="text-field" :class="$attrs['class']">
    <span v-if="shown" class="label">{{ label }}</span>
    <NInput
      ref="field"
      v-model:value="value"
      v-bind="inner"
      :class="{ mono }"
      :type="type === 'search' ? 'text' : (type ?? 'text')"
      :clearable="type === 'search'"
      :placeholder="placeholder ?? ''"
      :disabled="disabled"
      :status="wrong ? 'error' : undefined"
      :size="size"
      :rows="rows"
      :input-props="inputProps as never"
    />
  </component>
</template>

<style scoped>
.text-field {
  display: block;
}
</style>
