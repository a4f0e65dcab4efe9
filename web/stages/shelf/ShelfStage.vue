<script setup lang="ts">
import { fileEndings, formatNames, numbered } from '@kataxis/core'
import { useDebounceFn, useLocalStorage } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ShelfHit } from '../../api/client'
import { tableChoices } from '../../parts/choices'
import FilesButton from '../../parts/FilesButton.vue'
import LinkButton from '../../parts/LinkButton.vue'
import PickField from '../../parts/PickField.vue'
import type { RowColumn } from '../../parts/row-table'
import RowTable from '../../parts/RowTable.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import { useShelf } from '../../stores/shelf'
import ArrivalList from './ArrivalList.vue'
import { groupFiles, groupings, type GroupingName } from './grouping'
import ShelfSpine from './ShelfSpine.vue'
import { useShelfSearch } from './useShelfSearch'

const shelf = useShelf()
const project = useProject()
const route = useRoute()
const router = useRouter()
const isOver = ref(false)
const grouping = useLocalStorage<GroupingName>('kataxis.shelf.grouping', 'maker')
const accept = [...fileEndings, '.zip'].join(',')
void shelf.refresh()

const { text, hits, isComplete, isSearching, search } = useShelfSearch()
const searchSoon = useDebounceFn(search, 80)
watch(text, () => void searchSoon())

const used = computed(() => {
  const counts = new Map<string, number>()
  for (const { station } of Object.values(project.plan?.stations ?? {}))
    counts.set(station.file, (counts.get(station.file) ?? 0) + 1)
  return counts
})
const hitColumns: readonly RowColumn<ShelfHit>[] = [
  { key: 'orderNumber', title: 'Order number', width: 160, isMono: true },
  { key: 'name', title: 'Name' },
  { key: 'kind', title: 'Kind', width: 110, choices: true },
  { key: 'vendor', title: 'Maker', width: 150, choices: true },
  { key: 'fileName', title: 'File', width: 260 },
]
const groups = computed(() => groupFiles(shelf.files, grouping.value))
const toFile = (sha256: string, key?: string) => ({
  name: 'file',
  params: { project: route.params['project'], file: sha256 },
  query: key === undefined ? {} : { key },
})

async function bringIn(list: Iterable<File> | null | undefined) {
  const files = [...(list ?? [])]
  if (files.length === 0) return
  const before = shelf.arrivals.length
  await shelf.add(files)
  const arrived = shelf.arrivals.slice(0, shelf.arrivals.length - before)
  const [only] = arrived
  // Who waits for the one file sees it; who went on in the meantime is not called back.
  if (files.length !== 1 || arrived.length !== 1 || !only?.sha256) return
  if (isHere) await router.push(toFile(only.sha256))
}
let isHere = true
onBeforeUnmount(() => (isHere = false))
function onDrop(event: DragEvent) {
  isOver.value = false
  void bringIn(event.dataTransfer?.files)
}
</script>

<template>
  <div
    class="shelf"
    :class="{ over: isOver }"
    @dragover.prevent="isOver = true"
    @dragleave.self="isOver = false"
    @drop.prevent="onDrop"
  >
    <div class="top">
      <h1>Shelf</h1>
      <TextField
        v-model:value="text"
        label="Search the Shelf"
        class="search"
        type="search"
        placeholder="Order number, name, maker, any word of a text …"
      />
      <label class="by"
        >Sorted by
        <PickField
          v-model:value="grouping"
          label="Sorted by"
          :options="tableChoices(groupings, (entry) => entry.label)"
        />
      </label>
      <span class="rest" />
      <LinkButton :to="{ name: 'sheet', params: { project: route.params['project'] } }"
        >Write a device sheet</LinkButton
      >
      <FilesButton
        label="Add description files"
        :accept="accept"
        multiple
        type="primary"
        @files="bringIn"
        >Add files …</FilesButton
      >
    </div>
    <ArrivalList />

    <section v-if="text.trim() !== ''" class="hits" aria-label="Found on the Shelf">
      <p role="status" class="quiet">
        {{
          isSearching
            ? 'Looking …'
            : `${isComplete ? '' : 'More than '}${numbered(hits.length, 'head or module', 'heads and modules')}`
        }}
      </p>
      <RowTable
        v-if="hits.length > 0"
        label="Found on the Shelf"
        :rows="hits"
        :columns="hitColumns"
        :key-of="(hit) => `${hit.sha256} ${hit.kind} ${hit.key} ${hit.orderNumber}`"
        height="calc(100vh - 230px)"
      >
        <template #name="{ row: hit }">
          <RouterLink :to="toFile(hit.sha256, hit.key)">{{ hit.name || hit.key }}</RouterLink>
          {{ ' ' }}<span class="quiet">{{ hit.info.slice(0, 90) }}</span>
        </template>
      </RowTable>
    </section>

    <template v-else>
      <section v-for="group in groups" :key="group.name" class="board" :aria-label="group.name">
        <h2>
          {{ group.name }} <span class="quiet">{{ numbered(group.files.length, 'file') }}</span>
        </h2>
        <div class="spines">
          <ShelfSpine
            v-for="entry in group.files"
            :key="entry.sha256"
            :entry="entry"
            :by-maker="grouping === 'maker'"
            :used="used.get(entry.sha256) ?? 0"
            :to="toFile(entry.sha256)"
          />
        </div>
      </section>
      <div v-if="shelf.files.length === 0" class="empty">
        <h2>The Shelf is empty</h2>
        <p>
          Every head, module and length comes from its maker’s description file:
          {{ Object.values(formatNames).join(', ') }}. Drop files or a ZIP here, or choose them.
        </p>
        <FilesButton
          label="Choose description files"
          :accept="accept"
          multiple
          type="primary"
          @files="bringIn"
          >Choose description files …</FilesButton
        >
      </div>
    </template>
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
  width: 330px;
}
.by {
  display: flex;
  align-items: center;
  gap: 6px;
  font: 12px/1 var(--narrow);
  color: var(--ink-2);
  white-space: nowrap;
}
.by .n-select {
  width: 150px;
}
.rest {
  flex: 1;
}
.board {
  content-visibility: auto;
  contain-intrinsic-size: auto 150px;
}
.board h2 {
  margin-bottom: 4px;
}
.board h2 .quiet {
  font: 12px/1 var(--narrow);
}
.spines {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(196px, 1fr));
  gap: 8px 6px;
  border-bottom: 5px solid var(--paper-3);
}
.hits a {
  color: inherit;
}
</style>
