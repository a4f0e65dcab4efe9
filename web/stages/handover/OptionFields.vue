<script setup lang="ts">
import { encodings, ioColumns, paperSizes, separators, type ExportOptions } from '@kataxis/core'
import { NButton, NSelect } from 'naive-ui'
import { computed } from 'vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'

/** What is chosen for all files that are written: which part of the plan, and how. */
const options = defineModel<ExportOptions>({ required: true })
const project = useProject()
const set = (more: Partial<ExportOptions>) => (options.value = { ...options.value, ...more })

const controllers = computed(() => [
  { value: '', label: 'all' },
  ...project.derived!.controllers.map(({ controller: { id, name } }) => ({
    value: id,
    label: name,
  })),
])
const stations = computed(() =>
  project.derived!.controllers.flatMap(({ networks }) =>
    networks.flatMap(({ network, stations: all }) =>
      all.map(({ id, station: { name } }) => ({ value: id, label: `${name} · ${network.name}` })),
    ),
  ),
)
const areas = computed(() => {
  const all = new Set<string>()
  for (const { group } of project.derived!.stations.values())
    for (const { facts } of Object.values(group.signals)) if (facts.area) all.add(facts.area)
  return [...all].sort().map((area) => ({ value: area, label: area }))
})
const columns = ioColumns.map(({ key, heading }) => ({ value: key, label: heading }))
const separatorWords = { ',': 'comma', ';': 'semicolon', '\t': 'tab' } as const
const encodingWords = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16',
  'windows-1252': 'Windows-1252',
} as const
const isPart = computed(
  () =>
    options.value.controller !== '' ||
    options.value.stations.length > 0 ||
    options.value.areas.length > 0,
)
const many = (label: string) => ({
  multiple: true,
  filterable: true,
  clearable: true,
  maxTagCount: 'responsive' as const,
  placeholder: 'all',
  inputProps: { 'aria-label': label } as never,
})
</script>

<template>
  <section class="options" aria-label="What is written">
    <h2>What is written</h2>
    <PickField
      label="Controller"
      shown
      :value="options.controller"
      :options="controllers"
      @update:value="set({ controller: $event })"
    />
    <label
      ><span class="label">Stations</span>
      <NSelect
        v-bind="many('Stations')"
        :value="options.stations"
        :options="stations"
        @update:value="(value: string[]) => set({ stations: value })"
      />
    </label>
    <label v-if="areas.length > 0"
      ><span class="label">Areas</span>
      <NSelect
        v-bind="many('Areas')"
        :value="options.areas"
        :options="areas"
        @update:value="(value: string[]) => set({ areas: value })"
      />
    </label>
    <p v-if="isPart" class="narrow">
      Documents and variables hold only this part.
      <NButton size="tiny" @click="set({ controller: '', stations: [], areas: [] })"
        >Write all</NButton
      >
    </p>
    <label
      ><span class="label">Columns of the I/O list</span>
      <NSelect
        v-bind="many('Columns of the I/O list')"
        placeholder="as usual"
        :value="options.columns"
        :options="columns"
        @update:value="(value: string[]) => set({ columns: value })"
      />
    </label>
    <div class="pair">
      <PickField
        label="CSV separator"
        shown
        :value="options.separator"
        :options="separators.map((value) => ({ value, label: separatorWords[value] }))"
        @update:value="set({ separator: $event })"
      />
      <PickField
        label="CSV encoding"
        shown
        :value="options.encoding"
        :options="encodings.map((value) => ({ value, label: encodingWords[value] }))"
        @update:value="set({ encoding: $event })"
      />
      <PickField
        label="Paper"
        shown
        :value="options.paper"
        :options="paperSizes.map((value) => ({ value, label: value }))"
        @update:value="set({ paper: $event })"
      />
      <div class="pair">
        <NumberField
          label="Label width"
          shown
          unit="mm"
          :min="4"
          :max="200"
          :value="options.label[0]"
          @update:value="set({ label: [$event ?? 40, options.label[1]] })"
        />
        <NumberField
          label="height"
          shown
          unit="mm"
          :min="3"
          :max="100"
          :value="options.label[1]"
          @update:value="set({ label: [options.label[0], $event ?? 9] })"
        />
      </div>
    </div>
  </section>
</template>

<style scoped>
.options {
  display: grid;
  gap: 8px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
</style>
