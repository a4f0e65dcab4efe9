<script setup lang="ts">
import { judgeOfTags, numbered, replacer } from '@kataxis/core'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { tableChoices } from '../../parts/choices'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import type { LedgerRow } from './rows'
import { useLedgerEdits } from './useLedgerEdits'

/** Finds and replaces in the rows that are shown or selected, with groups; what would collide is
 *  told before. */
const props = defineProps<{ rows: readonly LedgerRow[] }>()
const emit = defineEmits<{ done: [] }>()
const project = useProject()
const edit = useLedgerEdits()
const find = ref('')
const text = ref('')
const isPattern = ref(false)
const matchesCase = ref(false)
const columns = { tag: 'Tags', comment: 'Comments', terminal: 'Terminals' } as const
const column = ref<keyof typeof columns>('tag')
const mostShown = 20

const run = computed(() =>
  replacer({
    find: find.value,
    with: text.value,
    isPattern: isPattern.value,
    matchesCase: matchesCase.value,
  }),
)
const changes = computed(() => {
  const replace = run.value
  if (typeof replace === 'string') return []
  const found = props.rows
    .filter(({ signalId }) => signalId !== null)
    .map((row) => ({ row, before: row[column.value], after: replace(row[column.value]) }))
    .filter(({ before, after }) => before !== after)
  if (column.value !== 'tag') return found.map((one) => ({ ...one, fault: null }))
  const own = new Set(found.flatMap(({ row }) => (row.signalId === null ? [] : [row.signalId])))
  const judge = judgeOfTags(project.plan!, own)
  return found.map((one) => ({ ...one, fault: judge(one.after) }))
})
const faulty = computed(() => changes.value.filter(({ fault }) => fault !== null))
const sample = computed(() =>
  [...new Set([...faulty.value.slice(0, mostShown), ...changes.value.slice(0, mostShown)])].slice(
    0,
    mostShown,
  ),
)

function take(): void {
  if (edit(changes.value.map(({ row, after }) => ({ row, column: column.value, text: after }))))
    emit('done')
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Ledger</h3>
      <h1>Find and replace</h1>
      <p class="quiet">In {{ rows.length }} rows: the selected ones, or all that are shown.</p>
    </header>
    <div class="form">
      <PickField
        v-model:value="column"
        label="In"
        shown
        :options="tableChoices(columns, (words) => words)"
      />
      <TextField v-model:value="find" label="Find" shown mono />
      <TextField v-model:value="text" label="Replace with" shown mono />
      <NCheckbox v-model:checked="isPattern"
        >as a pattern: <code>(\d+)</code> found is <code>$1</code> again</NCheckbox
      >
      <NCheckbox v-model:checked="matchesCase">capital letters count</NCheckbox>
    </div>
    <p v-if="find !== '' && typeof run === 'string'" class="fault">{{ run }}</p>
    <section v-if="find !== '' && typeof run !== 'string'">
      <h2>
        {{ numbered(changes.length, 'change')
        }}<template v-if="faulty.length > 0">, {{ faulty.length }} not as they should be</template>
      </h2>
      <NTable size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">Now</th>
            <th scope="col">Then</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ row, before, after, fault } in sample" :key="row.key">
            <td class="mono quiet">{{ before }}</td>
            <td>
              <span class="mono">{{ after || '–' }}</span>
              <span v-if="fault" class="fault">{{ fault }}</span>
            </td>
          </tr>
        </tbody>
      </NTable>
      <p v-if="changes.length > sample.length" class="quiet">
        … and {{ changes.length - sample.length }} more
      </p>
    </section>
    <NButton type="primary" :disabled="changes.length === 0 || faulty.length > 0" @click="take">
      Replace in {{ numbered(changes.length, 'row') }}
    </NButton>
  </div>
</template>

<style scoped>
code {
  font: 12px/1 var(--mono);
}
.fault {
  color: var(--accent);
}
</style>
