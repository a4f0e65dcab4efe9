<script setup lang="ts">
import {
  dataBlocksOf,
  numbered,
  plural,
  withFields,
  writeLayoutTable,
  type DataBlockView,
  type DataField,
} from '@kataxis/core'
import { NButton, NRadio, NRadioGroup } from 'naive-ui'
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import BitStrip from '../../parts/BitStrip.vue'
import ChooseFrom from '../../parts/ChooseFrom.vue'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import { useFocus } from '../../stores/focus'
import { useGuard } from '../../stores/guard'
import { useProject } from '../../stores/project'
import AddFields from './AddFields.vue'
import FieldTable from './FieldTable.vue'
import PasteTable from './PasteTable.vue'
import { useLayoutDraft, wordBlock } from './useLayoutDraft'

/** Names for octets and bits of a head or module that its description leaves unnamed. */
const project = useProject()
const guard = useGuard()
const route = useRoute()
const router = useRouter()
const { focus, goTo, setFocus } = useFocus()
const found = computed(() => {
  for (const view of project.derived?.stations.values() ?? []) {
    const module = view.modules.find(({ id }) => id === focus.value?.id)
    if (module) return { view, module }
  }
  return null
})
const blocks = computed(() =>
  found.value ? dataBlocksOf(project.catalog, found.value.view, found.value.module) : [],
)
const keyOf = ({ subslot, direction }: DataBlockView) => `${subslot}.${direction}`
const block = computed(
  () => blocks.value.find((one) => keyOf(one) === route.query['data']) ?? blocks.value[0] ?? null,
)
const show = (key: string) => router.replace({ query: { ...route.query, data: key } })
const place = computed(() =>
  found.value
    ? `${found.value.view.station.name} · ${found.value.module.row ? `slot ${found.value.module.slot}` : 'head'}`
    : '',
)
const draft = useLayoutDraft(
  block,
  computed(() => ({ id: found.value?.module.id ?? '', words: place.value })),
)
const { fields, everywhere, name, saved, faults, isChanged, next } = draft
const why = computed(() =>
  found.value ? guard.whyNotModule(found.value.view, found.value.module) : null,
)
/** As the data will be; with faults, as they are. */
const drawn = computed(() => {
  const { direction, described, items, bytes } = block.value!
  const shown = faults.value.size === 0 ? withFields(described, fields.value) : items
  const none = { inputs: [], outputs: [], inputBytes: 0, outputBytes: 0 }
  return direction === 'in'
    ? { ...none, inputs: shown, inputBytes: bytes }
    : { ...none, outputs: shown, outputBytes: bytes }
})
const users = computed(() => {
  if (!block.value) return 0
  const { of, key, file } = block.value.target
  let count = 0
  for (const { station, modules } of project.derived?.stations.values() ?? [])
    if (station.file === file)
      for (const { row, plugged } of modules)
        if (
          of === 'submodule'
            ? Object.values(plugged).some(({ submodule }) => submodule === key)
            : of === 'module'
              ? row?.module === key
              : row === null && (of === 'connection' ? station.connection : station.device) === key
        )
          count++
  return count
})
/** The fields stand first; the drawing beside them follows a moment later. */
const hasShown = ref(false)
onMounted(() => setTimeout(() => (hasShown.value = true)))
const isPasting = ref(false)
function put(read: readonly DataField[], instead: boolean): void {
  draft.write(instead ? read : [...fields.value, ...read])
  isPasting.value = false
}
const copy = () => void navigator.clipboard.writeText(writeLayoutTable(fields.value))
/** How many signals lose their channel is said, as undo brings them back. */
function apply(): void {
  const waiting = () => Object.keys(project.plan?.unplaced ?? {}).length
  const before = waiting()
  const done = project.run({
    type: 'batch',
    label: `Name the data of ${place.value}`,
    commands: draft.commands.value,
  })
  const lost = waiting() - before
  if (done && lost > 0)
    project.tell(
      `${numbered(lost, 'signal')} ${plural(lost, 'has', 'have')} no channel any more and ${plural(lost, 'waits', 'wait')} for another; undo brings ${plural(lost, 'it', 'them')} back.`,
    )
}
const remove = () =>
  saved.value && project.run({ type: 'setDataLayout', id: saved.value.id, layout: null })
const choices = computed(() =>
  found.value
    ? []
    : [...(project.derived?.stations.values() ?? [])].flatMap((view) =>
        view.modules
          .filter(({ layout }) => (layout?.blocks.length ?? 0) > 0)
          .map(({ id, row, slot, described }) => ({
            id,
            name: described?.name ?? '',
            info: described?.orderNumber ?? '',
            station: view.station.name,
            place: row ? `slot ${slot}` : 'head',
          })),
      ),
)
const open = (id: string) =>
  void setFocus({ kind: project.derived?.stations.has(id) ? 'station' : 'module', id })
</script>

<template>
  <article v-if="found && block" class="page">
    <PageHead :above="place" :title="found.module.described?.name ?? ''" quiet="data layout">
      <PickField
        v-if="blocks.length > 1"
        label="Data"
        class="which"
        :value="keyOf(block)"
        :options="
          blocks.map((one) => ({
            value: keyOf(one),
            label: `${wordBlock(one)}, ${numbered(one.bytes, 'octet')}`,
          }))
        "
        @update:value="show"
      />
      <span v-else class="quiet">{{ wordBlock(block) }}, {{ numbered(block.bytes, 'octet') }}</span>
      <NButton
        size="small"
        @click="
          goTo('board', { kind: found.module.row ? 'module' : 'station', id: found.module.id })
        "
      >
        Show on the Board
      </NButton>
    </PageHead>
    <div class="columns">
      <section class="fields" aria-label="Fields of the layout">
        <div class="tools">
          <NButton size="small" :disabled="why !== null" @click="isPasting = true">
            Paste a table …
          </NButton>
          <NButton size="small" :disabled="fields.length === 0" @click="copy">
            Copy as a table
          </NButton>
          <span class="quiet" role="status"
            >{{ numbered(fields.length, 'field')
            }}<template v-if="faults.size > 0"
              >, {{ faults.size }} {{ plural(faults.size, 'does', 'do') }} not fit</template
            ></span
          >
        </div>
        <FieldTable
          :fields="fields"
          :faults="faults"
          :disabled="why !== null"
          @edit="draft.edit"
          @remove="draft.remove"
        />
        <AddFields :next="next" :disabled="why !== null" @add="draft.add" />
      </section>
      <aside tabindex="0" aria-label="The data to the bit">
        <section class="scope">
          <TextField v-model:value="name" label="Name of the layout" shown />
          <NRadioGroup v-model:value="everywhere" aria-label="Used for">
            <NRadio :value="true">
              all of this type <span class="quiet">({{ users }} in the plan)</span>
            </NRadio>
            <NRadio :value="false">only {{ place }}</NRadio>
          </NRadioGroup>
          <div class="actions">
            <NButton
              type="primary"
              :disabled="why !== null || !isChanged || faults.size > 0"
              :title="why ?? (faults.size > 0 ? 'Mend the fields that do not fit first.' : '')"
              @click="apply"
            >
              Apply {{ numbered(fields.length, 'field') }}
            </NButton>
            <NButton :disabled="!isChanged" @click="draft.reset">Cancel</NButton>
            <NButton v-if="saved" :disabled="why !== null" @click="remove">
              Delete the layout
            </NButton>
          </div>
          <p v-if="why" class="quiet">{{ why }}</p>
        </section>
        <h2>To the bit</h2>
        <BitStrip v-if="hasShown" :data="drawn" :most="128" />
        <p class="quiet">
          What a field covers it replaces; a bit within a number stands beside the whole number.
          What is unused gets no channel.
        </p>
      </aside>
    </div>
    <PasteTable v-if="isPasting" @put="put" @close="isPasting = false" />
  </article>
  <article v-else class="page">
    <PageHead
      above="Data layout"
      title="Choose whose data to name"
      :quiet="found ? 'this one has no data' : ''"
    />
    <ChooseFrom
      one="Head or module"
      :choices="choices"
      empty="Nothing in the plan has data; add stations on the Board."
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
.which {
  width: 300px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(340px, 2fr);
  min-height: 0;
}
.fields {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  gap: 10px;
  padding: 12px 18px;
  min-height: 0;
}
.tools,
.actions {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
aside {
  overflow: auto;
  padding: 12px 18px 40px;
  border-left: 1px solid var(--line);
}
.scope {
  display: grid;
  gap: 10px;
  margin-bottom: 14px;
}
.scope .n-radio-group {
  display: grid;
  gap: 4px;
}
</style>
