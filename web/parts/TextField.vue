<script setup lang="ts">
import { NInput } from 'naive-ui'
import { computed, ref, useAttrs } from 'vue'

/** A named line of text. The label stands above where `shown`; below stands what is wrong with the
 *  text, or that several lines that were pasted became one. */
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  label: string
  shown?: boolean
  mono?: boolean
  type?: 'text' | 'search' | 'password' | 'textarea'
  placeholder?: string
  disabled?: boolean
  wrong?: boolean
  fault?: string | null
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
const isWrong = computed(() => props.wrong || (props.fault ?? null) !== null)
const inputProps = computed(() => ({
  'aria-label': props.label,
  'aria-invalid': isWrong.value || undefined,
  // Names are written in every script.
  dir: props.mono ? undefined : 'auto',
  spellcheck: !props.mono,
  ...props.more,
}))

/** A browser joins pasted lines without anything between them; here a blank is, and it is said. */
const hasJoined = ref(false)
function paste(event: ClipboardEvent): void {
  const text = event.clipboardData?.getData('text/plain').trim() ?? ''
  const lines = text.split(/\s*[\r\n]+\s*/)
  hasJoined.value = lines.length > 1 && props.type !== 'textarea'
  if (!hasJoined.value) return
  event.preventDefault()
  const into = event.target as HTMLInputElement
  const end = into.value.length
  into.setRangeText(lines.join(' '), into.selectionStart ?? end, into.selectionEnd ?? end, 'end')
  into.dispatchEvent(new Event('input', { bubbles: true }))
}
const below = computed(
  () => props.fault ?? (hasJoined.value ? 'Several lines were pasted; they are one now.' : null),
)
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
      :status="isWrong ? 'error' : undefined"
      :size="size"
      :rows="rows"
      :input-props="inputProps as never"
      @paste="paste"
      @blur="hasJoined = false"
    />
    <span v-if="below !== null" class="below" :class="{ fault }" role="alert">{{ below }}</span>
  </component>
</template>

<style scoped>
.text-field {
  display: block;
}
.below {
  display: block;
  font: 12px/1.3 var(--narrow);
  color: var(--ink-2);
}
.below.fault {
  color: var(--accent);
}
</style>
