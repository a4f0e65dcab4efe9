<script setup lang="ts">
import {
  exportFormats,
  exportNames,
  factColumns,
  ioColumns as allColumns,
  ioList,
  oneOr,
  plural,
  safetySignature,
} from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../api/client'
import FilesButton from '../../parts/FilesButton.vue'
import { useExport } from '../../parts/useExport'
import { useProject } from '../../stores/project'

const project = useProject()
const router = useRouter()
const download = useExport()
const sentence = ref('')
/** What is known of signals is in the files; here it would only make the table wide. */
const ioColumns = allColumns.filter(({ key }) => !Object.hasOwn(factColumns, key))
const rows = computed(() => ioList(project.derived!))
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
      <div class="scroll" tabindex="0" role="region" aria-label="First rows of the I/O list">
        <NTable size="small" :bordered="false">
          <thead>
            <tr>
              <th v-for="column in ioColumns" :key="column.key" scope="col">
                {{ column.heading }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, i) in rows.slice(0, 60)" :key="i">
              <td
                v-for="column in ioColumns"
                :key="column.key"
                :class="{ mono: column.key === 'address' || column.key === 'tag' }"
              >
                {{ row[column.key] }}
              </td>
            </tr>
          </tbody>
        </NTable>
      </div>
      <p v-if="rows.length > 60" class="quiet narrow">
        … and {{ rows.length - 60 }} more in the file
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
.scroll {
  overflow: auto;
  max-height: 52vh;
  border: 1px solid var(--line);
  padding: 0 10px;
}
td {
  white-space: nowrap;
}
</style>
