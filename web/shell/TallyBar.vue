<script setup lang="ts">
import { numbered } from '@kataxis/core'
import type { Finding } from '@kataxis/core'
import { useEventListener } from '@vueuse/core'
import { NVirtualList, NButton } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
import FixButtons from '../parts/FixButtons.vue'
import { useFocus, type FocusKind } from '../stores/focus'
import { useProject } from '../stores/project'

const project = useProject()
const { goTo } = useFocus()
const isOpen = ref(false)
const at = ref(0)

const findings = computed(() => project.findings?.all ?? [])
/** Drawn as far as they can be seen; one key a finding, also where two are worded alike. */
const items = computed(() =>
  findings.value.map((finding, index) => ({
    key: `${finding.code}|${finding.at.id}|${index}`,
    finding,
    index,
  })),
)
const rows = ref<InstanceType<typeof NVirtualList>>()
watch(at, (index) => void nextTick(() => rows.value?.scrollTo({ index })))
const current = computed(() => findings.value[Math.min(at.value, findings.value.length - 1)])
const counts = computed(() => {
  const { blockers = 0, warnings = 0, notes = 0 } = project.findings ?? {}
  return [
    {
      mark: '▲',
      words: numbered(blockers, 'blocker'),
      kind: blockers > 0 ? 'blocker' : 'none',
    },
    { mark: '◆', words: numbered(warnings, 'warning'), kind: 'warning' },
    { mark: '·', words: numbered(notes, 'note'), kind: 'note' },
  ]
})
const marks = { blocker: '▲', warning: '◆', note: '·' } as const

function show(finding: Finding, index: number) {
  at.value = index
  const { kind, id } = finding.at
  if (kind === 'project') return
  void goTo(kind === 'signal' ? 'ledger' : 'board', { kind: kind as FocusKind, id })
}
function stepBy(step: 1 | -1) {
  const total = findings.value.length
  if (total === 0) return
  const next = (at.value + step + total) % total
  show(findings.value[next]!, next)
}
useEventListener('keydown', (event) => {
  if (event.key === 'F8') {
    event.preventDefault()
    stepBy(event.shiftKey ? -1 : 1)
  } else if (event.key === 'Escape') {
    isOpen.value = false
  }
})
</script>

<template>
  <footer class="tally" aria-label="Tally">
    <div v-if="isOpen" class="list" role="region" aria-label="Findings" tabindex="0">
      <NVirtualList
        v-if="findings.length > 0"
        ref="rows"
        class="rows"
        :items="items"
        :item-size="28"
        item-resizable
        visible-items-tag="ol"
      >
        <template #default="{ item: { finding, index } }">
          <li :class="{ current: index === at }">
            <span class="mark" :class="finding.severity" aria-hidden="true">{{
              marks[finding.severity as Finding['severity']]
            }}</span>
            <span class="sr">{{ finding.severity }}</span>
            <NButton text class="where" @click="show(finding, index)">{{
              finding.at.words
            }}</NButton>
            <span class="what">{{ finding.message }}</span>
            <FixButtons :finding="finding" />
          </li>
        </template>
      </NVirtualList>
      <p v-else-if="!project.findings" class="nothing">The plan is being checked …</p>
      <p v-else class="nothing">Nothing to find: the plan agrees with its descriptions.</p>
    </div>
    <div class="line">
      <NButton text class="counts" :aria-expanded="isOpen" @click="isOpen = !isOpen">
        <span v-for="count in counts" :key="count.mark" :class="count.kind" class="count"
          ><span aria-hidden="true">{{ count.mark }}</span> {{ count.words }}</span
        >
      </NButton>
      <template v-if="current">
        <NButton text class="sentence" :title="current.message" @click="show(current, at)">
          {{ current.message }}
        </NButton>
        <FixButtons :finding="current" :most="2" />
        <span class="steps">
          <NButton
            size="small"
            quaternary
            aria-label="Previous finding"
            title="Shift F8"
            @click="stepBy(-1)"
          >
            ‹
          </NButton>
          <span class="quiet"
            >{{ Math.min(at, findings.length - 1) + 1 }}/{{ findings.length }}</span
          >
          <NButton size="small" quaternary aria-label="Next finding" title="F8" @click="stepBy(1)">
            ›
          </NButton>
        </span>
      </template>
      <span v-else class="sentence quiet">{{
        project.findings ? 'No findings.' : 'The plan is being checked …'
      }}</span>
    </div>
  </footer>
</template>

<style scoped>
.tally {
  border-top: 1px solid var(--line);
  background: var(--paper-2);
  position: relative;
}
.line {
  display: flex;
  align-items: center;
  gap: 10px;
  height: 34px;
  padding: 0 10px;
}
.counts {
  font: 600 13px/1 var(--narrow);
  padding: 6px;
}
.counts :deep(.n-button__content) {
  gap: 14px;
}
.count.blocker,
.mark.blocker {
  color: var(--accent);
}
.count.warning,
.mark.warning {
  color: var(--warn);
}
.sentence {
  flex: 1;
  min-width: 0;
  justify-content: flex-start;
  border-left: 1px solid var(--line);
  padding: 4px 10px;
  font: 13px/1.2 var(--narrow);
}
.sentence :deep(.n-button__content) {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.steps {
  display: flex;
  align-items: center;
  font: 12px/1 var(--narrow);
  white-space: nowrap;
}
.list {
  position: absolute;
  bottom: 100%;
  left: 0;
  right: 0;
  background: var(--paper);
  border-top: 2px solid var(--ink-2);
  z-index: 20;
}
.rows {
  max-height: 45vh;
}
.rows :deep(ol) {
  list-style: none;
  margin: 0;
  padding: 6px 0;
}
li {
  display: grid;
  grid-template-columns: 18px 190px 1fr auto;
  gap: 10px;
  align-items: center;
  padding: 3px 16px;
  font: 13px/1.35 var(--narrow);
}
li.current {
  background: var(--paper-2);
}
.where {
  justify-content: flex-start;
  font: 600 13px/1.3 var(--narrow);
  text-decoration: underline;
  text-decoration-color: var(--line);
}
.line > .fixes {
  flex: none;
  flex-wrap: nowrap;
}
.nothing {
  padding: 16px;
}
</style>
