<script setup lang="ts">
import {
  exportFormats,
  exportNames,
  factColumns,
  ioColumns,
  ioList,
  oneOr,
  plural,
  safetySignature,
  type IoRow,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../api/client'
import FilesButton from '../../parts/FilesButton.vue'
import type { RowColumn } from '../../parts/row-table'
import RowTable from '../../parts/RowTable.vue'
import { useExport } from '../../parts/useExport'
import { useProject } from '../../stores/project'

type PreviewRow = IoRow & { readonly at: string }

const project = useProject()
const router = useRouter()
const download = useExport()
const sentence = ref('')
const filterable: ReadonlySet<string> = new Set(['network', 'station', 'kind', 'type'])
/** What is known of signals is in the files; here it would only make the table wide. */
const columns: readonly RowColumn<PreviewRow>[] = ioColumns
  .filter(({ key }) => !Object.hasOwn(factColumns, key))
  .map(({ key, heading, width }) => ({
    key,
    title: heading,
    width: Math.max(width, heading.length) * 7 + 40,
    choices: filterable.has(key),
    isMono: key === 'address' || key === 'tag',
  }))
const rows = computed(() => ioList(project.derived!))
const mostShown = 2000
const shown = computed(() =>
  rows.value.slice(0, mostShown).map((row, i): PreviewRow => ({ ...row, at: String(i) })),
)
const blockers = computed(() => project.findings?.blockers ?? 0)
const signature = computed(() => safetySignature(project.derived!))
const released = computed(() => {
  const release = project.plan!.project.safetyRelease
  if (!release) return ', not released yet.'
  return release.signature === signature.value
    ? `, released by ${release.by} on ${release.at.slice(0, 10)}.`
    : `, and is no longer what ${release.by} released on ${release.at.slice(0, 10)}.`
})

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
    <div class="top">
      <h1>Handover</h1>
      <p v-if="blockers > 0" class="draft">
        <strong>Draft.</strong>
        {{ oneOr(blockers, 'A blocker is', 'blockers are') }} open; every list says so until
        {{ plural(blockers, 'it is', 'they are') }} mended.
      </p>
      <p v-else-if="!project.findings" class="quiet">The plan is being checked …</p>
      <p v-else class="ready">
        <strong>Ready.</strong> No blocker is open at revision {{ project.revision }}.
      </p>
    </div>
    <p v-if="signature" class="narrow">
      All that is fail-safe in the plan has the signature
      <span class="mono">{{ signature }}</span>{{ released }}
    </p>
    <ul class="exports">
      <li v-for="name in exportNames" :key="name">
        <h2>{{ exportFormats[name].label }}</h2>
        <p>{{ exportFormats[name].what }}</p>
        <NButton size="small" @click="download(name)">{{
          blockers > 0 && exportFormats[name].isDeliverable ? 'Download draft' : 'Download'
        }}</NButton>
      </li>
      <li>
        <h2>Import a project</h2>
        <p>A project file or archive opens as a new project. This project does not change.</p>
        <FilesButton label="Project file or archive" accept=".json,.zip" @files="bringIn"
          >Choose a file …</FilesButton
        >
      </li>
    </ul>
    <p v-if="sentence" class="told" role="alert">{{ sentence }}</p>
    <section aria-label="Preview of the I/O list">
      <h2>I/O list, {{ rows.length }} rows</h2>
      <RowTable
        label="I/O list"
        :rows="shown"
        :columns="columns"
        :key-of="({ at }) => at"
        height="46vh"
        wide
      />
      <p v-if="rows.length > mostShown" class="quiet narrow">
        … and {{ rows.length - mostShown }} more in the file
      </p>
    </section>
  </div>
</template>

<style scoped>
.handover {
  height: 100%;
  overflow: auto;
  padding: 14px 20px 30px;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.top {
  display: flex;
  gap: 16px;
  align-items: baseline;
}
.draft {
  border-left: 3px solid var(--accent);
  padding-left: 10px;
}
.ready {
  border-left: 3px solid var(--good);
  padding-left: 10px;
}
.exports {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 10px;
}
.exports li {
  border: 1px solid var(--line);
  border-top: 3px solid var(--ink-2);
  padding: 10px 12px;
  display: grid;
  gap: 6px;
  grid-template-rows: auto 1fr auto;
  justify-items: start;
}
.exports p {
  font: 13px/1.4 var(--narrow);
  color: var(--ink-2);
}
section {
  display: grid;
  gap: 6px;
  min-height: 0;
}
:deep(td) {
  white-space: nowrap;
}
</style>
