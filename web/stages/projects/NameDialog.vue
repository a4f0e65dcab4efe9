<script setup lang="ts">
import type { ListedProject } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import DialogBox from '../../parts/DialogBox.vue'
import TextField from '../../parts/TextField.vue'

/** Asks what a project, or its duplicate, is to be called. */
const props = defineProps<{ what: 'rename' | 'duplicate'; project: ListedProject }>()
const emit = defineEmits<{ named: [name: string]; close: [] }>()
const words = {
  rename: { title: 'Rename the project', button: 'Rename', says: '' },
  duplicate: {
    title: 'Duplicate the project',
    button: 'Duplicate',
    says: 'The duplicate has the same plan and a history of its own. Fail-safe modules have to be signed again.',
  },
}[props.what]
const name = ref(props.what === 'rename' ? props.project.name : `${props.project.name} (copy)`)
const isGood = () => name.value.trim() !== '' && name.value.trim().length <= 200
</script>

<template>
  <DialogBox :title="words.title" @close="emit('close')">
    <form class="form" @submit.prevent="isGood() && emit('named', name.trim())">
      <TextField v-model:value="name" label="Name" shown :more="{ maxlength: 200 }" />
      <p v-if="words.says" class="quiet">{{ words.says }}</p>
      <div class="actions">
        <NButton type="primary" attr-type="submit" :disabled="!isGood()">{{
          words.button
        }}</NButton>
        <NButton @click="emit('close')">Cancel</NButton>
      </div>
    </form>
  </DialogBox>
</template>
