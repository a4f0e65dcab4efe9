<script setup lang="ts">
import { oneOr, type ListDifference } from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import type { RowColumn } from '../../parts/row-table'
import RowTable from '../../parts/RowTable.vue'
import { useFocus } from '../../stores/focus'
import type { ListImport } from './useListImport'

/** What the list would change in the plan, by kind, each row of it taken or left. */
const { of: list } = defineProps<{ of: ListImport }>()
const { comparison, isAccepted, takesRemoved, toggle } = list
const { goTo } = useFocus()

const kinds = {
  changed: 'Changed',
  added: 'New',
  ambiguous: 'Not clear',
  removed: 'Not in the list',
} as const
type Kind = keyof typeof kinds
const kind = ref<Kind | 'all'>('all')
const counts = computed(
  () =>
    Object.fromEntries(
      Object.keys(kinds).map((name) => [
        name,
        comparison.value?.differences.filter((one) => one.kind === name).length ?? 0,
      ]),
    ) as Record<Kind, number>,
)
const shown = computed(
  () =>
    comparison.value?.differences.filter(
      (one) => kind.value === 'all' || one.kind === kind.value,
    ) ?? [],
)
const signs: Readonly<Record<Kind, string>> = {
  changed: '~',
  added: '+',
  ambiguous: '?',
  removed: '−',
}
const columns: readonly RowColumn<ListDifference>[] = [
  { key: 'take', title: 'Apply', width: 56, isFixed: true },
  { key: 'line', title: 'Row', width: 64, isMono: true, sorts: ({ line }) => line ?? 0 },
  { key: 'sign', title: '', width: 36, isFixed: true },
  { key: 'tag', title: 'Tag', width: 190, isMono: true },
  { key: 'where', title: 'Channel', width: 210 },
  { key: 'changes', title: 'What changes', isFixed: true },
]
const open = ({ edit, kind: what }: ListDifference) =>
  edit && what !== 'added' ? void goTo('ledger', { kind: 'signal', id: edit.id }) : undefined
</script>

<template>
  <div class="list" tabindex="0" aria-label="Differences">
    <div class="tabs" role="group" aria-label="Kinds of differences">
      <NButton
        size="small"
        :type="kind === 'all' ? 'info' : 'default'"
        :aria-pressed="kind === 'all'"
        @click="kind = 'all'"
      >
        All {{ comparison?.differences.length ?? 0 }}
      </NButton>
      <NButton
        v-for="(words, name) in kinds"
        :key="name"
        size="small"
        :type="kind === name ? 'info' : 'default'"
        :aria-pressed="kind === name"
        @click="kind = name"
      >
        {{ words }} {{ counts[name] }}
      </NButton>
      <NCheckbox v-if="counts.removed > 0" v-model:checked="takesRemoved"
        >remove what is not in the list</NCheckbox
      >
      <span class="quiet same"
        >{{ oneOr(comparison?.same ?? 0, 'one row says', 'rows say') }} what the plan has</span
      >
    </div>
    <p v-if="comparison && comparison.differences.length === 0" class="empty">
      The list says nothing that is not in the plan already.
    </p>
    <RowTable
      v-else
      label="Differences"
      :rows="shown"
      :columns="columns"
      :key-of="({ key }) => key"
      height="calc(100vh - 270px)"
    >
      <template #take="{ row: one }">
        <NCheckbox
          :aria-label="`Take ${one.tag || `row ${one.line}`}`"
          :disabled="!one.edit"
          :checked="isAccepted(one)"
          @update:checked="toggle(one.key)"
        ></NCheckbox>
      </template>
      <template #sign="{ row: one }">
        <span class="sign" :title="kinds[one.kind]">{{ signs[one.kind] }}</span>
      </template>
      <template #tag="{ row: one }">
        <NButton
          v-if="one.kind === 'changed' || one.kind === 'removed'"
          text
          class="link mono"
          @click="open(one)"
          >{{ one.tag || '(no tag)' }}</NButton><template v-else>{{
          one.tag || '(no tag)'
        }}</template>
      </template>
      <template #changes="{ row: one }">
        <span v-if="one.note" :class="{ fault: one.kind === 'ambiguous' }">{{ one.note }}</span>
        <span v-for="change in one.changes" :key="change.field" class="change"
          ><span class="quiet">{{ change.field }}</span>
          <s v-if="change.before">{{ change.before }}</s> <b>{{ change.after }}</b></span
        >
      </template>
    </RowTable>
  </div>
</template>

<style scoped>
.list {
  overflow: auto;
  padding: 12px 18px 40px;
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-bottom: 10px;
}
.tabs .n-button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
.same {
  margin-left: auto;
  font: 12.5px/1 var(--narrow);
}
.sign {
  font: 600 15px/1 var(--mono);
}
.change {
  display: inline-block;
  margin-right: 12px;
}
.change .quiet,
.change s {
  margin-right: 5px;
}
.change b {
  font-weight: 600;
}
.change s {
  color: var(--ink-3);
}
.fault {
  color: var(--accent);
}
.link {
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
