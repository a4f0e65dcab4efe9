<script setup lang="ts">
import { NButton, NModal } from 'naive-ui'
import { computed } from 'vue'
import { useProject } from '../stores/project'

/** Others have built on what is to be taken back: who and what, and the offer to take that
 *  along. */
const project = useProject()
const isShown = computed({
  get: () => project.blocked !== null,
  set: (shown) => !shown && (project.blocked = null),
})
const titles = {
  undo: 'Undo would touch the work of others',
  redo: 'Redo would touch the work of others',
  back: 'Going back would touch the work of others',
  command: '',
} as const
const verbs = {
  undo: 'Undo with what depends on it',
  redo: 'Redo over it',
  back: 'Go back all the same',
  command: '',
} as const
const kind = computed(() => project.blocked?.again.kind ?? 'undo')
</script>

<template>
  <NModal
    v-model:show="isShown"
    preset="card"
    :title="titles[kind]"
    class="dialog"
    size="small"
    :bordered="false"
  >
    <p>{{ project.blocked?.sentence }}</p>
    <p class="quiet">
      What depends on it goes along: modules and stations are taken out, and their signals keep
      their names and wait for another channel. The history keeps everything, and Redo brings it
      back.
    </p>
    <template #footer>
      <div class="ends">
        <NButton @click="isShown = false">Cancel</NButton>
        <NButton v-if="kind === 'undo'" @click="project.skipBlocked()"
          >Undo the change before it</NButton
        >
        <NButton type="primary" @click="project.takeBackWithDependents()">{{
          verbs[kind]
        }}</NButton>
      </div>
    </template>
  </NModal>
</template>

<style scoped>
p {
  margin: 0 0 10px;
}
.ends {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
}
</style>

<style>
.n-card.dialog {
  width: min(640px, 92vw);
}
</style>
