<script setup lang="ts">
import { useRoute, useRouter } from 'vue-router'
import { computed } from 'vue'
import {
  hasSheetPart,
  nibbleOrders,
  protocolTitle,
  registerOfReference,
  sheetProtocols,
  switchBank,
  wordTable,
  type ModbusTable,
  type SwitchBank,
} from '@kataxis/core'
import { api } from '../../api/client'
import SwitchFields from '../../parts/SwitchFields.vue'
import { useProject } from '../../stores/project'
import { useShelf } from '../../stores/shelf'
import BitStrip from '../../parts/BitStrip.vue'
import FieldRows from './FieldRows.vue'
import ElectricalFields from './ElectricalFields.vue'
import PlacementFields from './PlacementFields.vue'
import RecordRows from './RecordRows.vue'
import { sheetLists } from './sheet-columns'
import { useSheetDraft, type SheetDraft } from './useSheetDraft'
import TypedInput from '../../parts/TypedInput.vue'

const shelf = useShelf()
const project = useProject()
const route = useRoute()
const router = useRouter()
const { draft, faults, preview, load, addModule, toFile } = useSheetDraft()
const back = { name: 'shelf', params: { project: route.params['project'] } }
if (route.query['from'] !== undefined) void api.rawText(String(route.query['from'])).then(load)

const setPlacement = (values: SheetDraft['placement']) =>
  (draft.value.placement = { ...draft.value.placement, ...values })
const setController = (values: Partial<NonNullable<SheetDraft['controller']>>) =>
  (draft.value.controller = {
    inputBytes: 4096,
    outputBytes: 4096,
    interfaces: [],
    ...draft.value.controller,
    ...values,
  })

/** How slots and data go together: one of three ways. */
const slotData = computed(() =>
  draft.value.slots.everySlot ? 'every' : draft.value.slots.nibbles ? 'nibbles' : 'own',
)
function setSlotData(way: string): void {
  draft.value.slots.everySlot = way === 'every' ? { inputBytes: 16, outputBytes: 16 } : null
  draft.value.slots.nibbles =
    way === 'nibbles' ? { order: 'words-low-first', secondFirst: null } : null
}
/** A reference written as an address, such as 40001. */
function referenceHint({ table, address }: { table: ModbusTable; address: number }) {
  const meant = registerOfReference(table, address)
  return meant === null
    ? null
    : {
        words: `Addresses count from 0; ${address} is the reference of ${wordTable(table)} ${meant}.`,
        take: `Use ${meant}`,
        change: { address: meant },
      }
}
const numberOrNull = (event: Event) =>
  (event.target as HTMLInputElement).value === ''
    ? null
    : Number((event.target as HTMLInputElement).value)
const switches = computed<SwitchBank | null>(() =>
  draft.value.switches ? switchBank.parse(draft.value.switches) : null,
)
const setSwitches = (bank: SwitchBank | null) => (draft.value.switches = bank ?? undefined)
const setModbus = (values: NonNullable<SheetDraft['modbus']>) =>
  (draft.value.modbus = { ...draft.value.modbus, ...values })
const setWatchdog = (values: { address?: number; periodMs?: number } | null) =>
  setModbus({
    watchdog: values && { address: 0, periodMs: 1000, ...draft.value.modbus?.watchdog, ...values },
  })

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
      <button class="button main" :disabled="faults.length > 0">Put it on the Shelf</button>
    </header>
    <p v-if="faults.length > 0" class="faults" role="status">
      Still missing or wrong: {{ faults.slice(0, 4).join(' ') }}
    </p>

    <div class="columns">
      <div class="form">
        <section class="pairs" aria-label="Maker and device">
          <label
            ><span class="label">Maker</span><input v-model="draft.maker" class="field" required
          /></label>
          <label
            ><span class="label">Device</span><input v-model="draft.name" class="field" required
          /></label>
          <label
            ><span class="label">Order number</span
            ><input v-model="draft.orderNumber" class="field mono"
          /></label>
          <label
            ><span class="label">Network</span
            ><select v-model="draft.network" class="field">
              <option v-for="name in sheetProtocols" :key="name" :value="name">
                {{ protocolTitle(name) }}
              </option>
            </select></label
          >
          <label class="wide"
            ><span class="label">How its address is set</span
            ><input
              v-model="draft.addressing"
              class="field"
              placeholder="two rotary switches, 1 to 63"
          /></label>
          <label class="wide"
            ><span class="label">What it is</span><input v-model="draft.info" class="field"
          /></label>
        </section>
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
          <details>
            <summary>Parameters of the head</summary>
            <RecordRows v-model="draft.head.parameters" label="Parameters of the head" />
          </details>
        </section>
        <section v-if="hasSheetPart(draft.network, 'registers')" aria-label="Registers">
          <h2>Registers</h2>
          <FieldRows
            v-model="draft.registers"
            v-bind="sheetLists.registers"
            label="Registers"
            :hint="referenceHint"
          />
          <p class="quiet">
            Where the head has no data of its own above, its registers are its data.
          </p>
          <div class="pairs">
            <label
              ><span class="label">Unlisted registers that may be read along</span
              ><input
                class="field"
                type="number"
                min="0"
                :value="draft.modbus?.maxGap ?? 0"
                @input="setModbus({ maxGap: Number(($event.target as HTMLInputElement).value) })"
            /></label>
            <label
              ><span class="label">Bit rates it takes, empty for all</span
              ><TypedInput
                class="field mono"
                placeholder="9600 19200"
                :value="draft.modbus?.bauds?.join(' ') ?? ''"
                @change="setModbus({ bauds: $event.split(/\s+/).filter(Boolean).map(Number) })"
            /></label>
            <label
              ><span class="label">Watchdog register, empty for none</span
              ><input
                class="field"
                type="number"
                min="0"
                :value="draft.modbus?.watchdog?.address ?? ''"
                @input="
                  setWatchdog(
                    numberOrNull($event) === null ? null : { address: numberOrNull($event)! },
                  )
                "
            /></label>
            <label v-if="draft.modbus?.watchdog"
              ><span class="label">written at least every, ms</span
              ><input
                class="field"
                type="number"
                min="1"
                :value="draft.modbus.watchdog.periodMs"
                @input="
                  setWatchdog({ periodMs: Number(($event.target as HTMLInputElement).value) })
                "
            /></label>
            <label class="check"
              ><input
                type="checkbox"
                :checked="draft.modbus?.readsAndWrites"
                @change="setModbus({ readsAndWrites: ($event.target as HTMLInputElement).checked })"
              />
              reads and writes in one request (function 23)</label
            >
          </div>
          <FieldRows
            :model-value="draft.modbus?.startSequence"
            v-bind="sheetLists.startSequence"
            label="What is written first, in this order"
            @update:model-value="setModbus({ startSequence: $event })"
          />
        </section>
        <section v-if="hasSheetPart(draft.network, 'dataSets')" aria-label="Data sets">
          <h2>Data sets to choose from</h2>
          <FieldRows v-model="draft.dataSets" v-bind="sheetLists.dataSets" label="Data sets" />
        </section>
        <section
          v-if="hasSheetPart(draft.network, 'controller')"
          class="pairs"
          aria-label="Controller"
        >
          <label
            ><span class="label">Input image, bytes</span
            ><input
              class="field"
              type="number"
              min="0"
              :value="draft.controller?.inputBytes ?? ''"
              @input="
                setController({ inputBytes: Number(($event.target as HTMLInputElement).value) })
              "
          /></label>
          <label
            ><span class="label">Output image, bytes</span
            ><input
              class="field"
              type="number"
              min="0"
              :value="draft.controller?.outputBytes ?? ''"
              @input="
                setController({ outputBytes: Number(($event.target as HTMLInputElement).value) })
              "
          /></label>
          <div class="wide">
            <FieldRows
              :model-value="draft.controller?.interfaces"
              v-bind="sheetLists.interfaces"
              label="Interfaces"
              @update:model-value="setController({ interfaces: $event })"
            />
          </div>
        </section>
        <section class="pairs" aria-label="Slots">
          <label
            ><span class="label">Slots</span
            ><input
              v-model.number="draft.slots.count"
              class="field"
              type="number"
              min="0"
              max="4096"
          /></label>
          <label
            ><span class="label">Supplies to its modules, mA</span
            ><input
              class="field"
              type="number"
              min="0"
              :value="draft.supplyMa ?? ''"
              @input="
                draft.supplyMa =
                  ($event.target as HTMLInputElement).value === ''
                    ? null
                    : Number(($event.target as HTMLInputElement).value)
              "
          /></label>
          <label
            ><span class="label">Width of the head, mm</span
            ><input
              class="field"
              type="number"
              min="0"
              step="any"
              :value="draft.placement?.widthMm ?? ''"
              @input="setPlacement({ widthMm: Number(($event.target as HTMLInputElement).value) })"
          /></label>
          <label
            ><span class="label">Every station needs a module of the kind</span
            ><TypedInput
              class="field mono"
              placeholder="supply end"
              :value="draft.placement?.requires?.join(' ') ?? ''"
              @change="setPlacement({ requires: $event.split(/\s+/).filter(Boolean) })"
          /></label>
          <label
            ><span class="label">Modules before an extension is needed</span
            ><input
              class="field"
              type="number"
              min="1"
              :value="draft.placement?.maxBeforeExtension ?? ''"
              @input="
                setPlacement({
                  maxBeforeExtension:
                    ($event.target as HTMLInputElement).value === ''
                      ? null
                      : Number(($event.target as HTMLInputElement).value),
                })
              "
          /></label>
          <label
            ><span class="label">Field supply of the head, mA</span
            ><input
              class="field"
              type="number"
              min="0"
              :value="draft.placement?.fieldSupplyMa ?? ''"
              @input="
                setPlacement({ fieldSupplyMa: Number(($event.target as HTMLInputElement).value) })
              "
          /></label>
        </section>
        <section class="pairs" aria-label="Data of slots">
          <label
            ><span class="label">Data of its slots</span
            ><select
              class="field"
              :value="slotData"
              @change="setSlotData(($event.target as HTMLSelectElement).value)"
            >
              <option value="own">each module brings its own</option>
              <option value="every">every slot the same octets, plugged or not</option>
              <option value="nibbles">a gateway’s table of nibbles, a slot a node</option>
            </select></label
          >
          <template v-if="draft.slots.everySlot">
            <label
              ><span class="label">Octets to the controller, every slot</span
              ><input
                v-model.number="draft.slots.everySlot.inputBytes"
                class="field"
                type="number"
                min="0"
            /></label>
            <label
              ><span class="label">Octets from the controller, every slot</span
              ><input
                v-model.number="draft.slots.everySlot.outputBytes"
                class="field"
                type="number"
                min="0"
            /></label>
          </template>
          <template v-if="draft.slots.nibbles">
            <label
              ><span class="label">Order of nibbles</span
              ><select v-model="draft.slots.nibbles.order" class="field">
                <option v-for="order in nibbleOrders" :key="order">{{ order }}</option>
              </select></label
            >
            <label
              ><span class="label">First B node, empty for none</span
              ><input
                class="field"
                type="number"
                min="1"
                :value="draft.slots.nibbles.secondFirst ?? ''"
                @input="draft.slots.nibbles.secondFirst = numberOrNull($event)"
            /></label>
          </template>
          <label
            ><span class="label">Octets of its numbers travel</span
            ><select
              class="field"
              :value="draft.dataOrder ?? ''"
              @change="
                draft.dataOrder = (($event.target as HTMLSelectElement).value || null) as
                  'big' | 'little' | null
              "
            >
              <option value="">as the network asks</option>
              <option value="big">highest first</option>
              <option value="little">lowest first</option>
            </select></label
          >
        </section>
        <section aria-label="Address switches">
          <SwitchFields :model-value="switches" @update:model-value="setSwitches" />
        </section>
        <section
          v-for="(module, i) in draft.modules"
          :key="i"
          class="module"
          :aria-label="`Module ${i + 1}`"
        >
          <div class="pairs">
            <label
              ><span class="label">Key</span
              ><input v-model="module.key" class="field mono" required
            /></label>
            <label
              ><span class="label">Name</span><input v-model="module.name" class="field"
            /></label>
            <label
              ><span class="label">Order number</span
              ><input v-model="module.orderNumber" class="field mono"
            /></label>
            <label
              ><span class="label">Slots it fits, empty for all</span
              ><input v-model="module.slots" class="field mono" placeholder="1..4 7"
            /></label>
          </div>
          <div class="both">
            <FieldRows
              v-model="module.inputs"
              v-bind="sheetLists.data"
              :label="`Module ${i + 1}, to the controller`"
            /><FieldRows
              v-model="module.outputs"
              v-bind="sheetLists.data"
              :label="`Module ${i + 1}, from the controller`"
            />
          </div>
          <label class="current"
            ><span class="label">Takes from the backplane, mA (negative: supplies)</span
            ><input
              class="field"
              type="number"
              :value="module.currentMa ?? ''"
              @input="
                module.currentMa =
                  ($event.target as HTMLInputElement).value === ''
                    ? null
                    : Number(($event.target as HTMLInputElement).value)
              "
          /></label>
          <details>
            <summary>Place on the rail</summary>
            <PlacementFields v-model="module.placement" />
          </details>
          <details>
            <summary>What its channels are electrically</summary>
            <ElectricalFields v-model="module.electrical" />
          </details>
          <details>
            <summary>Parameters</summary>
            <RecordRows v-model="module.parameters" :label="`Parameters of module ${i + 1}`" />
          </details>
          <button class="button small" type="button" @click="draft.modules.splice(i, 1)">
            Remove this module
          </button>
        </section>
        <button class="button" type="button" @click="addModule">+ Module</button>
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
.form > .button {
  justify-self: start;
}
.form section.pairs,
.pairs {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
}
.wide {
  grid-column: 1 / -1;
}
.both {
  display: grid;
  grid-template-columns: 1fr;
  gap: 10px;
}
.module {
  border-top: 1px solid var(--line);
  padding-top: 10px;
}
.current {
  width: calc(50% - 6px);
}
summary {
  cursor: pointer;
  font: 13px/1.6 var(--narrow);
}
.module > .button {
  justify-self: start;
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
