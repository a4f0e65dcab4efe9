<script setup lang="ts">
import {
  documentNames,
  exportFormats,
  exportGroups,
  exportNames,
  oneOr,
  plural,
  safetySignature,
  usualOptions,
  type DocumentName,
  type ExportFormat,
  type ExportName,
  type ExportOptions,
  type Finding,
} from '@kataxis/core'
import { useStorage } from '@vueuse/core'
import { NButton, NCheckbox, useMessage } from 'naive-ui'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../api/client'
import FilesButton from '../../parts/FilesButton.vue'
import type { RowColumn } from '../../parts/row-table'
import RowTable from '../../parts/RowTable.vue'
import { useExport } from '../../parts/useExport'
import { useFocus, type FocusKind } from '../../stores/focus'
import { useJobs } from '../../stores/jobs'
import { useProject } from '../../stores/project'
import { useSession } from '../../stores/session'
import DocumentPreview from './DocumentPreview.vue'
import OptionFields from './OptionFields.vue'
import ReleasePanel from './ReleasePanel.vue'
import { useReleases } from './useReleases'

/** What leaves the program: each file with its state, what changed since the last hand-over, and the
 *  package that is handed over. */
interface Row {
  readonly name: ExportName
  readonly format: ExportFormat
}

const project = useProject()
const session = useSession()
const router = useRouter()
const message = useMessage()
const jobs = useJobs()
const { goTo } = useFocus()
const download = useExport()
const sentence = ref('')
const fault = ref('')
const writing = ref('')
const preview = shallowRef<DocumentName | null>(null)
const options = shallowRef<ExportOptions>(usualOptions)
const { releases, last, since, load } = useReleases()
onMounted(() => void load())

const rows: readonly Row[] = exportNames
  .map((name) => ({ name, format: exportFormats[name] }))
  .toSorted((a, b) => orderOf(a) - orderOf(b))
function orderOf({ format: { group } }: Row): number {
  return Object.keys(exportGroups).indexOf(group)
}
const isDocument = (name: ExportName): name is DocumentName =>
  (documentNames as readonly string[]).includes(name)
const columns: readonly RowColumn<Row>[] = [
  { key: 'take', title: '', width: 40, isFixed: true },
  { key: 'file', title: 'File', isFixed: true },
  {
    key: 'group',
    title: 'Kind',
    width: 150,
    text: ({ format }) => exportGroups[format.group],
    choices: true,
  },
  { key: 'state', title: 'State', width: 70, text: stateOf },
  { key: 'do', title: '', width: 190, isFixed: true },
]
function stateOf({ format }: Row): string {
  return format.isDeliverable && blockers.value > 0 ? 'draft' : 'ready'
}

const taken = useStorage<ExportName[]>('kataxis.package', [
  'io-list-pdf',
  'addresses-pdf',
  'switches-pdf',
  'xlsx',
  'plcopen',
  'archive',
])
const chosen = computed(() => exportNames.filter((name) => taken.value.includes(name)))
const toggle = (name: ExportName) =>
  (taken.value = taken.value.includes(name)
    ? taken.value.filter((one) => one !== name)
    : [...taken.value, name])
const isAll = computed(() => chosen.value.length === exportNames.length)

const blockers = computed(() => project.findings?.blockers ?? 0)
/** Places with blockers, the first few. */
const reasons = computed(() => {
  const all = (project.findings?.all ?? []).filter(({ severity }) => severity === 'blocker')
  return [...new Map(all.map((one) => [one.at.words, one])).values()].slice(0, 4)
})
const showReason = ({ at: { kind, id } }: Finding) =>
  kind === 'project'
    ? undefined
    : void goTo(kind === 'signal' ? 'ledger' : 'board', { kind: kind as FocusKind, id })
const signature = computed(() => safetySignature(project.derived!))
const released = computed(() => {
  const release = project.plan!.project.safetyRelease
  if (!release) return 'not released'
  return release.signature === signature.value
    ? `released by ${release.by} on ${release.at.slice(0, 10)}`
    : `changed since ${release.by} released it on ${release.at.slice(0, 10)}`
})

/** Only what differs from usual goes along. */
const wanted = computed(
  () =>
    Object.fromEntries(
      Object.entries(options.value).filter(
        ([key, value]) =>
          JSON.stringify(value) !== JSON.stringify(usualOptions[key as keyof ExportOptions]),
      ),
    ) as Partial<ExportOptions>,
)

async function release(name: string, onlyChanged: boolean) {
  fault.value = ''
  try {
    const { job } = await api.beginRelease(project.id, {
      ...{ name, formats: chosen.value, options: wanted.value, onlyChanged },
    })
    jobs.put(job)
    writing.value = `Writing ${name} …`
    const ended = await jobs.untilOver(job.id, ({ done, total }) => {
      writing.value = `Writing ${name}: ${done} of ${total || chosen.value.length} files …`
    })
    if (ended.state === 'failed') fault.value = ended.sentence
    else message.success(`${name} is released.`)
    await load()
  } catch (error) {
    fault.value = (error as Error).message
  } finally {
    writing.value = ''
  }
}
async function bringIn([file]: readonly File[]) {
  if (!file) return
  try {
    const { id } = await api.importProject(file)
    sentence.value = ''
    await router.push(`/p/${id}/board`)
  } catch (error) {
    sentence.value = `${file.name}: ${(error as Error).message}`
  }
}
</script>

<template>
  <div class="handover">
    <header>
      <h1>Handover</h1>
      <p v-if="blockers > 0" class="draft">
        <strong>Draft.</strong>
        {{ oneOr(blockers, 'A blocker is', 'blockers are') }} open at revision
        {{ project.revision }}; every file says so until
        {{ plural(blockers, 'it is', 'they are') }} mended.
        <NButton
          v-for="(reason, i) in reasons"
          :key="i"
          text
          class="reason"
          :title="reason.message"
          @click="showReason(reason)"
          >{{ reason.at.words }}</NButton><span v-if="blockers > reasons.length" class="quiet"
          >all of them stand below</span
        >
      </p>
      <p v-else-if="!project.findings" class="quiet">The plan is being checked …</p>
      <p v-else class="ready">
        <strong>Ready.</strong> No blocker is open at revision {{ project.revision }}.
      </p>
      <p class="narrow facts">
        <span v-if="last"
          >Since <strong>{{ last.name }}</strong> (r{{ last.revision }}): {{ since }}
          <NButton text class="reason" @click="router.push(`/p/${project.id}/history`)"
            >Compare in History</NButton
          ></span
        ><span v-else>Nothing was released yet.</span>
        <span v-if="signature"
          >Fail-safe signature
          <span class="mono" :title="signature">{{ signature.slice(0, 12) }}…</span>,
          {{ released }}.</span
        >
      </p>
    </header>
    <div class="columns">
      <section class="files" aria-label="Files">
        <RowTable
          label="Files"
          :rows="rows"
          :columns="columns"
          :key-of="({ name }) => name"
          height="calc(100vh - 224px)"
        >
          <template #take="{ row: { name, format } }">
            <NCheckbox
              :checked="taken.includes(name)"
              :aria-label="`${format.label} goes into the package`"
              @update:checked="toggle(name)"
            />
          </template>
          <template #file="{ row: { format } }">
            <strong>{{ format.label }}</strong>
            <p class="what">{{ format.what }}</p>
          </template>
          <template #state="{ row }">
            <span :class="stateOf(row)">{{ stateOf(row) }}</span>
          </template>
          <template #do="{ row: { name, format } }">
            <div class="do">
              <NButton
                v-if="isDocument(name)"
                size="small"
                :aria-label="`Preview ${format.label}`"
                @click="preview = name"
                >Preview</NButton
              >
              <NButton
                size="small"
                :aria-label="`Download ${format.label}`"
                @click="download(name, wanted)"
                >Download</NButton
              >
            </div>
          </template>
        </RowTable>
        <div class="below">
          <NCheckbox
            :checked="isAll"
            :indeterminate="!isAll && chosen.length > 0"
            @update:checked="taken = isAll ? [] : [...exportNames]"
            >{{ chosen.length }} of {{ exportNames.length }} files go into the package</NCheckbox
          >
          <FilesButton label="Project file or archive" accept=".json,.zip" @files="bringIn"
            >Import a project …</FilesButton
          >
          <NButton size="small" @click="router.push(`/p/${project.id}/list`)"
            >Compare a file with the plan …</NButton
          >
          <p v-if="sentence" class="told" role="alert">{{ sentence }}</p>
        </div>
      </section>
      <aside tabindex="0" aria-label="Release and options">
        <ReleasePanel
          :releases="releases"
          :chosen="chosen.length"
          :is-draft="blockers > 0"
          :author="session.user?.fullName ?? ''"
          :fault="fault"
          :writing="writing"
          @release="release"
        />
        <OptionFields v-model="options" />
      </aside>
    </div>
    <DocumentPreview
      v-if="preview"
      :name="preview"
      :options="options"
      @close="preview = null"
      @download="download(preview!, wanted)"
    />
  </div>
</template>

<style scoped>
.handover {
  height: 100%;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
header {
  padding: 12px 20px 10px;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 4px 18px;
  align-items: baseline;
  border-bottom: 1px solid var(--line);
}
.facts {
  grid-column: 2;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
}
.draft {
  border-left: 3px solid var(--accent);
  padding-left: 10px;
}
.ready {
  border-left: 3px solid var(--good);
  padding-left: 10px;
}
.reason {
  margin: 0 10px 0 2px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.columns {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
}
.files {
  min-height: 0;
  padding: 0 0 0 12px;
  display: flex;
  flex-direction: column;
}
.what {
  font: 12.5px/1.35 var(--narrow);
  color: var(--ink-2);
}
.do {
  display: flex;
  gap: 6px;
  justify-content: flex-end;
}
span.draft {
  border: 0;
  padding: 0;
  color: var(--accent);
}
span.ready {
  border: 0;
  padding: 0;
  color: var(--ink-2);
}
.below {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  padding: 8px 8px 10px;
}
.below .n-checkbox {
  flex: 1;
}
aside {
  overflow: auto;
  border-left: 1px solid var(--line);
  padding: 12px 16px 30px;
  display: grid;
  gap: 18px;
  align-content: start;
}
</style>
