<script setup lang="ts">
import {
  layoutOf,
  numbered,
  wordBytes,
  wordChannels,
  type DeviceFile,
  type Module,
} from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import BitStrip from '../../parts/BitStrip.vue'
import TextField from '../../parts/TextField.vue'
import ParameterTable from './ParameterTable.vue'

/** The modules of a file by category, each with its data to the bit and its parameters. */
const props = defineProps<{ file: DeviceFile; focus: string | null }>()
const text = ref('')
const most = ref(200)
const opened = ref<string | null>(props.focus)
watch(
  () => props.focus,
  (key) => (opened.value = key),
)

const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  const matches = ({ name, orderNumber, info, category, key }: Module) =>
    words.every((word) =>
      `${name} ${orderNumber} ${info} ${category} ${key}`.toLowerCase().includes(word),
    )
  const all = words.length === 0 ? props.file.modules : props.file.modules.filter(matches)
  // What somebody came for stands first, however long the list is.
  const wanted = props.focus === null ? undefined : all.find(({ key }) => key === props.focus)
  return wanted ? [wanted, ...all.filter((module) => module !== wanted)] : all
})
const groups = computed(() => {
  const byCategory = new Map<string, Module[]>()
  for (const module of found.value.slice(0, most.value))
    byCategory.set(module.category ?? 'Modules', [
      ...(byCategory.get(module.category ?? 'Modules') ?? []),
      module,
    ])
  return [...byCategory]
})
const recordsOf = (module: Module) => [
  ...module.parameters,
  ...module.submodules.flatMap(({ parameters }) => parameters),
]
const parameterCount = (module: Module) =>
  recordsOf(module).reduce((sum, { parameters }) => sum + parameters.length, 0)
const ident = ({ ident: value }: Module) =>
  value === null
    ? ''
    : props.file.format === 'gsd'
      ? String(value)
      : `0x${value.toString(16).padStart(4, '0')}`
const withData = (module: Module) =>
  module.submodules.filter(({ inputBytes, outputBytes }) => inputBytes + outputBytes > 0)
const hasOrderNumbers = computed(() =>
  props.file.modules.some(({ orderNumber }) => orderNumber !== null),
)
const hasCurrents = computed(() => props.file.modules.some(({ currentMa }) => currentMa !== null))
const isOpenable = (module: Module) => withData(module).length > 0 || recordsOf(module).length > 0
</script>

<template>
  <section aria-label="Modules">
    <div class="titled">
      <h2>{{ numbered(file.modules.length, 'module') }}</h2>
      <TextField
        v-if="file.modules.length > 8"
        v-model:value="text"
        label="Search the modules of this file"
        type="search"
        placeholder="Order number, name, category …"
      />
    </div>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th v-if="hasOrderNumbers" scope="col">Order number</th>
          <th scope="col">Name</th>
          <th scope="col">Channels</th>
          <th scope="col">Data</th>
          <th scope="col">{{ file.format === 'gsd' ? 'Number' : 'Ident' }}</th>
          <th v-if="file.format === 'gsd'" scope="col">Configuration</th>
          <th v-if="hasCurrents" scope="col">Current</th>
          <th scope="col">Parameters</th>
          <th scope="col"><span class="sr">Details</span></th>
        </tr>
      </thead>
      <tbody v-for="[category, modules] in groups" :key="category">
        <tr v-if="groups.length > 1 || category !== 'Modules'" class="group">
          <th colspan="9" scope="colgroup">{{ category }}</th>
        </tr>
        <template v-for="module in modules" :key="module.key">
          <tr :class="{ wanted: module.key === focus }">
            <td v-if="hasOrderNumbers" class="mono">{{ module.orderNumber }}</td>
            <td>
              {{ module.name }} <span class="quiet">{{ module.info }}</span>
            </td>
            <td>{{ wordChannels(layoutOf(module)) }}</td>
            <td>{{ wordBytes(module) }}</td>
            <td class="mono">{{ ident(module) }}</td>
            <td v-if="file.format === 'gsd'" class="mono">{{ module.configuration }}</td>
            <td v-if="hasCurrents">
              {{ module.currentMa === null ? '' : `${module.currentMa} mA` }}
            </td>
            <td>{{ parameterCount(module) || '' }}</td>
            <td>
              <NButton
                v-if="isOpenable(module)"
                size="small"
                :aria-expanded="opened === module.key"
                :aria-label="`Details of ${module.name}`"
                @click="opened = opened === module.key ? null : module.key"
              >
                {{ opened === module.key ? 'Close' : 'Open' }}
              </NButton>
            </td>
          </tr>
          <tr v-if="opened === module.key">
            <td colspan="9">
              <template v-for="data in withData(module)" :key="data.key">
                <h3 v-if="withData(module).length > 1">
                  {{ data.name }} <span class="quiet">subslot {{ data.subslot }}</span>
                </h3>
                <BitStrip :data="data" />
              </template>
              <ParameterTable :records="recordsOf(module)" />
            </td>
          </tr>
        </template>
      </tbody>
    </NTable>
    <NButton v-if="found.length > most" size="small" class="more" @click="most += 500">
      Show more, {{ found.length - most }} are left
    </NButton>
    <p v-if="found.length === 0" class="quiet">No module of this file matches “{{ text }}”.</p>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
}
.group th {
  padding-top: 10px;
  color: var(--ink);
}
.wanted td {
  background: var(--accent-soft);
}
.more {
  justify-self: start;
}
</style>
