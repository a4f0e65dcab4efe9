<script setup lang="ts">
import { computed, ref } from 'vue'
import { layoutOf, wordBytes, wordChannels, type Module } from '@kataxis/core'
import type { ShelfFile } from '../../api/client'
import { useShelf } from '../../stores/shelf'
import BitStrip from './BitStrip.vue'

const props = defineProps<{ file: ShelfFile }>()
defineEmits<{ remove: [] }>()
const shelf = useShelf()
void shelf.need([props.file.sha256])
const catalog = computed(() => shelf.catalogs.get(props.file.sha256) ?? null)
const opened = ref<string | null>(null)

const groups = computed(() => {
  const byCategory = new Map<string, Module[]>()
  for (const module of catalog.value?.modules ?? []) {
    const category = module.category ?? 'Other'
    byCategory.set(category, [...(byCategory.get(category) ?? []), module])
  }
  return [...byCategory]
})
const size = computed(() => (props.file.bytes < 1e6 ? `${Math.round(props.file.bytes / 1000)} kB` : `${(props.file.bytes / 1e6).toFixed(1)} MB`))
</script>

<template>
  <article v-if="catalog" class="page">
    <header>
      <div>
        <h2>{{ catalog.vendor.name }} {{ catalog.family.product }}</h2>
        <p class="quiet"><span class="mono">{{ file.name }}</span> · {{ size }} · SHA-256 <span class="mono">{{ file.sha256.slice(0, 12) }}…</span></p>
      </div>
      <a class="button small" :href="`/api/files/${file.sha256}/raw`" download>The file as it came</a>
      <button class="button small" @click="$emit('remove')">Throw away</button>
    </header>
    <section v-if="catalog.problems.length > 0" aria-label="Problems">
      <h3>Problems in the file</h3>
      <ul class="problems">
        <li v-for="(problem, i) in catalog.problems.slice(0, 50)" :key="i" :class="problem.severity"><span class="mono">{{ problem.line }}:{{ problem.column }}</span> {{ problem.message }}</li>
      </ul>
    </section>
    <section aria-label="Heads">
      <h3>Heads</h3>
      <table class="plain-table">
        <thead><tr><th scope="col">Order number</th><th scope="col">Firmware</th><th scope="col">Name</th><th scope="col">Slots</th><th scope="col">Most input</th><th scope="col">Most output</th><th scope="col">Shortest interval</th></tr></thead>
        <tbody>
          <tr v-for="device in catalog.devices" :key="device.key">
            <td class="mono">{{ device.orderNumber }}</td><td class="mono">{{ device.firmware }}</td><td>{{ device.name }} <span class="quiet">{{ device.info }}</span></td>
            <td>{{ device.slots.length }}</td><td>{{ device.limits.inputBytes }} bytes</td><td>{{ device.limits.outputBytes }} bytes</td><td>{{ (device.profinet.minDeviceIntervalUs ?? 0) / 1000 }} ms</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section aria-label="Modules">
      <h3>Modules</h3>
      <table class="plain-table">
        <thead><tr><th scope="col">Order number</th><th scope="col">Name</th><th scope="col">Channels</th><th scope="col">Data</th><th scope="col">Ident</th><th scope="col">Parameters</th><th scope="col"><span class="quiet">Layout</span></th></tr></thead>
        <tbody v-for="[category, modules] in groups" :key="category">
          <tr class="group"><th colspan="7" scope="colgroup">{{ category }}</th></tr>
          <template v-for="module in modules" :key="module.key">
            <tr>
              <td class="mono">{{ module.orderNumber }}</td>
              <td>{{ module.name }} <span class="quiet">{{ module.info }}</span></td>
              <td>{{ wordChannels(layoutOf(module)) }}</td>
              <td>{{ wordBytes(module) }}</td>
              <td class="mono">0x{{ module.ident?.toString(16).padStart(4, '0') }}</td>
              <td>{{ module.submodules.reduce((sum, { parameters }) => sum + parameters.reduce((inner, record) => inner + record.parameters.length, 0), 0) || '–' }}</td>
              <td><button v-if="layoutOf(module).blocks.length > 0" class="button small" :aria-expanded="opened === module.key" :aria-label="`Layout of ${module.name}`" @click="opened = opened === module.key ? null : module.key">{{ opened === module.key ? 'Close' : 'Bits' }}</button></td>
            </tr>
            <tr v-if="opened === module.key">
              <td colspan="7"><BitStrip :module="module" /></td>
            </tr>
          </template>
        </tbody>
      </table>
    </section>
  </article>
  <p v-else role="status" class="quiet">Reading the catalog …</p>
</template>

<style scoped>
.page {
  display: grid;
  gap: 16px;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
}
header div {
  flex: 1;
}
section {
  display: grid;
  gap: 4px;
}
.group th {
  padding-top: 10px;
  color: var(--ink);
}
.problems {
  list-style: none;
  margin: 0;
  padding: 0;
  font: 13px/1.4 var(--narrow);
}
.problems li {
  border-left: 3px solid var(--warn);
  padding: 2px 10px;
}
.problems li.error {
  border-left-color: var(--accent);
}
</style>
