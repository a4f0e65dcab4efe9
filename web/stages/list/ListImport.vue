<script setup lang="ts">
import { useDropZone } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { onBeforeUnmount, ref } from 'vue'
import FilesButton from '../../parts/FilesButton.vue'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'
import ListColumns from './ListColumns.vue'
import ListDifferences from './ListDifferences.vue'
import { useListImport } from './useListImport'

/** A signal list from a spreadsheet: what its columns are, what it would change, and what of that
 *  is taken over. */
const project = useProject()
const list = useListImport()
const { tables, sheet, list: table, fileName, fault, isReading, comparison, accepted } = list
const { read, stop, take } = list
onBeforeUnmount(stop)

const page = ref<HTMLElement>()
const { isOverDropZone } = useDropZone(page, {
  onDrop: (files) => void (files?.[0] && read(files[0])),
})
function choose([file]: readonly File[]): void {
  if (file) void read(file)
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
</script>

<template>
  <article ref="page" class="page" :class="{ over: isOverDropZone }">
    <PageHead above="Ledger" title="Signals from a list" :quiet="fileName">
      <PickField
        v-if="tables.length > 1"
        v-model:value="sheet"
        label="Sheet of the workbook"
        class="pick"
        :options="
          tables.map((one, i) => ({ value: i, label: `${one.name} · ${one.rows.length} rows` }))
        "
      />
      <FilesButton
        label="List file"
        accept=".csv,.txt,.tsv,.xlsx,.xml,.aml,.json,.zip"
        :type="table ? 'default' : 'primary'"
        @files="choose"
        >{{ table ? 'Another file …' : 'Choose a file …' }}</FilesButton
      >
      <NButton v-if="comparison" type="primary" :disabled="accepted.length === 0" @click="finish">
        Apply {{ accepted.length }} to the plan
      </NButton>
    </PageHead>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <p v-if="isReading" class="empty">
      Reading {{ fileName }} … <NButton size="small" @click="stop">Stop</NButton>
    </p>
    <p v-else-if="!table" class="empty">
      Drop a signal list here or choose a file: XLSX, CSV with any separator, variables as PLCopen
      or IEC 61131-10, CAEX, or a project file. It is compared with the plan by tag, terminal,
      address or place; nothing changes before you say so.
    </p>
    <div v-else class="columns">
      <ListColumns :of="list" :table="table" />
      <ListDifferences :of="list" />
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
.fault {
  color: var(--accent);
}
header + .fault {
  padding: 10px 18px;
}
</style>
