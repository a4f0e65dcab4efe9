<script setup lang="ts">
import { hasSheetPart, switchBank, type SwitchBank } from '@kataxis/core'
import { NButton, NCollapse, NCollapseItem } from 'naive-ui'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../../api/client'
import BitStrip from '../../parts/BitStrip.vue'
import SwitchFields from '../../parts/SwitchFields.vue'
import { useProject } from '../../stores/project'
import { useShelf } from '../../stores/shelf'
import FieldRows from './FieldRows.vue'
import RecordRows from './RecordRows.vue'
import { sheetLists } from './sheet-columns'
import SheetController from './SheetController.vue'
import SheetMaker from './SheetMaker.vue'
import SheetPower from './SheetPower.vue'
import SheetModule from './SheetModule.vue'
import SheetRegisters from './SheetRegisters.vue'
import SheetSlotData from './SheetSlotData.vue'
import SheetSlots from './SheetSlots.vue'
import { useSheetDraft } from './useSheetDraft'

const shelf = useShelf()
const project = useProject()
const route = useRoute()
const router = useRouter()
const { draft, faults, preview, load, addModule, toFile } = useSheetDraft()
const back = { name: 'shelf', params: { project: route.params['project'] } }
if (route.query['from'] !== undefined) void api.rawText(String(route.query['from'])).then(load)

const switches = computed<SwitchBank | null>(() =>
  draft.value.switches ? switchBank.parse(draft.value.switches) : null,
)
const setSwitches = (bank: SwitchBank | null) => (draft.value.switches = bank ?? undefined)
async function save() {
  await shelf.add([toFile()])
  const [arrival] = shelf.arrivals
  if (arrival?.sha256)
    await router.push({ name: 'file', params: { ...back.params, file: arrival.sha256 } })
  else if (arrival) project.tell(arrival.sentence)
}
</script>

<template>
  <form class="page" aria-label="Device sheet" @submit.prevent="save">
    <header>
      <div>
        <p><RouterLink :to="back">← Shelf</RouterLink></p>
        <h1>A device sheet</h1>
        <p class="quiet">
          For a device that comes without an open description file. What is written here goes onto
          the Shelf like any file; its schema is at
          <a href="/api/schemas/device-sheet">/api/schemas/device-sheet</a>.
        </p>
      </div>
      <NButton type="primary" attr-type="submit" :disabled="faults.length > 0"
        >Save on the Shelf</NButton
      >
    </header>
    <p v-if="faults.length > 0" class="faults" role="status">
      Still missing or wrong: {{ faults.slice(0, 4).join(' ') }}
    </p>

    <div class="columns">
      <div class="form">
        <SheetMaker v-model="draft" />
        <section aria-label="Head">
          <h2>The head’s own data</h2>
          <div class="both">
            <FieldRows
              v-model="draft.head.inputs"
              v-bind="sheetLists.data"
              label="To the controller"
            /><FieldRows
              v-model="draft.head.outputs"
              v-bind="sheetLists.data"
              label="From the controller"
            />
          </div>
          <NCollapse
            ><NCollapseItem name="it" title="Parameters of the head">
              <RecordRows
                v-model="draft.head.parameters"
                label="Parameters of the head"
              /> </NCollapseItem
          ></NCollapse>
        </section>
        <SheetRegisters v-if="hasSheetPart(draft.network, 'registers')" v-model="draft" />
        <section v-if="hasSheetPart(draft.network, 'dataSets')" aria-label="Data sets">
          <h2>Data sets to choose from</h2>
          <FieldRows v-model="draft.dataSets" v-bind="sheetLists.dataSets" label="Data sets" />
          <FieldRows
            v-for="(set, i) in draft.dataSets"
            :key="i"
            v-model="set.contents"
            v-bind="sheetLists.contents"
            :label="`What ${set.name || set.key || `data set ${i + 1}`} contains`"
          />
        </section>
        <SheetController v-if="hasSheetPart(draft.network, 'controller')" v-model="draft" />
        <SheetSlots v-model="draft" />
        <SheetSlotData v-model="draft" />
        <section v-if="draft.network === 'gateway'" aria-label="Radio">
          <h2>Wireless devices that it takes, by how often they send</h2>
          <FieldRows v-model="draft.radio" v-bind="sheetLists.radio" label="Radio" />
        </section>
        <SheetPower v-model="draft" />
        <section aria-label="Ports for cables">
          <h2>Ports for cables</h2>
          <FieldRows
            v-model="draft.networkPorts"
            v-bind="sheetLists.networkPorts"
            label="Ports for cables"
          />
        </section>
        <section aria-label="Variants">
          <h2>Other order numbers of the same device</h2>
          <FieldRows v-model="draft.variants" v-bind="sheetLists.variants" label="Variants" />
        </section>
        <section aria-label="Address switches">
          <SwitchFields :model-value="switches" @update:model-value="setSwitches" />
        </section>
        <SheetModule
          v-for="(_, i) in draft.modules"
          :key="i"
          v-model="draft.modules[i]!"
          :number="i + 1"
          @remove="draft.modules.splice(i, 1)"
        />
        <NButton @click="addModule">+ Module</NButton>
      </div>

      <aside v-if="preview" class="preview" aria-label="What it will offer">
        <h2>{{ draft.name }}, to the bit</h2>
        <BitStrip v-for="data in preview.devices[0]!.submodules" :key="data.key" :data="data" />
        <p v-if="preview.devices[0]!.submodules.length === 0" class="quiet">
          The head has no data of its own.
        </p>
        <template v-for="module in preview.modules" :key="module.key">
          <h3>{{ module.name }}</h3>
          <BitStrip v-for="data in module.submodules" :key="data.key" :data="data" />
          <p v-if="module.submodules.length === 0" class="quiet">no data</p>
        </template>
      </aside>
      <aside v-else class="preview quiet" aria-label="What it will offer">
        <p>The layout is drawn here as soon as maker and device have names.</p>
      </aside>
    </div>
  </form>
</template>

<style scoped>
.page {
  height: 100%;
  overflow: auto;
  padding: 10px 20px 40px;
  display: grid;
  align-content: start;
  gap: 12px;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
}
header > div {
  flex: 1;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 28px;
  align-items: start;
}
.form,
.form section {
  display: grid;
  gap: 8px;
}
.form {
  gap: 16px;
  justify-items: stretch;
}
.form > .n-button {
  justify-self: start;
}
.form section.pairs,
.pairs {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
}
.both {
  display: grid;
  grid-template-columns: 1fr;
  gap: 10px;
}
.preview {
  position: sticky;
  top: 0;
  display: grid;
  gap: 4px;
  border-left: 1px solid var(--line);
  padding-left: 20px;
}
.faults {
  color: var(--ink-2);
}
a {
  color: inherit;
}
</style>
