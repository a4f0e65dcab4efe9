<script setup lang="ts">
import { exportFormats, exportNames } from '@kataxis/core'
import { NModal } from 'naive-ui'
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRouter, useRoute } from 'vue-router'
import TextField from '../parts/TextField.vue'
import { useExport } from '../parts/useExport'
import { usePickList } from '../parts/usePickList'
import { useFocus } from '../stores/focus'
import { usePreferences } from '../stores/preferences'
import { useProject } from '../stores/project'
import { findPlaces } from './find'

const emit = defineEmits<{ close: [] }>()
const project = useProject()
const preferences = usePreferences()
const router = useRouter()
const route = useRoute()
const { goTo } = useFocus()
const text = ref('')
const field = ref<InstanceType<typeof TextField>>()
onMounted(() => void nextTick(() => field.value?.focus()))

interface Entry {
  kind: string
  words: string
  detail: string
  go: () => void
}
const stages = {
  overview: 'Overview',
  shelf: 'Shelf',
  board: 'Board',
  ledger: 'Ledger',
  parameters: 'Parameters',
  range: 'Range bench',
  list: 'Import a list',
  memory: 'Memory',
  rehearsal: 'Rehearsal',
  history: 'History',
  handover: 'Handover',
} as const
const goToStage = (name: string, query: Record<string, string> = {}) =>
  void router.push({ name, params: { project: route.params['project'] }, query })
const download = useExport()
const deeds = computed<Entry[]>(() => [
  ...Object.entries(stages).map(([name, words]) => ({
    kind: 'Go',
    words,
    detail: 'stage',
    go: () => goToStage(name),
  })),
  { kind: 'Do', words: 'Undo', detail: 'Ctrl Z', go: () => project.undo() },
  { kind: 'Do', words: 'Redo', detail: 'Ctrl Y', go: () => project.redo() },
  ...(project.derived?.controllers ?? []).flatMap(({ networks }) =>
    networks.map(({ network }) => ({
      kind: 'Do',
      words: `Add a station to ${network.name || 'the network without a name'}`,
      detail: 'Board',
      go: () => goToStage('board', { add: network.id }),
    })),
  ),
  {
    kind: 'Do',
    words: 'Name a version',
    detail: 'History',
    go: () => goToStage('history', { name: 'version' }),
  },
  ...exportNames.map((format) => ({
    kind: 'Do',
    words: `Export ${exportFormats[format].label}`,
    detail: 'download',
    go: () => download(format),
  })),
  {
    kind: 'Do',
    words: 'Switch between light and dark',
    detail: '',
    go: () => preferences.toggleTheme(),
  },
])
const entries = computed<Entry[]>(() => {
  const wanted = text.value.trim().toLowerCase()
  const places = project.derived
    ? findPlaces(text.value, project.derived, project.findings?.all ?? [])
    : []
  return [
    ...places.map((hit) => ({ ...hit, go: () => void goTo(hit.stage, hit.focus) })),
    ...deeds.value.filter(({ words }) =>
      wanted.split(/\s+/).every((word) => words.toLowerCase().includes(word)),
    ),
  ]
})
const { at, onKey } = usePickList(entries, take, () => emit('close'))
function take(entry: Entry) {
  isLeaving = true
  emit('close')
  entry.go()
}
/** Who only looked goes on where he was. */
let isLeaving = false
const before = document.activeElement
onBeforeUnmount(() => !isLeaving && before instanceof HTMLElement && before.focus())
</script>

<template>
  <NModal
    :show="true"
    :auto-focus="false"
    aria-label="Find or do"
    @update:show="(show: boolean) => !show && emit('close')"
  >
    <div class="box" role="dialog" aria-modal="true" aria-label="Find or do">
      <TextField
        ref="field"
        v-model:value="text"
        label="Find or do"
        placeholder="Station, tag, address such as %IX0.3, order number, finding, or what to do"
        size="large"
        :more="{
          role: 'combobox',
          'aria-expanded': true,
          'aria-controls': 'find-list',
          'aria-activedescendant': `find-${at}`,
        }"
        @keydown="onKey"
      />
      <ul id="find-list" role="listbox" aria-label="Found">
        <li
          v-for="(entry, i) in entries"
          :id="`find-${i}`"
          :key="i"
          role="option"
          :aria-selected="i === at"
          :class="{ at: i === at }"
          @mousemove="at = i"
          @click="take(entry)"
        >
          <small>{{ entry.kind }}</small><span>{{ entry.words }}</span
          ><small class="detail">{{ entry.detail }}</small>
        </li>
      </ul>
      <p v-if="entries.length === 0" class="none">Nothing contains “{{ text }}”.</p>
    </div>
  </NModal>
</template>

<style scoped>
.box {
  width: min(680px, 92vw);
  margin: 9vh auto 0;
  background: var(--paper);
  border: 1px solid var(--line);
  border-top: 3px solid var(--accent);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0 0 6px;
  max-height: 50vh;
  overflow: auto;
  border-top: 1px solid var(--line);
}
li {
  display: grid;
  grid-template-columns: 64px 1fr auto;
  gap: 10px;
  padding: 5px 16px;
  align-items: baseline;
  cursor: pointer;
}
li.at {
  background: var(--accent-soft);
}
small {
  color: var(--ink-2);
  font: 12px/1.3 var(--narrow);
}
.detail {
  font-family: var(--mono);
  font-size: 11px;
}
.none {
  padding: 14px 16px;
  color: var(--ink-2);
}
</style>
