<script setup lang="ts">
import { formatNames, numbered, type Device, type DeviceFile } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, type FileUse } from '../../api/client'
import { plainChoices } from '../../parts/choices'
import LinkButton from '../../parts/LinkButton.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import { useShelf } from '../../stores/shelf'
import FileProblems from './FileProblems.vue'
import HeadCard from './HeadCard.vue'
import ModuleTable from './ModuleTable.vue'
import SupplementSection from './SupplementSection.vue'
import VersionCompare from './VersionCompare.vue'

const shelf = useShelf()
const project = useProject()
const route = useRoute()
const router = useRouter()
const sha256 = computed(() => String(route.params['file']))
const focus = computed(() => (route.query['key'] === undefined ? null : String(route.query['key'])))
const entry = computed(() => shelf.files.find((file) => file.sha256 === sha256.value) ?? null)
const language = ref('')
const translated = shallowRef<DeviceFile | null>(null)
const uses = shallowRef<readonly FileUse[]>([])
const mostHeads = ref(30)

watch(
  sha256,
  (hash) => {
    translated.value = null
    language.value = ''
    uses.value = []
    if (shelf.files.length === 0) void shelf.refresh()
    void shelf.need([hash])
    api.fileUses(hash).then(
      (found) => (uses.value = found.uses),
      () => undefined,
    )
  },
  { immediate: true },
)
watch(language, async (tag) => {
  translated.value = tag === '' ? null : await api.catalog(sha256.value, tag)
})
const catalog = computed(() => translated.value ?? shelf.catalogs.get(sha256.value) ?? null)
const headText = ref('')
const heads = computed(() =>
  [...(catalog.value?.devices ?? [])]
    .filter(matchesHead)
    .sort(
      (a, b) =>
        Number(b.key === focus.value) - Number(a.key === focus.value) ||
        Number(a.hidden) - Number(b.hidden),
    ),
)
function matchesHead({ name, orderNumber, key }: Device): boolean {
  return headText.value
    .toLowerCase()
    .split(/\s+/)
    .every((word) => `${name} ${orderNumber} ${key}`.toLowerCase().includes(word))
}
const versions = computed(() =>
  shelf.files.filter(
    ({ sha256: other, summary }) =>
      other !== sha256.value &&
      summary.vendor === entry.value?.summary.vendor &&
      summary.format === entry.value?.summary.format &&
      summary.family === entry.value?.summary.family,
  ),
)
const size = computed(() =>
  !entry.value
    ? ''
    : entry.value.bytes < 1e6
      ? `${Math.round(entry.value.bytes / 1000)} kB`
      : `${(entry.value.bytes / 1e6).toFixed(1)} MB`,
)
const back = { name: 'shelf', params: { project: route.params['project'] } }

async function remove() {
  try {
    await shelf.remove(sha256.value)
    await router.push(back)
  } catch (error) {
    project.tell((error as Error).message)
  }
}
</script>

<template>
  <article v-if="entry && catalog" class="page">
    <header>
      <div>
        <p><RouterLink :to="back">← Shelf</RouterLink></p>
        <h1>{{ catalog.vendor.name }} {{ entry.summary.family }}</h1>
        <p class="quiet">
          <span class="mono">{{ entry.name }}</span> · {{ formatNames[catalog.format] }}
          {{ catalog.formatVersion }} · {{ size }} · SHA-256
          <span class="mono">{{ sha256.slice(0, 12) }}…</span>
        </p>
      </div>
      <label v-if="catalog.languages.length > 1" class="language"
        >Texts in
        <PickField
          v-model:value="language"
          label="Language of the texts"
          :options="[
            { value: '', label: catalog.languages[0] ?? '' },
            ...plainChoices(catalog.languages.slice(1)),
          ]"
        />
      </label>
      <LinkButton
        v-if="catalog.format === 'sheet' && !catalog.supplements"
        size="small"
        :to="{ name: 'sheet', params: back.params, query: { from: sha256 } }"
        >Edit as a new version</LinkButton
      >
      <NButton size="small" tag="a" :href="api.rawUrl(sha256)" download
        >The file as it came</NButton
      >
      <NButton
        size="small"
        :disabled="uses.length > 0"
        :title="uses.length > 0 ? 'Stations stand on it' : ''"
        @click="remove"
      >
        Throw away
      </NButton>
    </header>
    <p v-if="uses.length > 0">
      Used by
      <template v-for="(use, i) in uses.slice(0, 8)" :key="use.stationId"
        >{{ i > 0 ? ', ' : ''
        }}<RouterLink
          :to="
            use.stationId
              ? `/p/${use.projectId}/board?at=station:${use.stationId}`
              : `/p/${use.projectId}/board`
          "
          >{{ use.station }}</RouterLink
        ></template
      ><template v-if="uses.length > 8"> and {{ uses.length - 8 }} more</template> {{ ' '
      }}<span class="quiet">in {{ [...new Set(uses.map((use) => use.project))].join(', ') }}</span>
    </p>

    <FileProblems
      v-if="catalog.problems.length > 0"
      :key="sha256"
      :sha256="sha256"
      :summary="entry.summary"
      :problems="catalog.problems"
    />
    <VersionCompare v-if="versions.length > 0" :key="sha256" :file="entry" :others="versions" />

    <SupplementSection v-if="catalog.supplements" :file="catalog" :sha256="sha256" />
    <section v-if="catalog.devices.length > 0" aria-label="Heads">
      <div class="titled">
        <h2>{{ numbered(heads.length, 'head') }}</h2>
        <TextField
          v-if="catalog.devices.length > 8"
          v-model:value="headText"
          label="Search the heads of this file"
          type="search"
          placeholder="Order number, name …"
        />
      </div>
      <HeadCard v-for="device in heads.slice(0, mostHeads)" :key="device.key" :device="device" />
      <NButton v-if="heads.length > mostHeads" size="small" @click="mostHeads += 200">
        Show more, {{ heads.length - mostHeads }} are left
      </NButton>
    </section>
    <ModuleTable v-if="catalog.modules.length > 0" :key="sha256" :file="catalog" :focus="focus" />
    <section v-if="catalog.submodules.length > 0" aria-label="Pluggable submodules">
      <h2>{{ catalog.submodules.length }} submodules for subslots</h2>
      <p class="quiet">
        {{
          catalog.submodules
            .slice(0, 60)
            .map(({ name }) => name)
            .join(', ')
        }}
      </p>
    </section>
    <section v-if="catalog.diagnoses.length > 0" aria-label="Diagnosis">
      <h2>What it can report</h2>
      <NTable size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col">Code</th>
            <th scope="col">Kind</th>
            <th scope="col">Meaning</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, i) in catalog.diagnoses.slice(0, 300)" :key="i">
            <td class="mono">{{ one.code }}</td>
            <td>{{ one.kind }}</td>
            <td>
              {{ one.name }} <span class="quiet">{{ one.help }}</span>
            </td>
          </tr>
        </tbody>
      </NTable>
    </section>
  </article>
  <p v-else-if="shelf.files.length > 0 && !entry" class="empty" role="status">
    This file is not on the Shelf. <RouterLink :to="back">Back to the Shelf</RouterLink>
  </p>
  <p v-else role="status" class="empty">Reading the catalog …</p>
</template>

<style scoped>
.page {
  height: 100%;
  overflow: auto;
  padding: 10px 20px 40px;
  display: grid;
  align-content: start;
  gap: 16px;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
}
header > div {
  flex: 1;
  min-width: 0;
}
section {
  display: grid;
  gap: 4px;
}
.language {
  display: flex;
  align-items: center;
  gap: 6px;
  font: 12px/1 var(--narrow);
  white-space: nowrap;
}
.language .n-select {
  width: 90px;
}
a {
  color: inherit;
}
</style>
