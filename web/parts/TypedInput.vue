<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'
import { useProject } from '../stores/project'
import TextField from './TextField.vue'

/** A field whose text is taken over on Enter or when it is left, and put back on Esc. What is being
 *  typed stays when the page is drawn again; what was refused stays too, with the reason below. */
const props = defineProps<{
  label: string
  shown?: boolean
  value: string
  mono?: boolean
  placeholder?: string
  disabled?: boolean
  wrong?: boolean
  size?: 'small' | 'medium'
}>()
const emit = defineEmits<{ change: [value: string] }>()
const project = useProject()
const text = ref(props.value)
const refused = ref<{ text: string; why: string } | null>(null)

watch(
  () => props.value,
  (value, before) => {
    if (refused.value === null && text.value !== before) return
    refused.value = null
    text.value = value
  },
)
/** What was typed goes; where nothing was, Esc means what lies around the field. */
function undo(event: KeyboardEvent) {
  if (text.value === props.value) return
  event.stopPropagation()
  refused.value = null
  text.value = props.value
}
function settle() {
  const before = project.refusal
  if (text.value !== props.value) emit('change', text.value)
  const told = project.refusal
  if (told !== before && told !== null) {
    refused.value = { text: text.value, why: told.sentence }
    // It stands here, so the frame need not say it too.
    project.refusal = before
  } else {
    refused.value = null
    text.value = props.value
  }
}
function onKey(event: KeyboardEvent) {
  if (event.key === 'Enter') settle()
  else if (event.key === 'Escape') undo(event)
}
/** What was refused is not offered again by leaving the field once more. */
const leave = () => {
  if (refused.value?.text !== text.value) settle()
}
onBeforeUnmount(() => {
  if (refused.value) project.tell(refused.value.why)
})
</script>

<template>
  <TextField
    v-model:value="text"
    :label="label"
    :shown="shown"
    :mono="mono"
    :placeholder="placeholder"
    :disabled="disabled"
    :wrong="wrong"
    :fault="refused?.why ?? null"
    :size="size"
    @blur="leave"
    @keydown="onKey"
  />
</template>
