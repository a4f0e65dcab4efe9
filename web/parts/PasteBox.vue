<script setup lang="ts">
import { numbered, type PastedFault } from '@kataxis/core'
import { NButton } from 'naive-ui'
import DialogBox from './DialogBox.vue'
import TextField from './TextField.vue'

/** A table is pasted and read while one looks; lines that are none of it are told and left out. What
 *  can be done with what was read stands in the slot. */
defineProps<{
  title: string
  /** What the columns are. */
  about: string
  label: string
  /** The beginning of such a table. */
  example: string
  /** How many rows were read, and what one is called. */
  count: number
  one: string
  faults: readonly PastedFault[]
}>()
defineEmits<{ close: [] }>()
const text = defineModel<string>('text', { required: true })
const mostTold = 8
</script>

<template>
  <DialogBox :title="title" wide @close="$emit('close')">
    <p class="quiet">
      Columns: {{ about }}. With headings they may stand in any order; tabs, commas or semicolons
      between them.
    </p>
    <TextField
      v-model:value="text"
      :label="label"
      type="textarea"
      mono
      :rows="11"
      :placeholder="example"
    />
    <p role="status">
      {{ numbered(count, one) }} read<template v-if="faults.length > 0"
        >, {{ numbered(faults.length, 'line') }} left out</template
      >.
    </p>
    <ul v-if="faults.length > 0" class="faults">
      <li v-for="fault in faults.slice(0, mostTold)" :key="fault.line">{{ fault.sentence }}</li>
      <li v-if="faults.length > mostTold">
        and {{ numbered(faults.length - mostTold, 'line') }} more.
      </li>
    </ul>
    <div class="actions">
      <slot />
      <NButton @click="$emit('close')">Cancel</NButton>
    </div>
  </DialogBox>
</template>

<style scoped>
.faults {
  margin: 0;
  padding-left: 18px;
  font: 13px/1.5 var(--narrow);
  color: var(--accent);
}
.actions {
  display: flex;
  gap: 8px;
}
</style>
