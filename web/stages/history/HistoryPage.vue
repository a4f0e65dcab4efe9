<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, type HistoryEntry, type Version } from '../../api/client'
import type { RowColumn } from '../../parts/row-table'
import RowTable from '../../parts/RowTable.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import DifferenceList from './DifferenceList.vue'
import { timeWords } from '../../parts/time-words'
import { rowsOf, useEntries, whatOf } from './useEntries'
import VersionList from './VersionList.vue'

const project = useProject()
const route = useRoute()
const versions = shallowRef<readonly Version[]>([])
const failure = ref('')
const name = ref('')
const from = ref<number | null>(null)
const to = ref<number | null>(null)
const nameField = ref<InstanceType<typeof TextField>>()
const { filter, words: asked, entries, isAtEnd, isLoaded, more } = useEntries(failure)

async function tryIt(work: () => Promise<void>): Promise<void> {
  try {
    failure.value = ''
    await work()
  } catch (error) {
    failure.value = (error as Error).message
  }
}
const loadVersions = async () => {
  versions.value = (await api.versions(project.id)).versions
}
onMounted(() => tryIt(loadVersions))
watch(
  () => project.revision,
  () => tryIt(loadVersions),
)
/** Who was sent here to name a version can type at once. */
onMounted(() => route.query['name'] !== undefined && nameField.value?.focus())

const columns: readonly RowColumn<HistoryEntry>[] = [
  { key: 'at', title: 'When', width: 118, text: ({ at }) => timeWords(at), sorts: ({ at }) => at },
  { key: 'author', title: 'Who', width: 104, choices: true },
  { key: 'what', title: 'What', isFixed: true },
  { key: 'rows', title: 'Rows', width: 70, isNumber: true, sorts: ({ rows }) => rows },
  { key: 'do', title: '', width: 220, isFixed: true },
]
const classOf = ({ revision, undone }: HistoryEntry) =>
  [undone && 'undone', revision === (to.value ?? from.value) && 'chosen'].filter(Boolean).join(' ')
const nameOf = computed(
  () => new Map(versions.value.map((version) => [version.revision, version.name])),
)
/** The first version is compared with the plan as it is, the next one with the first. */
function compare({ revision }: Version): void {
  if (from.value === null || to.value !== null) {
    from.value = revision
    to.value = null
  } else to.value = revision
}
const keep = () =>
  tryIt(async () => {
    await api.nameVersion(project.id, name.value.trim())
    name.value = ''
    await loadVersions()
  })
const forget = (version: Version) =>
  tryIt(async () => {
    await api.forgetVersion(project.id, version.name)
    await loadVersions()
  })
</script>

<template>
  <div class="page">
    <section class="list" aria-label="Changes">
      <header>
        <h1>History</h1>
        <form class="keep" @submit.prevent="keep">
          <TextField
            ref="nameField"
            v-model:value="name"
            label="Name of the version"
            placeholder="Name this version …"
            :more="{ maxlength: 100 }"
          />
          <NButton size="small" attr-type="submit" :disabled="name.trim() === ''"
            >Save as version</NButton
          >
        </form>
      </header>
      <TextField
        v-model:value="filter"
        label="Filter the changes"
        type="search"
        placeholder="Filter by person, place or tag"
      />
      <p v-if="failure" class="fault" role="alert">{{ failure }}</p>
      <RowTable
        v-if="entries.length > 0"
        label="Changes"
        :rows="entries"
        :columns="columns"
        :key-of="({ revision }) => String(revision)"
        :class-of="classOf"
        height="calc(100vh - 235px)"
      >
        <template #what="{ row: entry }">
          {{ whatOf(entry, nameOf) }}<span v-if="entry.undone" class="quiet"> · taken back</span
          ><strong v-if="nameOf.has(entry.revision)" class="version">{{
            nameOf.get(entry.revision)
          }}</strong>
          <ul class="rows" :aria-label="`Rows of r${entry.revision}`">
            <li v-for="(row, i) in rowsOf(entry, project.derived)" :key="i">{{ row }}</li>
            <li v-if="entry.rows > entry.first.length">
              and {{ entry.rows - entry.first.length }} more
            </li>
          </ul>
        </template>
        <template #do="{ row: entry }">
          <span class="actions">
            <NButton
              size="small"
              :aria-label="`What r${entry.revision} changed`"
              @click="((from = entry.revision - 1), (to = entry.revision))"
            >
              What changed
            </NButton>
            <NButton
              size="small"
              :aria-label="`Compare r${entry.revision} with now`"
              @click="((from = entry.revision), (to = null))"
            >
              Compare with now
            </NButton>
            <NButton
              v-if="entry.revision < project.revision"
              size="small"
              :aria-label="`Back to r${entry.revision}`"
              @click="project.backTo(entry.revision)"
            >
              Back to here
            </NButton>
          </span>
        </template>
      </RowTable>
      <p v-else-if="isLoaded && asked === ''" class="quiet">
        Nothing has been changed yet. Every change will stand here with who made it and when.
      </p>
      <p v-else-if="isLoaded" class="quiet">No change fits “{{ asked }}”.</p>
      <NButton v-if="entries.length > 0 && !isAtEnd" size="small" @click="more">
        Older changes
      </NButton>
    </section>
    <aside class="difference" aria-label="Difference">
      <h2>Versions</h2>
      <VersionList
        :versions="versions"
        :from="to === null ? from : null"
        @compare="compare"
        @back="project.backTo($event.revision)"
        @forget="forget"
      />
      <DifferenceList v-if="from !== null" :from="from" :to="to" />
    </aside>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 1fr minmax(320px, 36%);
  height: 100%;
}
.list,
.difference {
  overflow: auto;
  padding: 12px 16px 30px;
  display: grid;
  gap: 10px;
  align-content: start;
}
.difference {
  border-left: 1px solid var(--line);
}
header,
.keep {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
}
.keep .text-field {
  width: 260px;
}
.rows {
  list-style: none;
  margin: 0;
  padding: 0;
  color: var(--ink-2);
  font-size: 12px;
}
:deep(.undone td) {
  color: var(--ink-3);
}
:deep(.chosen td) {
  background: var(--accent-soft);
}
.list > .n-button {
  justify-self: start;
}
.version {
  margin-left: 8px;
  padding: 0 6px;
  border: 1px solid var(--ink-2);
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.fault {
  color: var(--accent);
}
a {
  color: inherit;
}
</style>
