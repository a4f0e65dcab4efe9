<script setup lang="ts">
import { firstFreeSlot, newId } from '@kataxis/core'
import { useStorage } from '@vueuse/core'
import { NButton, NDropdown } from 'naive-ui'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import SideSheet from '../../parts/SideSheet.vue'
import { useFocus, type Focus } from '../../stores/focus'
import { usePresence } from '../../stores/presence'
import { useProject } from '../../stores/project'
import { useDifference } from '../history/useDifference'
import BoardBand from './BoardBand.vue'
import BoardLegend from './BoardLegend.vue'
import ComparedNote from './ComparedNote.vue'
import ControllerHead from './ControllerHead.vue'
import BoardDialogs, { type BoardDialog } from './dialogs/BoardDialogs.vue'
import PlantStrip from './PlantStrip.vue'
import SelectionBar from './SelectionBar.vue'
import ControllerSheet from './sheets/ControllerSheet.vue'
import ModuleSheet from './sheets/ModuleSheet.vue'
import NetworkSheet from './sheets/NetworkSheet.vue'
import StationSheet from './sheets/StationSheet.vue'
import { useBoardClipboard } from './useBoardClipboard'
import { useBoardCommands } from './useBoardCommands'
import { useBoardDrag } from './useBoardDrag'
import { useBoardWindow } from './useBoardWindow'
import { useLaneWalk, walkKeys, type Cell } from './useLaneWalk'
import { kindOptions, useNewNetworks } from './useNewNetworks'
import { useSelection } from './useSelection'
import { zooms, zoomStep, type Zoom } from './zooms'
import ZoomSwitch from './ZoomSwitch.vue'

const project = useProject()
const presence = usePresence()
const { focus, setFocus } = useFocus()
const derived = computed(() => project.derived!)
const board = ref<HTMLElement>()
const sideSheet = ref<InstanceType<typeof SideSheet>>()
const route = useRoute()
const router = useRouter()
const revisionIn = (key: string) =>
  computed(() => (typeof route.query[key] === 'string' ? Number(route.query[key]) : null))
const compared = { from: revisionIn('from'), to: revisionIn('to') }
const difference = useDifference(compared.from, compared.to)
const stopComparing = () =>
  router.replace({ query: { ...route.query, from: undefined, to: undefined } })
const zoom = useStorage<Zoom>('kataxis.zoom', 'lane')
const bandWindow = useBoardWindow(board)
const stations = computed(() =>
  derived.value.controllers.flatMap(({ networks }) => networks.flatMap(({ stations: own }) => own)),
)
const { cursor, moveTo: focusCell, step } = useLaneWalk(stations, board)
const selection = useSelection(stations, cursor)
const drag = useBoardDrag()
const clipboard = useBoardClipboard()
const inserting = ref<{ stationId: string; slot: number; start: string; shifts: boolean } | null>(
  null,
)
const dialog = ref<BoardDialog | null>(null)

const troubles = computed(() => {
  const marked = (project.findings?.all ?? []).filter(
    ({ severity, at }) => severity === 'blocker' && at.kind !== 'signal',
  )
  return new Map(marked.map(({ at, message }) => [at.id, message]))
})
const cells = computed(
  () =>
    new Map(
      stations.value.flatMap((view) =>
        view.modules.map((module) => [module.id, { stationId: view.id, slot: module.slot }]),
      ),
    ),
)

/** Brings the lane into the window first: what is not drawn cannot take the focus. */
function moveTo(cell: Cell): void {
  const band = derived.value.controllers
    .flatMap(({ networks }) => networks)
    .find(({ stations: own }) => own.some(({ id }) => id === cell.stationId))
  const lanes = board.value?.querySelector<HTMLElement>(
    `[aria-label="${CSS.escape(`Stations on ${band?.network.name ?? ''}`)}"]`,
  )
  if (band && lanes) {
    const top =
      lanes.offsetTop +
      band.stations.findIndex(({ id }) => id === cell.stationId) * zooms[zoom.value].lane
    const { height } = bandWindow
    if (
      top < bandWindow.top.value ||
      top + zooms[zoom.value].lane > bandWindow.top.value + height.value
    )
      bandWindow.scrollTo(top - height.value / 2)
  }
  void nextTick(() => focusCell(cell))
}

watch(
  focus,
  (next) => {
    presence.at(next?.id ?? null)
    if (!next) return
    const cell = cells.value.get(next.id) ?? slotCell(next)
    // Whoever stands in a station stays where he stands.
    if (next.kind === 'station' && cursor.value?.stationId === next.id) return
    if (cell && (cursor.value?.stationId !== cell.stationId || cursor.value.slot !== cell.slot))
      moveTo(cell)
  },
  { immediate: true },
)

/** Who was sent here to add a station. */
watch(
  () => route.query['add'],
  (networkId) => {
    if (typeof networkId !== 'string' || !derived.value.plan.networks[networkId]) return
    dialog.value = { kind: 'add', networkId }
    void router.replace({ query: { ...route.query, add: undefined } })
  },
  { immediate: true },
)

/** What the address names is shown at once; before there is a Board it cannot be scrolled to. */
onMounted(() => void nextTick(() => cursor.value && moveTo(cursor.value)))

function slotCell({ kind, id }: { kind: string; id: string }): Cell | null {
  const [stationId, slot] = id.split(':')
  return kind === 'slot' && stationId && slot ? { stationId, slot: Number(slot) } : null
}
const idAt = (cell: Cell | null) =>
  cell
    ? (derived.value.stations.get(cell.stationId)?.modules.find(({ slot }) => slot === cell.slot)
        ?.id ?? null)
    : null

const { moduleIds, stationIds, remove, fill } = useBoardCommands(selection, cursor, cells, idAt)

function openInsert({ stationId, slot }: Cell, start = '', shifts = false): void {
  inserting.value = { stationId, slot, start, shifts }
}
function take(stationId: string, module: string): void {
  const { slot, shifts } = inserting.value!
  inserting.value = null
  const done = project.run({
    type: 'insertModule',
    id: newId(),
    stationId,
    slot,
    module,
    shift: shifts,
  })
  moveTo({ stationId, slot: done && !shifts ? slot + 1 : slot })
}
function closeInsert(): void {
  if (!inserting.value) return
  const { stationId, slot } = inserting.value
  inserting.value = null
  moveTo({ stationId, slot })
}

function walk(cell: Cell): void {
  cursor.value = cell
}
function open(next: Focus): void {
  selection.clear()
  void setFocus(next)
}
function toggle(id: string): void {
  selection.toggle(id, idAt(cursor.value))
}
function extendTo(cell: Cell): void {
  selection.extend()
  walk(cell)
}

function closeSheet(): void {
  void setFocus(null).then(() => cursor.value && moveTo(cursor.value))
}

function onKey(event: KeyboardEvent): void {
  const target = event.target as HTMLElement
  if (!target.dataset['cell'] || !cursor.value) return
  const { stationId, slot } = cursor.value
  const id = idAt(cursor.value)
  const way = walkKeys[event.key]
  const isCommand = event.ctrlKey || event.metaKey
  if (way && event.altKey && slot > 0 && id !== null) {
    if (project.run({ type: 'moveModule', id, stationId, slot: slot + way[0] }) && way[0] !== 0)
      moveTo({ stationId, slot: slot + way[0] })
  } else if (way && event.shiftKey) {
    selection.extend()
    step(...way)
  } else if (way) {
    selection.clear()
    step(...way)
  } else if (event.key === 'Enter' && id !== null && !isCommand && !event.shiftKey)
    goIntoSheet({ kind: slot === 0 ? 'station' : 'module', id })
  else if (event.key === 'Delete' || event.key === 'Backspace') remove()
  else if (event.key === ' ' && isCommand && id !== null) selection.toggle(id, null)
  else if (event.key.toLowerCase() === 'd' && isCommand && slot === 0)
    dialog.value = { kind: 'copies', stationId }
  else if (event.key.toLowerCase() === 'r' && event.altKey && id !== null)
    dialog.value = {
      kind: 'replace',
      of: slot === 0 ? 'station' : 'module',
      ids: slot === 0 ? stationIds.value : moduleIds.value,
    }
  else if (event.key === 'Insert' && slot > 0) openInsert(cursor.value, '', id !== null)
  else if (event.key === 'Escape' && selection.ids.value.size > 0) selection.clear()
  else if (event.key === 'Escape') void setFocus(null)
  else if (event.key === '+' || event.key === '-')
    zoom.value = zoomStep(zoom.value, event.key === '+' ? 1 : -1)
  else if (
    /^[\p{L}\p{N}]$/u.test(event.key) &&
    !isCommand &&
    !event.altKey &&
    slot > 0 &&
    id === null
  )
    openInsert(cursor.value, event.key)
  else return
  event.preventDefault()
}
/** Into the sheet of what is at the cursor; Esc leads back. */
function goIntoSheet(next: Focus): void {
  selection.clear()
  void setFocus(next).then(() => nextTick(() => sideSheet.value?.enter()))
}
const isOnCell = (event: ClipboardEvent) =>
  (event.target as HTMLElement).closest('[data-cell]') !== null
function onCopy(event: ClipboardEvent): void {
  if (isOnCell(event)) clipboard.copy(event, moduleIds.value)
}
function onCut(event: ClipboardEvent): void {
  if (isOnCell(event)) clipboard.cut(event, moduleIds.value)
}
function onPaste(event: ClipboardEvent): void {
  if (!isOnCell(event) || !cursor.value) return
  const { stationId, slot } = cursor.value
  clipboard.paste(event, stationId, Math.max(1, slot))
  void nextTick(() => focusCell({ stationId, slot }))
}

const sheets = {
  controller: ControllerSheet,
  network: NetworkSheet,
  station: StationSheet,
  module: ModuleSheet,
}
const sheet = computed(() => {
  const at = focus.value
  if (!at || !(at.kind in sheets)) return null
  const { plan, stations: views } = derived.value
  const exists =
    at.kind === 'module'
      ? cells.value.has(at.id)
      : at.kind === 'station'
        ? views.has(at.id)
        : at.kind === 'network'
          ? plan.networks[at.id]
          : plan.controllers[at.id]
  return exists ? { is: sheets[at.kind as keyof typeof sheets], id: at.id } : null
})

function replaceSelected(): void {
  const stations = selection.stationIds.value
  dialog.value =
    stations.length > 0
      ? { kind: 'replace', of: 'station', ids: stations }
      : { kind: 'replace', of: 'module', ids: selection.moduleIds.value }
}

const { addController, addNetwork } = useNewNetworks(goToAdding)
/** What comes next on a new network is its first station. */
function goToAdding(networkId: string): void {
  void nextTick(() =>
    board.value
      ?.querySelector<HTMLElement>(`[data-add-station="${CSS.escape(networkId)}"]`)
      ?.focus(),
  )
}

/** What comes next in a new station is its first module. */
function onAdded(stationId: string): void {
  dialog.value = null
  const view = derived.value.stations.get(stationId)
  const cell = { stationId, slot: (view && firstFreeSlot(view)) ?? 0 }
  cursor.value = cell
  void setFocus({ kind: 'station', id: stationId }).then(() => moveTo(cell))
}
const bandColour = (i: number) => `var(--band-${(i % 4) + 1})`
</script>

<template>
  <div class="board-stage">
    <div
      ref="board"
      class="board"
      :class="{ sideways: bandWindow.isSideways.value }"
      @keydown="onKey"
      @copy="onCopy"
      @cut="onCut"
      @paste="onPaste"
    >
      <h1 class="sr">Board</h1>
      <ComparedNote
        v-if="compared.from.value !== null"
        :from="compared.from.value"
        :to="compared.to.value"
        :words="difference.failure.value || difference.summary.value"
        @stop="stopComparing"
      />
      <ZoomSwitch v-if="derived.controllers.length > 0" v-model="zoom" />
      <template v-for="each in derived.controllers" :key="each.controller.id">
        <ControllerHead
          :view="each"
          :is-focused="focus?.id === each.controller.id"
          @open="open({ kind: 'controller', id: each.controller.id })"
          @add-network="(kind) => addNetwork(each.controller.id, kind)"
        />
        <BoardBand
          v-for="(band, i) in each.networks"
          :key="band.network.id"
          :style="{ '--trunk': bandColour(i) }"
          :derived="derived"
          :band="band"
          :zoom="zoom"
          :window="bandWindow"
          :cursor="cursor"
          :focus="focus"
          :selected="selection.ids.value"
          :inserting="inserting"
          :troubles="troubles"
          :drag="drag"
          :others="presence.others"
          :marks="difference.marks.value"
          @walk="walk"
          @open="open"
          @toggle="toggle"
          @extend="extendTo"
          @insert="openInsert"
          @take="take"
          @close="closeInsert"
          @add="dialog = { kind: 'add', networkId: band.network.id }"
        />
      </template>
      <div v-if="derived.controllers.length === 0" class="empty">
        <h2>Begin with the controller</h2>
        <p>
          Every channel gets its address in the controller’s memory; stations hang on its networks.
        </p>
        <NDropdown trigger="click" :options="kindOptions" @select="addController"
          ><NButton type="primary">Add a controller and a network</NButton></NDropdown
        >
      </div>
      <BoardLegend v-else>
        <NDropdown trigger="click" :options="kindOptions" @select="addController"
          ><NButton size="tiny" quaternary>+ Controller</NButton></NDropdown
        >
      </BoardLegend>
    </div>
    <PlantStrip
      v-if="stations.length > 30"
      :derived="derived"
      :zoom="zoom"
      :window="bandWindow"
      :troubles="troubles"
      :board="board ?? null"
    />
    <SideSheet v-if="sheet" ref="sideSheet" @close="closeSheet">
      <component
        :is="sheet.is"
        :id="sheet.id"
        :key="sheet.id"
        @duplicate="dialog = { kind: 'copies', stationId: sheet!.id }"
        @replace="
          dialog = {
            kind: 'replace',
            of: focus!.kind === 'station' ? 'station' : 'module',
            ids: [sheet!.id],
          }
        "
      />
    </SideSheet>
    <SelectionBar
      v-if="selection.ids.value.size > 0"
      :module-ids="selection.moduleIds.value"
      :station-ids="selection.stationIds.value"
      @remove="remove"
      @fill="fill"
      @clear="selection.clear()"
      @duplicate="dialog = { kind: 'copies', stationId: selection.stationIds.value[0]! }"
      @replace="replaceSelected"
    />
    <BoardDialogs
      :dialog="dialog"
      @close="dialog = null"
      @added="onAdded"
      @copied="(ids) => moveTo({ stationId: ids[0]!, slot: 0 })"
    />
  </div>
</template>

<style scoped>
.board-stage {
  display: flex;
  height: 100%;
  position: relative;
}
.board {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 10px 14px 60px;
  position: relative;
}
@media print {
  .board-stage {
    display: block;
    height: auto;
  }
  .board {
    overflow: visible;
  }
}
</style>
