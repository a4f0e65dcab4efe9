<script setup lang="ts">
import { VGrid, type ColumnRegular, type HyperFunc, type VNode } from '@revolist/vue3-datagrid'
import { useEventListener, useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import {
  deviceNotations,
  factColumns,
  notations,
  readCells,
  seriesAt,
  type DeviceNotationName,
  type NotationName,
} from '@kataxis/core'
import { writeCopy } from '../../parts/grid-clipboard'
import { takeEdit, takeRangeEdit } from '../../parts/grid-edits'
import { useGridRoles } from '../../parts/useGridRoles'
import { useTypedCells } from '../../parts/useTypedCells'
import { MultilineEditor } from '../../parts/multiline-editor'
import NotationPicker from '../../parts/NotationPicker.vue'
import SideSheet from '../../parts/SideSheet.vue'
import { useGuard } from '../../stores/guard'
import { useFocus, type Focus } from '../../stores/focus'
import { usePreferences } from '../../stores/preferences'
import { useProject } from '../../stores/project'
import PatternSheet from './PatternSheet.vue'
import RulesSheet from './RulesSheet.vue'
import ReplaceSheet from './ReplaceSheet.vue'
import RowFindings from './RowFindings.vue'
import SignalTray from './SignalTray.vue'
import WiringSheet from './WiringSheet.vue'
import { useShownRows } from './useShownRows'
import {
  blankRow,
  columnSets,
  haystackOf,
  isEditable,
  isFact,
  ledgerRows,
  type ColumnSet,
  type LedgerRow,
} from './rows'
import { useLedgerEdits, type CellEdit } from './useLedgerEdits'

interface GridElement extends HTMLElement {
  getSelectedRange(): Promise<{ x: number; y: number; x1: number; y1: number } | null>
  getVisibleSource(): Promise<LedgerRow[]>
  scrollToRow(row: number): Promise<void>
  scrollToColumnIndex(column: number): Promise<void>
  refresh(): Promise<void>
  getFocused(): Promise<{
    cell: { x: number; y: number }
    column?: { prop: string | number }
  } | null>
  setCellEdit(row: number, prop: string | number): Promise<void>
  setCellsFocus(from: { x: number; y: number }, to: { x: number; y: number }): Promise<void>
}

const project = useProject()
const preferences = usePreferences()
const { focus, goTo, setFocus } = useFocus()
const edit = useLedgerEdits()
const holder = ref<HTMLElement>()
const text = ref('')
const onlyFree = ref(false)
/** What stands beside the grid. */
const beside = ref<'pattern' | 'replace' | 'rules' | 'tray' | 'wiring' | 'findings' | null>(null)
const selected = ref<readonly string[]>([])
/** The tray of waiting signals, with the place that somebody stood at. */
const near = ref<{ id: string; words: string } | null>(null)

/** What a second column of addresses may say. */
const seconds = { ...notations, ...deviceNotations }
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

/** The gravest finding about each signal. */
const troubles = computed(() => {
  const worst = new Map<string, string>()
  for (const { at, severity, message } of project.findings?.all ?? [])
    if (at.kind === 'signal' && severity !== 'note' && !worst.has(at.id)) worst.set(at.id, message)
  return worst
})
watch(troubles, () => void grid()?.refresh())
const troubleOf = ({ tag, fault, signalId }: LedgerRow) =>
  fault ? `${tag}: ${fault}` : troubles.value.get(signalId ?? '')

const guard = useGuard()
/** Why a cell may not be changed: by the role, and for tags on fail-safe channels. */
const whyLocked = ({ listed }: LedgerRow, prop: string | number) =>
  guard.whyNotPlan() ??
  (listed && prop === 'tag' && listed.channel.safety ? guard.whyNotSafety() : null)
const template = (
  h: HyperFunc<VNode>,
  { model, prop }: { model: LedgerRow; prop: string | number },
) => {
  const words = String(model[prop as keyof LedgerRow] ?? '')
  return h(
    'span',
    {
      class: prop === 'tag' && model.fault ? 'fault' : '',
      title:
        (prop === 'tag' && troubleOf(model)) ||
        (prop === 'range' && model.rangeSource && `${words}, ${model.rangeSource}`) ||
        words,
    },
    words.replaceAll('\n', ' ↵ '),
  )
}
const column = (
  prop: keyof LedgerRow,
  name: string,
  size: number,
  more: Partial<ColumnRegular> = {},
): ColumnRegular => ({
  prop,
  name,
  size: ownWidths.value[prop] ?? size,
  sortable: true,
  readonly: !isEditable(prop) ? true : ({ model }) => whyLocked(model as LedgerRow, prop) !== null,
  ...(order.value?.by === prop && {
    order: order.value.isDescending ? ('desc' as const) : ('asc' as const),
  }),
  cellTemplate: template as never,
  cellProperties: ({ model }) => ({
    class: {
      fixed: !isEditable(prop),
      mono: prop === 'address' || prop === 'address2' || prop === 'tag',
      lost: (model as LedgerRow).place === null,
      bad: prop === 'tag' && troubleOf(model as LedgerRow) !== undefined,
    },
  }),
  ...(prop === 'comment' ? { editor: 'multiline' } : {}),
  ...more,
})
const editors = { multiline: MultilineEditor }
const rowSize = 26
const widths = {
  slot: ['Slot', 72],
  channel: ['Channel', 120],
  kind: ['Kind', 72],
  address: ['Image address', 124],
  address2: ['', 120],
  tag: ['Tag', 210],
  comment: ['Comment', 290],
  terminal: ['Terminal', 100],
  range: ['Range', 96],
  type: ['Type', 90],
  module: ['Module', 210],
} as const
const columns = computed<ColumnRegular[]>(() => [
  column('station', 'Station', 120, { pin: 'colPinStart' }),
  ...columnSets[set.value].columns.flatMap((name): ColumnRegular[] => {
    if (isFact(name))
      return [
        column(name, factColumns[name].heading, factColumns[name].width, {
          columnProperties: () => ({ title: factColumns[name].help }),
        }),
      ]
    if (name === 'address2')
      return second.value ? [column(name, seconds[second.value].label, 120)] : []
    const [heading, width] = widths[name as keyof typeof widths]
    return [column(name, heading, width)]
  }),
])

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
/** Columns keep the width that somebody gave them, in this browser. */
const ownWidths = useStorage<Record<string, number>>('kataxis.ledger-widths', {})
function onResize(event: Event) {
  const { detail } = event as CustomEvent<Record<number, { prop?: string | number; size?: number }>>
  for (const { prop, size } of Object.values(detail))
    if (prop !== undefined && size) ownWidths.value = { ...ownWidths.value, [prop]: size }
}
const onRangeEdit = (event: Event) => edit(takeRangeEdit<LedgerRow>(event))

/** The columns of a range; the pinned station does not count. */
const namesIn = ({ x, x1 }: { x: number; x1: number }) =>
  columns.value
    .filter(({ pin }) => !pin)
    .slice(x, x1 + 1)
    .map(({ prop }) => String(prop))

interface Area {
  x: number
  y: number
  x1: number
  y1: number
}
/** Pulling the fill handle goes on with the series that the first cells begin. */
async function onFill(event: Event) {
  event.preventDefault()
  const { oldRange, newRange } = (event as CustomEvent<{ oldRange: Area; newRange: Area }>).detail
  await continueSeries(oldRange, newRange)
}
async function continueSeries(from: Area, to: Area) {
  const visible = (await grid()?.getVisibleSource()) ?? []
  const names = namesIn(from).filter(isEditable)
  const cells: CellEdit[] = []
  for (let y = to.y; y <= to.y1; y++) {
    if (y >= from.y && y <= from.y1) continue
    const row = visible[y]
    for (const name of row ? names : []) {
      const text = seriesAt(
        visible.slice(from.y, from.y1 + 1).map((source) => source[name] ?? ''),
        y - from.y,
      )
      if (text !== null) cells.push({ row: row!, column: name, text })
    }
  }
  edit(cells)
}

/** Ctrl+D: the rows of the selection go on with its first row. */
async function fillDown() {
  const range = await grid()?.getSelectedRange()
  if (range && range.y1 > range.y) await continueSeries({ ...range, y1: range.y }, range)
}

/** Where the selection is, or the cursor alone. */
async function selection(): Promise<Area | null> {
  const range = await grid()?.getSelectedRange()
  if (range) return range
  const { x, y } = (await grid()?.getFocused())?.cell ?? {}
  return x === undefined || y === undefined ? null : { x, y, x1: x, y1: y }
}

/** One cell copied goes over the whole selection, and a block over as many of its size; what finds
 *  no row becomes a signal that waits. */
async function onPaste(event: Event) {
  event.preventDefault()
  const parsed = readCells((event as CustomEvent<{ dataText: string }>).detail.dataText)
  const area = await selection()
  if (!area || parsed.length === 0) return
  const visible = (await grid()?.getVisibleSource()) ?? []
  const names = columns.value.filter(({ pin }) => !pin).map(({ prop }) => String(prop))
  const [height, width] = [parsed.length, Math.max(...parsed.map((cells) => cells.length))]
  const times = (size: number, room: number) => (room % size === 0 ? room : size)
  const [rowCount, columnCount] = [
    times(height, area.y1 - area.y + 1),
    times(width, area.x1 - area.x + 1),
  ]
  const cells: CellEdit[] = []
  let waiting = 0
  for (let y = 0; y < rowCount; y++) {
    const source = parsed[y % height]!
    const columnOf = (x: number) => names[area.x + x]
    const tag = Array.from({ length: columnCount }, (_, x) =>
      columnOf(x) === 'tag' ? source[x % width] : undefined,
    ).find((one) => one?.trim())
    const row = visible[area.y + y] ?? (tag ? blankRow(`pasted-${y}`) : undefined)
    if (!row) continue
    if (!visible[area.y + y]) waiting++
    for (let x = 0; x < columnCount; x++) {
      const text = source[x % width]
      const column = columnOf(x)
      if (text !== undefined && column !== undefined && isEditable(column))
        cells.push({ row, column, text })
    }
  }
  edit(cells)
  const lost = Math.max(0, area.y + rowCount - visible.length) - waiting
  if (waiting > 0)
    project.tell(
      `${waiting} of the ${height} rows found no row here: their signals wait without a channel.`,
    )
  if (lost > 0)
    project.tell(
      `${lost} of the ${height} rows that were pasted found no row here and have no tag to wait under.`,
    )
}

/** Where the cursor stands, as the grid said last. */
let cursor = { x: 0, y: 0 }
function onFocus(event: Event) {
  const { model, rowIndex, colIndex } = (
    event as CustomEvent<{ model?: LedgerRow; rowIndex?: number; colIndex?: number }>
  ).detail
  current.value = model ?? current.value
  cursor = { x: colIndex ?? cursor.x, y: rowIndex ?? cursor.y }
}
const lastColumn = () => columns.value.filter(({ pin }) => !pin).length - 1
const lastRow = () => shown.value.length - 1
const page = () => Math.max(1, Math.floor((holder.value?.clientHeight ?? 300) / rowSize) - 3)
/** Keys that a spreadsheet has and the grid package does not: where the cursor goes. */
const jumps: Readonly<
  Record<string, (at: { x: number; y: number }, isFar: boolean) => { x: number; y: number }>
> = {
  Home: ({ y }, isFar) => ({ x: 0, y: isFar ? 0 : y }),
  End: ({ y }, isFar) => ({ x: lastColumn(), y: isFar ? lastRow() : y }),
  PageDown: ({ x, y }) => ({ x, y: Math.min(lastRow(), y + page()) }),
  PageUp: ({ x, y }) => ({ x, y: Math.max(0, y - page()) }),
}
async function goToCell(at: { x: number; y: number }, to = at) {
  await grid()?.scrollToRow(Math.max(0, at.y - 2))
  await grid()?.scrollToColumnIndex(at.x)
  await grid()?.setCellsFocus(at, to)
}

function leaveGrid(isBack: boolean) {
  const around = [
    ...document.querySelectorAll<HTMLElement>(
      'a[href], button:not([disabled]), input:not([disabled]), select:not([disabled])',
    ),
  ].filter((one) => !holder.value!.contains(one) && one.checkVisibility())
  const isBehind = (one: HTMLElement) =>
    (holder.value!.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0
  const next = isBack ? around.findLast((one) => !isBehind(one)) : around.find(isBehind)
  next?.focus()
}

/** Who comes into the grid by Tab stands on a cell at once. */
function onEnter({ target }: FocusEvent) {
  if (target instanceof Element && target.matches('.vertical-inner')) void goToCell(cursor)
}

/** A click on a row number takes the whole row. */
function onRowNumber({ target }: MouseEvent) {
  const row = target instanceof Element ? target.closest('.rowHeaders [data-rgrow]') : null
  if (row)
    void goToCell(
      { x: 0, y: Number(row.getAttribute('data-rgrow')) },
      { x: lastColumn(), y: Number(row.getAttribute('data-rgrow')) },
    )
}

async function onKey(event: KeyboardEvent) {
  // In the editor of a cell keys mean letters.
  if ((event.target as HTMLElement).closest('input, textarea')) return
  const isFar = event.ctrlKey || event.metaKey
  // At the end of a row Tab leads out of the grid, at its beginning Shift+Tab.
  if (event.key === 'Tab' && (event.shiftKey ? cursor.x <= 0 : cursor.x >= lastColumn())) {
    event.preventDefault()
    event.stopPropagation()
    return leaveGrid(event.shiftKey)
  }
  const jump = jumps[event.key]
  if (jump) {
    event.preventDefault()
    event.stopPropagation()
    return goToCell(jump(cursor, isFar))
  }
  if (event.key.toLowerCase() === 'd' && isFar) {
    event.preventDefault()
    event.stopPropagation()
    return fillDown()
  }
  if (event.key !== 'Delete' && event.key !== 'Backspace') return
  event.preventDefault()
  event.stopPropagation()
  const range = await grid()?.getSelectedRange()
  const visible = await grid()?.getVisibleSource()
  if (!range || !visible) return
  const names = namesIn(range)
  edit(
    visible
      .slice(range.y, range.y1 + 1)
      .flatMap((row) => names.map((name) => ({ row, column: name, text: '' }))),
  )
}

/** The grid package has no key for it: F2 edits what is there, instead of typing over it. */
useEventListener('keydown', async (event) => {
  if (event.key !== 'F2') return
  event.preventDefault()
  const at = await grid()?.getFocused()
  if (at?.column && isEditable(String(at.column.prop)))
    await grid()?.setCellEdit(at.cell.y, at.column.prop)
})

/** The row that the cursor stands in, or stood in last. */
const current = ref<LedgerRow | null>(null)
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
    project.tell(`${row.tag || row.channel} stands on this channel already; take it off first.`)
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
      <div class="tools">
        <h1>Ledger</h1>
        <input
          v-model="text"
          class="field filter"
          type="search"
          aria-label="Filter the rows"
          placeholder="Filter, e.g. AI membrane free"
        />
        <label class="check"><input v-model="onlyFree" type="checkbox" /> only free channels</label>
        <button
          class="button small"
          :aria-pressed="beside === 'tray'"
          @click="beside === 'tray' ? (beside = null) : openTray()"
        >
          {{ unplaced }} waiting
        </button>
        <button class="button small" @click="takeOff">Take off the channel</button>
        <button class="button small" @click="openReplace">Replace …</button>
        <button class="button small" @click="openPattern">Names by pattern …</button>
        <button
          class="button small"
          :aria-pressed="beside === 'rules'"
          @click="beside = beside === 'rules' ? null : 'rules'"
        >
          Rules
        </button>
        <RouterLink class="button small" :to="{ name: 'list' }">From a list …</RouterLink>
        <span class="sets" role="group" aria-label="The row with the cursor"
          ><span class="what">Row</span>
          <button class="button small" @click="show('board')">Board</button>
          <button class="button small" @click="show('memory')">Memory</button>
          <button class="button small" @click="showOnBench">Range bench</button>
          <button
            class="button small"
            :aria-pressed="beside === 'wiring'"
            @click="beside = beside === 'wiring' ? null : 'wiring'"
          >
            Circuit
          </button>
          <button
            class="button small"
            :aria-pressed="beside === 'findings'"
            @click="beside = beside === 'findings' ? null : 'findings'"
          >
            Findings
          </button>
        </span>
        <span class="sets" role="group" aria-label="Columns"
          ><span class="what">Columns</span
          ><button
            v-for="(one, name) in columnSets"
            :key="name"
            class="button small"
            :aria-pressed="set === name"
            @click="set = name"
          >
            {{ one.words }}
          </button></span
        >
        <NotationPicker v-if="set === 'addressing'" />
        <select
          v-if="set === 'addressing'"
          v-model="second"
          class="field second"
          aria-label="A second column of addresses"
        >
          <option value="">no second column</option>
          <option v-for="(one, name) in seconds" :key="name" :value="name">
            and {{ one.name }}
          </option>
        </select>
      </div>
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
        ><button
          v-if="outdated > 0"
          class="button small"
          title="Rows keep their places while they are edited"
          @click="askAgain"
        >
          {{ outdated }} {{ outdated === 1 ? 'row stands' : 'rows stand' }} otherwise now · filter
          and sort again</button
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
      <WiringSheet v-else-if="wired" :row="wired" />
      <p v-else class="sheet-body quiet">Choose a row.</p>
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
  display: grid;
  grid-template: auto minmax(0, 1fr) auto / minmax(0, 1fr);
}
.tools {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 8px 12px;
  padding: 9px 14px;
}
.filter {
  width: 230px;
}
.sets {
  display: flex;
}
.sets .button + .button {
  margin-left: -1px;
}
.sets .button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
.what {
  align-self: center;
  margin-right: 6px;
  font: 12.5px/1 var(--narrow);
  color: var(--ink-2);
}
.second {
  width: 150px;
  padding: 3px 6px;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
  font: 13px/1 var(--sans);
  white-space: nowrap;
}
.figures {
  margin-left: auto;
  font: 12.5px/1 var(--narrow);
  color: var(--ink-2);
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
.grid {
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
.grid :deep(.rgCell.bad) {
  box-shadow: inset 3px 0 0 var(--accent);
}
.grid :deep(.fault) {
  text-decoration: underline wavy var(--accent);
  text-underline-offset: 3px;
}
</style>
