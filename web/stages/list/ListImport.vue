<script setup lang="ts">
import { useDropZone } from '@vueuse/core'
import { computed, onBeforeUnmount, ref } from 'vue'
import {
  factColumns,
  listFields,
  oneOr,
  type FactName,
  type ListDifference,
  type ListField,
} from '@kataxis/core'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import PageHead from '../../parts/PageHead.vue'
import { useListImport } from './useListImport'

/** A signal list from a spreadsheet: what its columns are, what it would change, and what of that
 *  is taken over. */
const project = useProject()
const { goTo } = useFocus()
const {
  tables,
  sheet,
  list: table,
  fileName,
  fault,
  isReading,
  mapping,
  setColumn,
  comparison,
  accepted,
  isAccepted,
  takesRemoved,
  toggle,
  read,
  stop,
  take,
} = useListImport()
onBeforeUnmount(stop)

const page = ref<HTMLElement>()
const { isOverDropZone } = useDropZone(page, {
  onDrop: (files) => void (files?.[0] && read(files[0])),
})
const kinds = {
  changed: 'Changed',
  added: 'New',
  ambiguous: 'Not clear',
  removed: 'Not in the list',
} as const
type Kind = keyof typeof kinds
const kind = ref<Kind | 'all'>('all')
const mostShown = 400
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
const fieldWords: Readonly<Record<Exclude<ListField, FactName>, string>> = {
  tag: 'Tag',
  comment: 'Comment',
  terminal: 'Terminal',
  address: 'Address',
  station: 'Station',
  slot: 'Slot',
  subslot: 'Subslot',
  channel: 'Channel',
}
const wordField = (field: ListField) =>
  field in factColumns
    ? factColumns[field as FactName].heading
    : fieldWords[field as keyof typeof fieldWords]
const example = (column: number) =>
  table.value?.rows.find(({ cells }) => (cells[column] ?? '') !== '')?.cells[column] ?? ''

function choose(event: Event): void {
  const input = event.target as HTMLInputElement
  if (input.files?.[0]) void read(input.files[0])
  input.value = ''
}
function finish(): void {
  const count = accepted.value.length
  if (take())
    project.tell(
      count === 1
        ? `One row of ${fileName.value} is in the plan now.`
        : `${count} rows of ${fileName.value} are in the plan now, as one change.`,
    )
}
const signs: Readonly<Record<Kind, string>> = {
  changed: '~',
  added: '+',
  ambiguous: '?',
  removed: '−',
}
const open = ({ edit, kind: what }: ListDifference) =>
  edit && what !== 'added' ? void goTo('ledger', { kind: 'signal', id: edit.id }) : undefined
</script>

<template>
  <article ref="page" class="page" :class="{ over: isOverDropZone }">
    <PageHead above="Ledger" title="Signals from a list" :quiet="fileName">
      <select
        v-if="tables.length > 1"
        v-model="sheet"
        class="field pick"
        aria-label="Sheet of the workbook"
      >
        <option v-for="(one, i) in tables" :key="one.name" :value="i">
          {{ one.name }} · {{ one.rows.length }} rows
        </option>
      </select>
      <label class="button" :class="{ main: !table }"
        >{{ table ? 'Another file …' : 'Choose a file …'
        }}<input
          type="file"
          accept=".csv,.txt,.tsv,.xlsx"
          class="hidden"
          aria-label="List file"
          @change="choose"
      /></label>
      <button
        v-if="comparison"
        class="button main"
        :disabled="accepted.length === 0"
        @click="finish"
      >
        Apply {{ accepted.length }} to the plan
      </button>
    </PageHead>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <p v-if="isReading" class="empty">
      Reading {{ fileName }} … <button class="button small" @click="stop">Stop</button>
    </p>
    <p v-else-if="!table" class="empty">
      Bring a signal list, XLSX or CSV with any separator, here or by the button. It is compared
      with the plan by tag, terminal, address or place; nothing changes before you say so.
    </p>
    <div v-else class="columns">
      <aside tabindex="0" aria-label="Columns of the list">
        <h2>What the columns are</h2>
        <ul class="fields">
          <li v-for="(heading, i) in table.headings" :key="i">
            <label
              ><span class="heading">{{ heading || `Column ${i + 1}` }}</span
              ><small class="quiet">{{ example(i) }}</small>
              <select
                class="field"
                :value="mapping[i] ?? ''"
                @change="setColumn(i, ($event.target as HTMLSelectElement).value as ListField | '')"
              >
                <option value="">not used</option>
                <option v-for="field in listFields" :key="field" :value="field">
                  {{ wordField(field) }}
                </option>
              </select>
            </label>
          </li>
        </ul>
        <p v-for="note in table.notes" :key="note" class="note">{{ note }}</p>
      </aside>
      <div class="list" tabindex="0" aria-label="Differences">
        <div class="tabs" role="group" aria-label="Kinds of differences">
          <button class="button small" :aria-pressed="kind === 'all'" @click="kind = 'all'">
            All {{ comparison?.differences.length ?? 0 }}
          </button>
          <button
            v-for="(words, name) in kinds"
            :key="name"
            class="button small"
            :aria-pressed="kind === name"
            @click="kind = name"
          >
            {{ words }} {{ counts[name] }}
          </button>
          <label v-if="counts.removed > 0" class="check"
            ><input v-model="takesRemoved" type="checkbox" /> remove what is not in the list</label
          >
          <span class="quiet same"
            >{{ oneOr(comparison?.same ?? 0, 'one row says', 'rows say') }} what the plan has</span
          >
        </div>
        <p v-if="comparison && comparison.differences.length === 0" class="empty">
          The list says nothing that is not in the plan already.
        </p>
        <table v-else class="plain-table">
          <thead>
            <tr>
              <th scope="col">Take</th>
              <th scope="col">Row</th>
              <th scope="col"></th>
              <th scope="col">Tag</th>
              <th scope="col">Channel</th>
              <th scope="col">What changes</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in shown.slice(0, mostShown)" :key="one.key" :class="one.kind">
              <td>
                <input
                  type="checkbox"
                  :aria-label="`Take ${one.tag || `row ${one.line}`}`"
                  :disabled="!one.edit"
                  :checked="isAccepted(one)"
                  @change="toggle(one.key)"
                />
              </td>
              <td class="mono quiet">{{ one.line ?? '' }}</td>
              <td class="sign" :title="kinds[one.kind]">{{ signs[one.kind] }}</td>
              <td class="mono">
                <button
                  v-if="one.kind === 'changed' || one.kind === 'removed'"
                  class="link"
                  @click="open(one)"
                >
                  {{ one.tag || '(no tag)' }}</button><template v-else>{{
                  one.tag || '(no tag)'
                }}</template>
              </td>
              <td>{{ one.where }}</td>
              <td>
                <span v-if="one.note" :class="{ fault: one.kind === 'ambiguous' }">{{
                  one.note
                }}</span>
                <span v-for="change in one.changes" :key="change.field" class="change"
                  ><span class="quiet">{{ change.field }}</span>
                  <s v-if="change.before">{{ change.before }}</s> <b>{{ change.after }}</b></span
                >
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="shown.length > mostShown" class="quiet">
          … and {{ shown.length - mostShown }} more, which are taken over as these are.
        </p>
      </div>
    </div>
  </article>
</template>

<style scoped>
.page {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.over {
  outline: 2px dashed var(--accent);
  outline-offset: -6px;
}
.pick {
  width: 220px;
}
.hidden {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
.columns {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 290px minmax(0, 1fr);
}
aside,
.list {
  overflow: auto;
  padding: 12px 18px 40px;
}
aside {
  border-right: 1px solid var(--line);
}
.fields {
  list-style: none;
  margin: 8px 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.fields label {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 130px;
  gap: 0 8px;
  align-items: center;
}
.heading {
  font: 600 13px/1.3 var(--narrow);
}
.fields small {
  grid-row: 2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.fields .field {
  grid-row: 1 / 3;
  grid-column: 2;
  padding: 2px 6px;
}
.note {
  color: var(--warn);
  font: 12.5px/1.4 var(--narrow);
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-bottom: 10px;
}
.tabs .button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
  font: 13px/1 var(--sans);
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
.change b {
  font-weight: 600;
}
.change s {
  color: var(--ink-3);
}
.fault {
  color: var(--accent);
}
header + .fault {
  padding: 10px 18px;
}
.link {
  border: 0;
  background: none;
  padding: 0;
  color: var(--ink);
  font: inherit;
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
</style>
