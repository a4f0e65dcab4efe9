<script setup lang="ts">
import {
  assignSignals,
  factColumns,
  newId,
  numbered,
  type SignalRow,
  type SingleCommand,
} from '@kataxis/core'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { plainChoices } from '../../parts/choices'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import { readNewSignals } from './new-signals'

/** Signals that have no channel yet: to be put on the next one that fits, or drawn onto a row. */
const props = defineProps<{ near: { id: string; words: string } | null }>()
const project = useProject()
const chosen = ref(new Set<string>())
const text = ref('')
const fromHere = ref(true)
const kinds = ['DI', 'DO', 'AI', 'AO'] as const
const mostShown = 200

const waiting = computed(() =>
  Object.values(project.plan?.unplaced ?? {}).sort((a, b) => (a.tag < b.tag ? -1 : 1)),
)
const counts = computed(() =>
  [
    ...kinds.map(
      (kind) =>
        [kind as string, waiting.value.filter(({ facts }) => facts.kind === kind).length] as const,
    ),
    [
      'without a kind',
      waiting.value.filter(({ facts }) => facts.kind === undefined).length,
    ] as const,
  ].filter(([, count]) => count > 0),
)
const picked = computed(() =>
  chosen.value.size > 0 ? waiting.value.filter(({ id }) => chosen.value.has(id)) : waiting.value,
)
const assignment = computed(() =>
  project.derived && picked.value.length > 0
    ? assignSignals(project.derived, picked.value, fromHere.value ? (props.near?.id ?? null) : null)
    : null,
)
const added = computed(() => readNewSignals(text.value, project.plan!))

function toggle(id: string): void {
  const next = new Set(chosen.value)
  if (!next.delete(id)) next.add(id)
  chosen.value = next
}
function setKind({ id }: SignalRow, kind: string): void {
  project.run({
    type: 'editSignals',
    edits: [{ id, facts: { kind: kind === '' ? null : (kind as (typeof kinds)[number]) } }],
  })
}
function put(): void {
  const placed = assignment.value?.placed ?? []
  if (
    placed.length > 0 &&
    project.run({
      type: 'editSignals',
      edits: placed.map(({ signal: { id }, place }) => ({ id, place })),
    })
  )
    chosen.value = new Set()
}
function add(): void {
  const command: SingleCommand = {
    type: 'editSignals',
    edits: added.value.signals.map((signal) => ({ id: newId(), place: null, ...signal })),
  }
  if (added.value.signals.length > 0 && project.run(command)) text.value = ''
}
function remove(): void {
  if (project.run({ type: 'removeSignals', ids: [...chosen.value] })) chosen.value = new Set()
}
function drag(event: DragEvent, { id }: SignalRow): void {
  event.dataTransfer?.setData('text/x-kataxis-signal', id)
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Ledger</h3>
      <h1>Waiting signals</h1>
      <p class="quiet">
        {{
          waiting.length === 0
            ? 'Every signal has its channel. New ones can be written below.'
            : counts.map(([kind, count]) => `${count} ${kind}`).join(' · ')
        }}
      </p>
    </header>
    <section v-if="waiting.length > 0" aria-label="Signals without a channel">
      <ul class="list">
        <li
          v-for="signal in waiting.slice(0, mostShown)"
          :key="signal.id"
          draggable="true"
          @dragstart="drag($event, signal)"
        >
          <NCheckbox
            :aria-label="`Choose ${signal.tag || signal.comment}`"
            :checked="chosen.has(signal.id)"
            @update:checked="toggle(signal.id)"
          ></NCheckbox>
          <span class="mono tag">{{ signal.tag || '(no tag)' }}</span>
          <PickField
            :label="`Channel that ${signal.tag || signal.comment} needs`"
            :value="signal.facts.kind ?? ''"
            :options="[{ value: '', label: 'kind?' }, ...plainChoices(kinds)]"
            @update:value="setKind(signal, $event)"
          />
          <span class="quiet words">{{
            [signal.comment, factColumns.transmitter.word(signal.facts)].filter(Boolean).join(' · ')
          }}</span>
        </li>
      </ul>
      <p v-if="waiting.length > mostShown" class="quiet">
        … and {{ waiting.length - mostShown }} more at the end of the table
      </p>
      <p class="quiet">Pull one onto a free row, or:</p>
      <NCheckbox v-if="near" v-model:checked="fromHere">begin at {{ near.words }}</NCheckbox>
      <NButton type="primary" :disabled="(assignment?.placed.length ?? 0) === 0" @click="put">
        Assign {{ chosen.size > 0 ? 'the chosen' : 'all' }} {{ assignment?.placed.length ?? 0 }} to
        free channels
      </NButton>
      <NButton v-if="chosen.size > 0" size="small" @click="remove">
        Remove the chosen {{ chosen.size }}
      </NButton>
      <NTable v-if="assignment && assignment.placed.length > 0" size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">Signal</th>
            <th scope="col">Would go to</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in assignment.placed.slice(0, 12)" :key="one.signal.id">
            <td class="mono">{{ one.signal.tag }}</td>
            <td>{{ one.words }}</td>
          </tr>
        </tbody>
      </NTable>
      <p v-if="assignment && assignment.placed.length > 12" class="quiet">
        … and {{ assignment.placed.length - 12 }} more
      </p>
      <p v-for="one in assignment?.left.slice(0, 6) ?? []" :key="one.signal.id" class="fault">
        <span class="mono">{{ one.signal.tag || one.signal.comment }}</span>: {{ one.why }}
      </p>
      <p v-if="assignment && assignment.left.length > 6" class="fault">
        … and {{ assignment.left.length - 6 }} more find no channel
      </p>
    </section>
    <section>
      <TextField
        v-model:value="text"
        label="New signals, one a line: tag; comment; kind; transmitter; measures"
        shown
        mono
        type="textarea"
        :rows="5"
        placeholder="INT_PT_110; Pump 5 discharge; AI; 4..20 mA; 0..10 bar"
      />
      <p v-for="fault in added.faults.slice(0, 5)" :key="fault" class="fault">{{ fault }}</p>
      <NButton :disabled="added.signals.length === 0 || added.faults.length > 0" @click="add">
        Add {{ numbered(added.signals.length, 'signal') }}
      </NButton>
    </section>
  </div>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 38vh;
  overflow: auto;
  border: 1px solid var(--line);
}
.list li {
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr) 72px;
  gap: 2px 8px;
  align-items: center;
  padding: 4px 8px;
  border-bottom: 1px solid var(--paper-3);
  cursor: grab;
}
.tag {
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 12px;
}
.words {
  grid-column: 2 / -1;
  font: 12px/1.3 var(--narrow);
}
.list .n-select {
  width: 90px;
}
.fault {
  color: var(--accent);
  font: 12.5px/1.4 var(--narrow);
}
</style>
