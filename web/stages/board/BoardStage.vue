<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { newId } from '@kataxis/core'
import SideSheet from '../../parts/SideSheet.vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import AddStation from './AddStation.vue'
import ControllerSheet from './sheets/ControllerSheet.vue'
import ModuleSheet from './sheets/ModuleSheet.vue'
import NetworkSheet from './sheets/NetworkSheet.vue'
import StationSheet from './sheets/StationSheet.vue'
import StationLane from './StationLane.vue'
import { useLaneWalk, walkKeys } from './useLaneWalk'
import { useModuleDrag } from './useModuleDrag'

const project = useProject()
const { focus, setFocus } = useFocus()
const derived = computed(() => project.derived!)
const board = ref<HTMLElement>()
const stations = computed(() => derived.value.controllers.flatMap(({ networks }) => networks.flatMap(({ stations: own }) => own)))
const { cursor, moveTo, step } = useLaneWalk(stations, board)
const drag = useModuleDrag()
const inserting = ref<{ stationId: string; slot: number; start: string; shifts: boolean } | null>(null)
const addingTo = ref<string | null>(null)

const troubles = computed(() => {
  const marked = (project.findings?.all ?? []).filter(({ severity, at }) => severity === 'blocker' && at.kind !== 'signal')
  return new Map(marked.map(({ at, message }) => [at.id, message]))
})
const cells = computed(() => new Map(stations.value.flatMap((view) => view.modules.map((module) => [module.id, { stationId: view.id, slot: module.slot }]))))

watch(focus, (next) => {
  if (!next) return
  const cell = cells.value.get(next.id) ?? slotCell(next)
  if (cell && (cursor.value?.stationId !== cell.stationId || cursor.value.slot !== cell.slot)) moveTo(cell)
}, { immediate: true })

function slotCell({ kind, id }: { kind: string; id: string }) {
  const [stationId, slot] = id.split(':')
  return kind === 'slot' && stationId && slot ? { stationId, slot: Number(slot) } : null
}

function openInsert(stationId: string, slot: number, start = '', shifts = false) {
  inserting.value = { stationId, slot, start, shifts }
}
function take(stationId: string, module: string) {
  const { slot, shifts } = inserting.value!
  inserting.value = null
  const done = project.run({ type: 'insertModule', id: newId(), stationId, slot, module, shift: shifts })
  moveTo({ stationId, slot: done && !shifts ? slot + 1 : slot })
}
function closeInsert() {
  if (!inserting.value) return
  const { stationId, slot } = inserting.value
  inserting.value = null
  moveTo({ stationId, slot })
}

const moduleAtCursor = computed(() => {
  if (!cursor.value) return null
  const view = derived.value.stations.get(cursor.value.stationId)
  return view?.modules.find(({ slot, row }) => row && slot === cursor.value!.slot) ?? null
})

function onKey(event: KeyboardEvent) {
  const target = event.target as HTMLElement
  if (!target.dataset['cell'] || !cursor.value) return
  const { stationId, slot } = cursor.value
  const module = moduleAtCursor.value
  const walk = walkKeys[event.key]
  if (walk && event.altKey && module) {
    if (project.run({ type: 'moveModule', id: module.id, stationId, slot: slot + walk[0] }) && walk[0] !== 0) moveTo({ stationId, slot: slot + walk[0] })
  } else if (walk) step(...walk)
  else if ((event.key === 'Delete' || event.key === 'Backspace') && module) project.run({ type: 'removeModules', ids: [module.id] })
  else if (event.key === 'Delete' && slot === 0) project.run({ type: 'removeStation', id: stationId })
  else if (event.key === 'Insert' && slot > 0) openInsert(stationId, slot, '', module !== null)
  else if (event.key === 'Escape') void setFocus(null)
  else if (/^[\p{L}\p{N}]$/u.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey && slot > 0 && !module) openInsert(stationId, slot, event.key)
  else return
  event.preventDefault()
}

const sheets = { controller: ControllerSheet, network: NetworkSheet, station: StationSheet, module: ModuleSheet }
const sheet = computed(() => {
  const at = focus.value
  if (!at || !(at.kind in sheets)) return null
  const { plan, stations: views } = derived.value
  const exists = at.kind === 'module' ? cells.value.has(at.id) : at.kind === 'station' ? views.has(at.id) : at.kind === 'network' ? plan.networks[at.id] : plan.controllers[at.id]
  return exists ? { is: sheets[at.kind as keyof typeof sheets], id: at.id } : null
})

function addController() {
  const controllerId = newId()
  const networkId = newId()
  const count = derived.value.controllers.length + 1
  const done = project.run({
    type: 'batch',
    label: 'Add a controller with a network',
    commands: [
      { type: 'addController', id: controllerId, name: `K${count}`, inputBytes: 4096, outputBytes: 4096, aligned: true },
      { type: 'addNetwork', id: networkId, controllerId, name: `Network ${count}`, kind: 'profinet', controllerIp: `192.168.${count}.1`, prefixLength: 24 },
    ],
  })
  if (done) void setFocus({ kind: 'controller', id: controllerId })
}
function addNetwork(controllerId: string) {
  const id = newId()
  const count = Object.keys(derived.value.plan.networks).length + 1
  if (project.run({ type: 'addNetwork', id, controllerId, name: `Network ${count}`, kind: 'profinet', controllerIp: `192.168.${count}.1`, prefixLength: 24 })) void setFocus({ kind: 'network', id })
}
const bandColour = (i: number) => `var(--band-${(i % 4) + 1})`
</script>

<template>
  <div class="board-stage">
    <div ref="board" class="board" @keydown="onKey">
      <h1 class="sr">Board</h1>
      <template v-for="{ controller, networks, inputBytes, outputBytes } in derived.controllers" :key="controller.id">
        <div class="controller">
          <button class="controller-name" :class="{ focused: focus?.id === controller.id }" @click="setFocus({ kind: 'controller', id: controller.id })">{{ controller.name || '(no name)' }}</button>
          <span class="figures">inputs {{ inputBytes }} of {{ controller.inputBytes }} bytes · outputs {{ outputBytes }} of {{ controller.outputBytes }} bytes</span>
          <button class="button small bare" @click="addNetwork(controller.id)">+ Network</button>
        </div>
        <section v-for="({ network, stations: own }, i) in networks" :key="network.id" class="band" :style="{ '--trunk': bandColour(i) }" :aria-label="`Network ${network.name}`">
          <div class="band-head">
            <button class="band-name" :class="{ focused: focus?.id === network.id }" @click="setFocus({ kind: 'network', id: network.id })">{{ network.name || '(no name)' }}</button>
            <span class="figures">PROFINET · {{ network.controllerIp }}/{{ network.prefixLength }} · {{ own.length }} {{ own.length === 1 ? 'station' : 'stations' }}</span>
            <button class="button small" @click="addingTo = network.id">+ Station</button>
          </div>
          <div v-if="own.length > 0" class="lanes" role="grid" :aria-label="`Stations on ${network.name}`">
            <StationLane
              v-for="view in own"
              :key="view.id"
              :derived="derived"
              :view="view"
              :cursor="cursor"
              :focus-id="focus?.id ?? null"
              :inserting="inserting?.stationId === view.id ? inserting : null"
              :troubles="troubles"
              :drag="drag"
              @walk="(slot) => (cursor = { stationId: view.id, slot })"
              @open="(kind, id) => setFocus({ kind, id })"
              @insert="(slot) => openInsert(view.id, slot)"
              @take="(module) => take(view.id, module)"
              @close="closeInsert"
            />
          </div>
          <p v-else class="hint">No station hangs on this network yet. Add one: its head module comes from a file on the Shelf.</p>
        </section>
      </template>
      <div v-if="derived.controllers.length === 0" class="empty">
        <h2>Begin with the controller</h2>
        <p>It owns the memory that every channel gets its address in, and a network to hang stations on.</p>
        <button class="button main" @click="addController">Add a controller and a network</button>
      </div>
      <div v-else class="legend">
        <button class="button small bare" @click="addController">+ Controller</button>
        <span><svg width="12" height="12" aria-hidden="true"><path class="open" d="M2 2h8v8h-8z" /></svg> digital in</span>
        <span><svg width="12" height="12" aria-hidden="true"><path class="full" d="M2 2h8v8h-8z" /></svg> digital out</span>
        <span><svg width="12" height="12" aria-hidden="true"><circle class="open" cx="6" cy="6" r="4" /></svg> analog in</span>
        <span><svg width="12" height="12" aria-hidden="true"><circle class="full" cx="6" cy="6" r="4" /></svg> analog out</span>
        <span><svg width="12" height="12" aria-hidden="true"><path class="open" d="M6 1l5 5l-5 5l-5 -5z" /></svg> other data</span>
        <span>dark: named · pale: free</span>
        <span class="keys">Arrows walk · type to insert · Alt+arrows move · Del removes · Enter opens</span>
      </div>
    </div>
    <SideSheet v-if="sheet" @close="setFocus(null)">
      <component :is="sheet.is" :id="sheet.id" :key="sheet.id" />
    </SideSheet>
    <AddStation v-if="addingTo" :network-id="addingTo" @close="addingTo = null" @added="(id) => ((addingTo = null), setFocus({ kind: 'station', id }), moveTo({ stationId: id, slot: 1 }))" />
  </div>
</template>

<style scoped>
.board-stage {
  display: flex;
  height: 100%;
}
.board {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 10px 14px 40px;
}
.controller,
.band-head {
  display: flex;
  align-items: center;
  gap: 12px;
  position: sticky;
  left: 0;
  width: max-content;
}
.controller {
  padding: 2px 0 6px;
}
.controller-name {
  font: 600 16px/1.2 var(--sans);
}
.band-name {
  font: 600 14px/1.2 var(--sans);
}
.controller-name,
.band-name {
  border: 0;
  background: none;
  color: var(--ink);
  padding: 3px 4px;
  cursor: pointer;
}
.focused {
  box-shadow: inset 0 -3px 0 var(--accent);
}
.band {
  margin-bottom: 14px;
}
.band-head {
  border-left: 4px solid var(--trunk);
  margin-left: 10px;
  padding: 3px 0 5px 10px;
}
.figures {
  font: 12.5px/1.2 var(--narrow);
  color: var(--ink-2);
  font-variant-numeric: tabular-nums;
}
.hint {
  margin-left: 26px;
  color: var(--ink-2);
  padding: 6px 0;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  font: 12px/1.4 var(--narrow);
  color: var(--ink-2);
  padding-top: 8px;
  position: sticky;
  left: 0;
}
.legend svg {
  vertical-align: -2px;
}
.open {
  fill: none;
  stroke: var(--ink);
}
.full {
  fill: var(--ink);
}
</style>
