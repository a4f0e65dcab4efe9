<script lang="ts">
import { warmGrid } from '../../parts/warm-grid'

warmGrid()
</script>

<script setup lang="ts">
import { numbered } from '@kataxis/core'
import type { DeviceNotationName, NotationName } from '@kataxis/core'
import { VGrid, type ColumnRegular } from '@revolist/vue3-datagrid'
import { useStorage } from '@vueuse/core'
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { writeCopy } from '../../parts/grid-clipboard'
import { takeEdit, takeRangeEdit } from '../../parts/grid-edits'
import { MultilineEditor } from '../../parts/multiline-editor'
import SideSheet from '../../parts/SideSheet.vue'
import WhatIfBar from '../../parts/WhatIfBar.vue'
import { useGridRoles } from '../../parts/useGridRoles'
import { useTypedCells } from '../../parts/useTypedCells'
import { useFocus, type Focus } from '../../stores/focus'
import { usePreferences } from '../../stores/preferences'
import { useProject } from '../../stores/project'
import type { GridElement } from './grid-element'
import type { Beside, LedgerEdit, LedgerWay } from './ledger-tools'
import LedgerTools from './LedgerTools.vue'
import PatternSheet from './PatternSheet.vue'
import ReplaceSheet from './ReplaceSheet.vue'
import RowFindings from './RowFindings.vue'
import { haystackOf, ledgerRows, type ColumnSet, type LedgerRow } from './rows'
import RulesSheet from './RulesSheet.vue'
import SignalTray from './SignalTray.vue'
import { useGridBlocks } from './useGridBlocks'
import { useGridKeys } from './useGridKeys'
import { rowSize, useLedgerColumns } from './useLedgerColumns'
import { useLedgerEdits } from './useLedgerEdits'
import { useShownRows } from './useShownRows'
import WiringSheet from './WiringSheet.vue'

const project = useProject()
const preferences = usePreferences()
const { focus, goTo, setFocus } = useFocus()
const route = useRoute()
const router = useRouter()
const edit = useLedgerEdits()
const holder = ref<HTMLElement>()
const text = ref('')
const onlyFree = ref(false)
const beside = ref<Beside | null>(null)
const selected = ref<readonly string[]>([])
/** The tray of waiting signals, with the place that somebody stood at. */
const near = ref<{ id: string; words: string } | null>(null)

const second = useStorage<NotationName | DeviceNotationName | ''>('kataxis.second-address', '')
/** Which columns somebody looks at. */
const set = useStorage<ColumnSet>('kataxis.ledger-columns', 'addressing')
const rows = computed(() =>
  ledgerRows(project.derived!, preferences.notation, second.value, set.value),
)
/** While nothing else is to do, rows are made ready for the filter, so that its first letter is as
 *  quick as the next ones. */
watch(
  rows,
  (now) => {
    // Not every browser tells when it is idle; there the first letter does it.
    if (!('requestIdleCallback' in window)) return
    let at = 0
    const goOn = (idle: IdleDeadline) => {
      while (at < now.length && idle.timeRemaining() > 2)
        for (const end = at + 100; at < end && at < now.length; at++) haystackOf(now[at]!)
      if (at < now.length && now === rows.value) requestIdleCallback(goOn)
    }
    requestIdleCallback(goOn)
  },
  { immediate: true },
)
const { shown, outdated, order, sortBy, askAgain } = useShownRows(rows, { text, onlyFree })
/** The selected rows as they stand now, in the order in which they were shown. */
const chosen = computed(() => {
  const byKey = new Map(rows.value.map((row) => [row.key, row]))
  return selected.value.flatMap((key) => byKey.get(key) ?? [])
})
const unplaced = computed(() => rows.value.filter(({ place }) => place === null).length)
const grid = () => holder.value?.querySelector<GridElement>('revo-grid') ?? null

const { columns, onResize } = useLedgerColumns({
  set,
  second,
  order,
  refresh: () => void grid()?.refresh(),
})
/** Columns that the cursor reaches; the pinned station does not count. */
const names = () => columns.value.filter(({ pin }) => !pin).map(({ prop }) => String(prop))
const { onFill, fillDown, onPaste } = useGridBlocks({ grid, names, edit })
const { stand, onEnter, onRowNumber, onKey } = useGridKeys({
  ...{ holder, grid, names, edit, fillDown },
  rowCount: () => shown.value.length,
})
const editors = { multiline: MultilineEditor }
useGridRoles(holder)
const typed = useTypedCells<LedgerRow>(holder, (cells) => edit(cells))
function onEdit(event: Event) {
  typed.end()
  edit(takeEdit<LedgerRow>(event))
}
/** The grid package would sort anew after every edit. */
function onSort(event: Event) {
  event.preventDefault()
  sortBy((event as CustomEvent<{ column: ColumnRegular }>).detail.column.prop as keyof LedgerRow)
}
const onRangeEdit = (event: Event) => edit(takeRangeEdit<LedgerRow>(event))

/** The row that the cursor stands in, or stood in last. */
const current = ref<LedgerRow | null>(null)
function onFocus(event: Event) {
  const { model, ...at } = (
    event as CustomEvent<{ model?: LedgerRow; rowIndex?: number; colIndex?: number }>
  ).detail
  current.value = model ?? current.value
  stand(at)
}
const currentRow = () => shown.value.find(({ key }) => key === current.value?.key) ?? null

/** The wiring sheet follows the cursor. */
const wired = computed(() => rows.value.find(({ key }) => key === current.value?.key) ?? null)

/** Goes on to another stage; who comes back stands on the row again. */
async function leaveFor(stage: string, row: LedgerRow, place: Focus) {
  if (row.signalId) await setFocus({ kind: 'signal', id: row.signalId })
  void goTo(stage, place)
}

/** Where the row with the cursor stands, on the Board or in the memory. */
function show(stage: 'board' | 'memory') {
  const row = currentRow() ?? shown.value[0]
  if (!row?.listed) return project.tell('This signal has no channel yet, so it stands nowhere.')
  const { view, module } = row.listed
  const place = module.row
    ? { kind: 'module' as const, id: module.id }
    : { kind: 'station' as const, id: view.id }
  void leaveFor(
    stage,
    row,
    stage === 'memory' && row.signalId ? { kind: 'signal', id: row.signalId } : place,
  )
}

/** The signal of the row with the cursor, else the first analog one shown. */
function showOnBench() {
  const row = currentRow()
  const signal =
    row?.listed?.channel.kind === 'analog' && row.signalId
      ? row
      : shown.value.find(({ listed, signalId }) => listed?.channel.kind === 'analog' && signalId)
  if (!signal?.signalId)
    return project.tell(
      'No signal shown here stands on an analog channel; only those have a range.',
    )
  void leaveFor('range', signal, { kind: 'signal', id: signal.signalId })
}

function openTray() {
  const module = currentRow()?.listed
  near.value = module
    ? { id: module.module.id, words: `${module.view.station.name} · slot ${module.module.slot}` }
    : null
  beside.value = 'tray'
}

/** A waiting signal that was pulled onto a row. */
async function drop(event: DragEvent) {
  const id = event.dataTransfer?.getData('text/x-kataxis-signal')
  const cell = (event.target as HTMLElement).closest('[data-rgrow]')
  if (!id || !cell) return
  event.preventDefault()
  const row = (await grid()?.getVisibleSource())?.[Number(cell.getAttribute('data-rgrow'))]
  if (!row?.place) project.tell('This row has no channel to put the signal on.')
  else if (row.signalId)
    project.tell(`${row.tag || row.channel} stands on this channel already; remove it first.`)
  else project.run({ type: 'editSignals', edits: [{ id, place: row.place }] })
}

/** Takes the signals of the selected rows off their channels; they keep everything and wait. */
async function takeOff() {
  const range = await grid()?.getSelectedRange()
  const visible = (await grid()?.getVisibleSource()) ?? []
  const one = currentRow()
  const rows = range ? visible.slice(range.y, range.y1 + 1) : one ? [one] : []
  const ids = rows.flatMap(({ signalId, place }) => (signalId && place ? [signalId] : []))
  if (ids.length === 0) project.tell('Choose rows whose signals stand on channels.')
  else if (project.run({ type: 'editSignals', edits: ids.map((id) => ({ id, place: null })) }))
    openTray()
}

async function openPattern() {
  const range = await grid()?.getSelectedRange()
  const visible = (await grid()?.getVisibleSource()) ?? []
  const inRange =
    range && range.y1 > range.y
      ? visible.slice(range.y, range.y1 + 1)
      : shown.value.filter(({ tag }) => tag === '')
  selected.value = inRange.filter(({ listed }) => listed).map(({ key }) => key)
  beside.value = 'pattern'
}

/** The rows of the selection if it has several, else all that are shown. */
async function openReplace() {
  const range = await grid()?.getSelectedRange()
  const visible = (await grid()?.getVisibleSource()) ?? []
  selected.value = (
    range && range.y1 > range.y ? visible.slice(range.y, range.y1 + 1) : shown.value
  ).map(({ key }) => key)
  beside.value = 'replace'
}

const edits: Readonly<Record<LedgerEdit, () => unknown>> = {
  pattern: openPattern,
  replace: openReplace,
  takeOff,
  list: () => router.push({ name: 'list', params: route.params }),
  listHere: () =>
    currentRow()?.listed
      ? router.push({
          name: 'list',
          params: route.params,
          query: { from: currentRow()!.key },
        })
      : project.tell('Select the channel that the list begins at.'),
  rules: () => (beside.value = 'rules'),
}
const ways: Readonly<Record<LedgerWay, () => unknown>> = {
  board: () => show('board'),
  memory: () => show('memory'),
  range: showOnBench,
}

/** Where a row stands in the grid, which somebody may have sorted and which takes a moment to have
 *  rows at all. */
async function placeOf(wanted: string): Promise<number> {
  for (let tries = 0; tries < 40; tries++) {
    await new Promise((done) => setTimeout(done, 60))
    const y = ((await grid()?.getVisibleSource()) ?? []).findIndex(({ key }) => key === wanted)
    if (y >= 0) return y
  }
  return -1
}

/** The signal that the address names is shown once, as soon as it stands in a row; what is edited
 *  afterwards moves nothing. */
let shownFor: string | null = null
watch(
  [focus, shown],
  async ([at]) => {
    if (at?.kind !== 'signal' || at.id === shownFor) return
    const row = shown.value.find(({ signalId }) => signalId === at.id)
    if (!row) return
    shownFor = at.id
    current.value = row
    const y = await placeOf(row.key)
    if (y < 0) return
    await grid()?.scrollToRow(Math.max(0, y - 4))
    const x = columns.value.filter(({ pin }) => !pin).findIndex(({ prop }) => prop === 'tag')
    await grid()?.setCellsFocus({ x, y }, { x, y })
  },
  { immediate: true },
)
</script>

<template>
  <div class="ledger">
    <div class="main">
      <LedgerTools
        v-model:text="text"
        v-model:only-free="onlyFree"
        v-model:set="set"
        v-model:second="second"
        v-model:beside="beside"
        :waiting="unplaced"
        @tray="beside === 'tray' ? (beside = null) : openTray()"
        @edit="(what) => edits[what]()"
        @go="(where) => ways[where]()"
      />
      <WhatIfBar />
      <div
        ref="holder"
        class="grid sheet-grid"
        data-testid="ledger-grid"
        @click="onRowNumber"
        @keydown.capture="onKey"
        @focusin="onEnter"
        @dragover.prevent
        @drop="drop"
      >
        <VGrid
          :source="shown as never"
          :columns="columns"
          :theme="preferences.theme === 'dark' ? 'darkCompact' : 'compact'"
          :range="true"
          :resize="true"
          :row-headers="true"
          :row-size="rowSize"
          :apply-on-close="false"
          :filter="false"
          :editors="editors as never"
          hide-attribution
          @beforeedit="onEdit"
          @beforerangeedit="onRangeEdit"
          @beforeautofill="onFill"
          @beforepasteapply="onPaste"
          @beforecopyapply="writeCopy"
          @beforeeditstart="typed.begin"
          @beforesorting="onSort"
          @aftercolumnresize="onResize"
          @afterfocus="onFocus"
        />
      </div>
      <p class="keys">
        <span class="hints"
          >Type, paste or F2 · pull the corner or Ctrl D to continue a series · Del empties · Ctrl Z
          takes back · grey columns follow from the plan</span
        ><NButton
          v-if="outdated > 0"
          size="small"
          title="Rows keep their places while they are edited"
          @click="askAgain"
        >
          {{ numbered(outdated, 'row stands', 'rows stand') }} otherwise now · filter and sort
          again</NButton
        ><span class="figures"
          >{{ shown.length }} of {{ rows.length }} rows<template v-if="unplaced > 0">
            · {{ unplaced }} without a channel, at the end</template
          ></span
        >
      </p>
    </div>
    <SideSheet v-if="beside" @close="beside = null">
      <PatternSheet v-if="beside === 'pattern'" :rows="chosen" @done="beside = null" />
      <ReplaceSheet v-else-if="beside === 'replace'" :rows="chosen" @done="beside = null" />
      <RulesSheet v-else-if="beside === 'rules'" />
      <SignalTray v-else-if="beside === 'tray'" :near="near" />
      <RowFindings v-else-if="beside === 'findings' && wired" :row="wired" />
      <WiringSheet v-else-if="wired" :key="wired.key" :row="wired" />
      <p v-else class="sheet-body quiet">
        Select a row to see its {{ beside === 'findings' ? 'findings' : 'circuit' }}.
      </p>
    </SideSheet>
  </div>
</template>

<style scoped>
.ledger {
  display: flex;
  height: 100%;
}
.main {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.figures {
  margin-left: auto;
  font: 12.5px/1 var(--narrow);
  color: var(--ink-2);
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
.grid {
  flex: 1;
  min-height: 0;
  border-top: 1px solid var(--line);
}
.keys {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  font: 12px/1 var(--narrow);
  color: var(--ink-3);
  padding: 7px 14px;
  border-top: 1px solid var(--line);
}
.hints {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.grid :deep(.rgCell.mono) {
  font-family: var(--mono);
  font-size: 12px;
}
.grid :deep(.rgCell.lost) {
  font-style: italic;
}
.grid :deep(.rgCell.gone) {
  background: var(--accent-soft);
}
.grid :deep(.rgCell.bad) {
  box-shadow: inset 3px 0 0 var(--accent);
}
.grid :deep(.fault) {
  text-decoration: underline wavy var(--accent);
  text-underline-offset: 3px;
}
</style>
