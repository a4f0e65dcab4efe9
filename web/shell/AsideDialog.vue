<script setup lang="ts">
import { wordCommand } from '@kataxis/core'
import { NButton, NModal } from 'naive-ui'
import { computed } from 'vue'
import type { SetAside } from '../local/work'
import { useProject } from '../stores/project'

/** Changes that could not be carried out by no fault of whoever made them: tried again, copied, or
 *  thrown away. */
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const isShown = computed({ get: () => true, set: () => emit('close') })
const time = new Intl.DateTimeFormat('en-GB', {
  day: '2-digit',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
})

function whatOf({ action }: SetAside): string {
  if (action.kind === 'command') return wordCommand(action.command)
  return action.kind === 'back'
    ? `Back to r${action.revision}`
    : action.kind === 'undo'
      ? 'Undo'
      : 'Redo'
}
const copy = (entry: SetAside) =>
  void navigator.clipboard.writeText(JSON.stringify(entry.action, null, 1))
</script>

<template>
  <NModal
    v-model:show="isShown"
    preset="card"
    title="Set aside"
    class="dialog"
    size="small"
    :bordered="false"
  >
    <p v-if="project.aside.length === 0">Nothing is set aside.</p>
    <p v-else>These changes were not carried out. Everything else was saved.</p>
    <ul>
      <li v-for="entry in project.aside" :key="entry.commandId">
        <strong>{{ whatOf(entry) }}</strong>
        <span class="quiet">{{ time.format(new Date(entry.at)) }}</span>
        <p>{{ entry.reason }}</p>
        <div class="ends">
          <NButton size="small" type="primary" @click="project.retry(entry)">Try again</NButton>
          <NButton size="small" @click="copy(entry)">Copy</NButton>
          <NButton size="small" @click="project.discard(entry)">Discard</NButton>
        </div>
      </li>
    </ul>
  </NModal>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 14px;
}
p {
  margin: 2px 0 8px;
}
.ends {
  display: flex;
  gap: 8px;
}
</style>
