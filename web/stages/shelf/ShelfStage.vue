<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useShelf } from '../../stores/shelf'
import { useProject } from '../../stores/project'
import FilePage from './FilePage.vue'

const shelf = useShelf()
const project = useProject()
const chosen = ref<string | null>(null)
const isOver = ref(false)
const text = ref('')
void shelf.refresh()

const used = computed(() => {
  const counts = new Map<string, number>()
  for (const { station } of Object.values(project.plan?.stations ?? {})) counts.set(station.file, (counts.get(station.file) ?? 0) + 1)
  return counts
})
const files = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return shelf.files.filter(({ name, summary }) => {
    const haystack = `${name} ${summary.vendor} ${summary.family} ${summary.devices.map((device) => `${device.name} ${device.orderNumber}`).join(' ')}`.toLowerCase()
    return words.every((word) => haystack.includes(word))
  })
})
watch(() => shelf.files, (all) => {
  if (!all.some(({ sha256 }) => sha256 === chosen.value)) chosen.value = all[0]?.sha256 ?? null
}, { immediate: true })
const file = computed(() => shelf.files.find(({ sha256 }) => sha256 === chosen.value) ?? null)

async function bringIn(list: FileList | null | undefined) {
  if (!list || list.length === 0) return
  await shelf.add([...list])
  const arrived = shelf.arrivals.find(({ sha256 }) => sha256 !== null)
  if (arrived?.sha256) chosen.value = arrived.sha256
}
function onDrop(event: DragEvent) {
  isOver.value = false
  void bringIn(event.dataTransfer?.files)
}
async function remove() {
  if (!file.value) return
  await shelf.remove(file.value.sha256).catch((error: Error) => project.tell(error.message))
}
</script>

<template>
  <div class="shelf" :class="{ over: isOver }" @dragover.prevent="isOver = true" @dragleave.self="isOver = false" @drop.prevent="onDrop">
    <div class="top">
      <h1>Shelf</h1>
      <p class="quiet">Description files that stations can be built on. Drop GSDML files anywhere here.</p>
      <input v-model="text" class="field search" type="search" aria-label="Search the Shelf" placeholder="Maker, family, order number …" />
      <label class="button main">Bring in files<input class="hidden-input" type="file" multiple accept=".xml" aria-label="Bring in description files" @change="bringIn(($event.target as HTMLInputElement).files)" /></label>
    </div>
    <ul v-if="shelf.arrivals.length > 0" class="arrivals" aria-live="polite">
      <li v-for="(arrival, i) in shelf.arrivals.slice(0, 6)" :key="i" :class="arrival.state">
        <strong>{{ arrival.state === 'refused' ? 'Refused' : arrival.state === 'new' ? 'New' : arrival.state === 'known' ? 'Known' : 'Reading' }}</strong>
        <span class="mono">{{ arrival.name }}</span> <span>{{ arrival.state === 'refused' ? arrival.sentence : arrival.sentence }}</span>
      </li>
    </ul>
    <div v-if="files.length > 0" class="spines" role="listbox" aria-label="Files on the Shelf" tabindex="-1">
      <button v-for="entry in files" :key="entry.sha256" class="spine" role="option" :aria-selected="entry.sha256 === chosen" :class="{ chosen: entry.sha256 === chosen }" :title="entry.name" @click="chosen = entry.sha256">
        <span class="maker">{{ entry.summary.vendor }}</span>
        <strong>{{ entry.summary.family }}</strong>
        <span class="counts">{{ entry.summary.devices.length }} {{ entry.summary.devices.length === 1 ? 'head' : 'heads' }} · {{ entry.summary.modules }} modules</span>
        <span class="counts">{{ entry.summary.format.toUpperCase() }} {{ entry.summary.formatVersion }} · {{ used.get(entry.sha256) ?? 0 }} {{ used.get(entry.sha256) === 1 ? 'station' : 'stations' }} here</span>
        <span v-if="entry.summary.errors > 0" class="errors">▲ {{ entry.summary.errors }} {{ entry.summary.errors === 1 ? 'error' : 'errors' }}</span>
      </button>
    </div>
    <FilePage v-if="file" :key="file.sha256" :file="file" @remove="remove" />
    <div v-else class="empty">
      <h2>The Shelf is empty</h2>
      <p>Every head, module and length comes from its maker’s description file. Drop one here, or choose it.</p>
      <label class="button main">Choose a description file<input class="hidden-input" type="file" multiple accept=".xml" aria-label="Choose a description file" @change="bringIn(($event.target as HTMLInputElement).files)" /></label>
    </div>
  </div>
</template>

<style scoped>
.shelf {
  height: 100%;
  overflow: auto;
  padding: 14px 20px 40px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.over {
  box-shadow: inset 0 0 0 3px var(--accent);
}
.top {
  display: flex;
  align-items: center;
  gap: 14px;
}
.search {
  width: 240px;
  margin-left: auto;
}
.arrivals {
  list-style: none;
  margin: 0;
  padding: 0;
  font: 13px/1.4 var(--narrow);
}
.arrivals li {
  border-left: 3px solid var(--good);
  padding: 3px 10px;
  margin-bottom: 3px;
  background: var(--paper-2);
}
.arrivals li.refused {
  border-left-color: var(--accent);
  background: var(--accent-soft);
}
.spines {
  display: flex;
  gap: 0;
  overflow-x: auto;
  flex: none;
  border-bottom: 6px solid var(--paper-3);
  padding-top: 6px;
}
.spine {
  display: grid;
  gap: 2px;
  align-content: start;
  min-width: 190px;
  min-height: 88px;
  text-align: left;
  padding: 10px 14px;
  border: 1px solid var(--line);
  border-bottom: 0;
  border-left: 5px solid var(--ink-2);
  margin-right: 6px;
  background: var(--paper-2);
  color: var(--ink);
  cursor: pointer;
}
.spine.chosen {
  background: var(--paper);
  border-left-color: var(--accent);
  margin-top: -6px;
  padding-bottom: 16px;
}
.maker,
.counts,
.errors {
  font: 12px/1.35 var(--narrow);
  color: var(--ink-2);
}
.errors {
  color: var(--accent);
}
</style>
