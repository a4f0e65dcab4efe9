<script setup lang="ts">
import {
  exportFormats,
  originOf,
  plural,
  printDocument,
  type DocumentName,
  type ExportOptions,
} from '@kataxis/core'
import { NButton, NPagination } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../parts/DialogBox.vue'
import { useProject } from '../../stores/project'
import { browserMeasure } from './page-fonts'
import PageDrawing from './PageDrawing.vue'

/** A document page by page, as it will be printed. */
const { name, options } = defineProps<{ name: DocumentName; options: ExportOptions }>()
defineEmits<{ close: []; download: [] }>()
const project = useProject()
const number = ref(1)

/** Of a large plan the first stations are shown, as many as have so many channels. */
const mostChannels = 2500
const shown = computed(() => {
  const wanted = new Set(options.stations)
  const all = project.derived!.controllers.flatMap(({ networks }) =>
    networks.flatMap(({ stations }) =>
      stations.filter(({ id }) => wanted.size === 0 || wanted.has(id)),
    ),
  )
  let channels = 0
  const first = all.filter((view) => (channels += view.channels) <= mostChannels)
  return first.length < all.length && options.areas.length === 0 ? first : null
})
const printed = computed(() => {
  const derived = project.derived!
  const origin = originOf(derived, project.revision, project.findings?.blockers ?? 0)
  const stations = shown.value?.map(({ id }) => id) ?? options.stations
  return printDocument(name, {
    ...{ derived, origin, measure: browserMeasure() },
    options: { ...options, stations },
  })
})
const page = computed(() => printed.value.page(Math.min(number.value, printed.value.pageCount) - 1))
const label = computed(() => exportFormats[name].label.replace(/, PDF$/, ''))
</script>

<template>
  <DialogBox :title="`Preview: ${label}`" wide @close="$emit('close')">
    <div class="bar">
      <NPagination
        v-model:page="number"
        :page-count="printed.pageCount"
        :page-slot="7"
        size="small"
      />
      <span class="quiet narrow"
        >{{ printed.pageCount }} {{ plural(printed.pageCount, 'page')
        }}{{ shown ? `, of the first ${shown.length} stations` : '' }}</span
      >
      <NButton size="small" type="primary" @click="$emit('download')">Download PDF</NButton>
    </div>
    <div class="paper" tabindex="0" aria-label="Page">
      <PageDrawing :page="page" :label="`Page ${number} of ${printed.pageCount}`" />
    </div>
  </DialogBox>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-bottom: 10px;
}
.bar .quiet {
  flex: 1;
}
.paper {
  max-height: 68vh;
  overflow: auto;
  background: var(--paper-2);
  padding: 8px;
}
</style>
