<script setup lang="ts">
import { isSent, type DerivedModule } from '@kataxis/core'
import { NButton, NCheckbox, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import ChooseFrom from '../../parts/ChooseFrom.vue'
import LockedPart from '../../parts/LockedPart.vue'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useGrowing } from '../../parts/useGrowing'
import { useFocus } from '../../stores/focus'
import { useGuard } from '../../stores/guard'
import { useProject } from '../../stores/project'
import FailSafePanel from './FailSafePanel.vue'
import MeaningPanel from './MeaningPanel.vue'
import ParameterField from './ParameterField.vue'
import PortPanel from './PortPanel.vue'
import { protocolPanels } from './protocol-panels'
import RecordOctets from './RecordOctets.vue'
import SetPicker from './SetPicker.vue'
import TypeTable from './TypeTable.vue'
import { useParameterPage } from './useParameterPage'

/** The parameters of one head or module, with the octets it gets beside them; or of all of its type
 *  in one table. */
const project = useProject()
const guard = useGuard()
const { focus, goTo, setFocus } = useFocus()
const id = computed(() => focus.value?.id ?? '')
const page = useParameterPage(id)
const { found, records, parts, encoded, groups, chosen, others, text, onlyChosen } = page
const isMany = ref(false)
/** The parameter that somebody looks at: `record/parameter`. */
const lit = ref<string | null>(null)
const litIn = (record: string) =>
  lit.value?.startsWith(`${record}/`) ? lit.value.slice(record.length + 1) : null
const hasOwners = computed(() => new Set(records.value.map(({ owner }) => owner)).size > 1)
const sent = computed(() =>
  records.value.filter((placed) => isSent(placed, page.values.value[placed.key])),
)
const count = computed(() => groups.value.reduce((sum, { rows }) => sum + rows.length, 0))
const drawn = useGrowing(id, () => count.value, 22, 40)
const shown = computed(() => {
  let left = drawn.value
  return groups.value.flatMap((group) => {
    const rows = group.rows.slice(0, Math.max(0, left))
    left -= rows.length
    return rows.length > 0 ? [{ ...group, rows }] : []
  })
})
const title = computed(() =>
  found.value
    ? `${found.value.view.station.name} · ${found.value.module.row ? `slot ${found.value.module.slot}` : 'head'}`
    : '',
)
const otherModules = computed(() =>
  others.value.map(({ view, module }) => ({
    id: module.id,
    words: `${view.station.name} · ${module.row ? `slot ${module.slot}` : 'head'} · ${module.described?.name ?? ''}`,
  })),
)
const hasParameters = (described: DerivedModule['described']) =>
  described !== null &&
  described !== undefined &&
  (described.parameters.length > 0 ||
    described.dictionary !== undefined ||
    described.submodules.some(({ parameters }) => parameters.length > 0))
const neighbours = computed(
  () =>
    found.value?.view.modules.filter(
      ({ id: one, described }) => one === id.value || hasParameters(described),
    ) ?? [],
)
function go(by: 1 | -1): void {
  const all = neighbours.value
  const next = all[all.findIndex((module) => module.id === id.value) + by]
  if (next) void setFocus({ kind: next.row ? 'module' : 'station', id: next.id })
}
/** Heads and modules that have parameters. */
const choices = computed(() =>
  [...(project.derived?.stations.values() ?? [])].flatMap((view) =>
    view.modules
      .filter(({ described }) => hasParameters(described))
      .map(({ id: one, row, slot, described }) => ({
        id: one,
        name: described?.name ?? '',
        info: described?.orderNumber ?? '',
        station: view.station.name,
        place: row ? `slot ${slot}` : 'head',
      })),
  ),
)
function open(one: string): void {
  const isHead = project.derived?.stations.has(one) === true
  void setFocus({ kind: isHead ? 'station' : 'module', id: one })
}
const diagnoses = computed(() => [
  ...(found.value?.view.file?.diagnoses ?? []),
  ...(found.value?.view.below.flatMap(({ file }) => file?.diagnoses ?? []) ?? []),
])
function lightOf(record: string, parameter: string): void {
  lit.value = `${record}/${parameter}`
  document.getElementById(`parameter-${record}/${parameter}`)?.scrollIntoView({ block: 'nearest' })
}
</script>

<template>
  <article v-if="found" class="page">
    <PageHead :above="title" :title="found.module.described?.name ?? ''" quiet="parameters">
      <NButton size="small" aria-label="Module before" @click="go(-1)">‹</NButton>
      <NButton size="small" aria-label="Module after" @click="go(1)">›</NButton>
      <TextField
        v-model:value="text"
        label="Search the parameters"
        class="search"
        type="search"
        placeholder="Name, value, menu …"
      />
      <NCheckbox v-model:checked="onlyChosen">only changed ({{ chosen }})</NCheckbox>
      <NButton
        size="small"
        :type="isMany ? 'info' : 'default'"
        :aria-pressed="isMany"
        @click="isMany = !isMany"
      >
        {{ isMany ? 'This one alone' : 'All of this type' }}
      </NButton>
      <NButton
        size="small"
        @click="goTo('board', { kind: found.module.row ? 'module' : 'station', id })"
      >
        Show on the Board
      </NButton>
    </PageHead>
    <TypeTable v-if="isMany" :view="found.view" :module="found.module" :text="text" />
    <div v-else class="columns">
      <div class="list" tabindex="0" aria-label="Parameters">
        <div v-if="records.length > 0" class="tools">
          <PickField
            label="Copy from another module"
            class="pick"
            :value="null"
            placeholder="Copy from …"
            :disabled="guard.whyNotModule(found.view, found.module) !== null"
            :options="otherModules.map((other) => ({ value: other.id, label: other.words }))"
            @update:value="page.takeFrom"
          />
          <SetPicker :view="found.view" :module="found.module" @put="page.put" />
        </div>
        <LockedPart :why="guard.whyNotModule(found.view, found.module)">
          <section v-for="group in shown" :key="group.key" :aria-label="group.heading.join(', ')">
            <h2>{{ group.heading.join(' › ') }}</h2>
            <ParameterField
              v-for="row in group.rows"
              :id="`parameter-${row.key}`"
              :key="`${id} ${row.key}`"
              :row="row"
              :lit="lit === row.key"
              @set="page.set(row, $event)"
              @light="lit = row.key"
            />
          </section>
        </LockedPart>
        <p v-if="groups.length === 0" class="quiet">
          {{
            records.length === 0
              ? 'By its description nothing can be set here.'
              : 'No parameter matches.'
          }}
        </p>
      </div>
      <aside tabindex="0" aria-label="Octets">
        <FailSafePanel v-for="part in parts" :key="part.placed.key" :part="part" />
        <PortPanel :view="found.view" :module="found.module" />
        <section v-if="sent.length > 0" class="octets">
          <h2>As the device gets it</h2>
          <RecordOctets
            v-for="placed in sent"
            :key="placed.key"
            :placed="placed"
            :bytes="encoded.get(placed.key) ?? ''"
            :lit="litIn(placed.key)"
            :with-owner="hasOwners"
            @light="lightOf(placed.key, $event)"
          />
          <p class="quiet">Underlined octets are other than the description proposes.</p>
        </section>
        <component
          :is="protocolPanels[found.view.device.protocol]"
          v-if="found.view.device"
          :view="found.view"
        />
        <section v-if="diagnoses.length > 0">
          <h2>What it can report</h2>
          <NTable size="small" :bordered="false">
            <thead>
              <tr>
                <th scope="col">Code</th>
                <th scope="col">Meaning and what helps</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(one, i) in diagnoses" :key="i">
                <td class="mono">{{ one.code }}</td>
                <td>
                  <strong>{{ one.name }}</strong> <span class="quiet">{{ one.help }}</span>
                </td>
              </tr>
            </tbody>
          </NTable>
        </section>
        <MeaningPanel v-if="records.length > 0" :records="records" />
      </aside>
    </div>
  </article>
  <article v-else class="page">
    <PageHead
      above="Parameters"
      title="Choose a module"
      :quiet="id === '' ? '' : 'the one looked for is not in the plan'"
    />
    <ChooseFrom
      one="Module"
      :choices="choices"
      empty="No module in the plan has parameters; add stations on the Board."
      @choose="open"
    />
  </article>
</template>

<style scoped>
.page {
  height: 100%;
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
}
.search {
  width: 200px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(330px, 2fr);
  min-height: 0;
}
.list,
aside {
  overflow: auto;
  padding: 12px 18px 40px;
  display: grid;
  gap: 14px;
  align-content: start;
}
aside {
  border-left: 1px solid var(--line);
}
.tools {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
.tools .n-select {
  width: 210px;
}
aside :deep(p) {
  font: 13px/1.5 var(--narrow);
}
.octets {
  display: grid;
  gap: 12px;
}
</style>
