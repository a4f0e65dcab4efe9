<script setup lang="ts">
import {
  numbered,
  plural,
  portModeWords,
  setPortCommand,
  sizeOfDevice,
  submoduleFor,
  switchOffUnused,
  toHex,
  wordOffset,
  type PortMode,
  type PortUse,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../parts/DialogBox.vue'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import TextField from '../../parts/TextField.vue'
import { useFocus } from '../../stores/focus'
import { useGuard } from '../../stores/guard'
import { useProject } from '../../stores/project'
import { useShelf } from '../../stores/shelf'
import DeviceBelow from '../board/dialogs/DeviceBelow.vue'
import type { Head } from '../board/dialogs/HeadPicker.vue'
import { portRows, type PortRow } from './port-rows'

/** All ports of the plan, or of one module: what each is used for, what stands below, and which
 *  octets say so. */
const project = useProject()
const shelf = useShelf()
const guard = useGuard()
const { focus, setFocus, goTo } = useFocus()
const text = ref('')
const all = computed(() => (project.derived ? portRows(project.derived) : []))
const only = computed(() => all.value.find(({ module }) => module.id === focus.value?.id) ?? null)
const rows = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return all.value.filter(
    (row) =>
      (!only.value || row.module.id === focus.value?.id) &&
      words.every((word) =>
        `${row.station} ${row.place} ${row.type} ${row.device} ${row.name}`
          .toLowerCase()
          .includes(word),
      ),
  )
})
const columns: readonly RowColumn<PortRow>[] = [
  { key: 'station', title: 'Station', width: 130, choices: true },
  { key: 'place', title: 'Place', width: 74 },
  { key: 'type', title: 'Module', width: 140, choices: true },
  {
    key: 'number',
    title: 'Port',
    width: 62,
    isMono: true,
    isNumber: true,
    sorts: ({ port }) => port.subslot,
  },
  {
    key: 'mode',
    title: 'Use',
    width: 190,
    text: ({ mode }) => (mode ? portModeWords[mode] : ''),
    choices: true,
  },
  { key: 'device', title: 'Device below', choices: true },
  { key: 'size', title: 'Room', width: 104 },
  { key: 'within', title: 'At octet', width: 118, isMono: true },
  { key: 'sent', title: 'As sent', width: 150, isMono: true },
  { key: 'signals', title: 'Tags', width: 66, isNumber: true, sorts: ({ signals }) => signals },
]
const off = computed(() => {
  const modules = new Map(rows.value.map((row) => [row.module.id, row]))
  return [...modules.values()].flatMap(({ view, module }) =>
    switchOffUnused(
      project.catalog,
      view,
      module,
      rows.value.filter((row) => row.module.id === module.id).map(({ port }) => port),
    ),
  )
})
const switchOff = () =>
  project.run({
    type: 'batch',
    label: `Switch ${off.value.length} unused ports off`,
    commands: off.value,
  })
const setMode = ({ uses }: PortRow, mode: PortMode) => {
  const use = uses.find((one) => one.mode === mode)
  if (use) project.run(use.command)
}
const picking = ref<PortRow | null>(null)
/** Below a port that is too narrow the smallest that has room is plugged with it. */
async function putBelow(
  { view, module, port }: PortRow,
  { sha256, key }: Pick<Head, 'sha256' | 'key'>,
) {
  picking.value = null
  await shelf.need([sha256])
  const device = shelf.catalogs.get(sha256)?.devices.find((one) => one.key === key)
  if (!device || !module.described) return
  const needs = sizeOfDevice(device)
  const hasRoom =
    port.size.inputBytes >= needs.inputBytes && port.size.outputBytes >= needs.outputBytes
  const wider =
    (port.isPort && hasRoom) || port.isFixed
      ? null
      : submoduleFor(view.file, module.described, port.subslot, needs)
  project.run(
    setPortCommand(module.id, port, {
      submodule: wider?.key ?? port.submodule,
      below: { file: sha256, device: key },
    }),
  )
}
const takeOff = ({ module, port }: PortRow) =>
  project.run(setPortCommand(module.id, port, { submodule: port.submodule, below: null }))
/** The mode, and what the description calls it where that is something else. */
const wordUse = ({ mode, words }: PortUse) =>
  words.toLowerCase() === portModeWords[mode] ? words : `${portModeWords[mode]} · ${words}`
const whyNot = ({ view, module }: PortRow) => guard.whyNotModule(view, module)
const placesOf = ({ port: { within } }: PortRow) =>
  within
    ? [
        within.in === null ? '' : `in ${wordOffset(within.in).replace('.0', '')}`,
        within.out === null ? '' : `out ${wordOffset(within.out).replace('.0', '')}`,
      ]
        .filter(Boolean)
        .join(', ')
    : 'own subslot'
</script>

<template>
  <article class="page">
    <PageHead
      :above="only ? `${only.station} · ${only.place}` : 'Ports'"
      :title="only ? only.type : 'All ports of the plan'"
      :quiet="numbered(rows.length, 'port')"
    >
      <TextField
        v-model:value="text"
        label="Search"
        type="search"
        class="search"
        placeholder="Station, device, use …"
      />
      <NButton v-if="only" size="small" @click="setFocus(null)">All ports of the plan</NButton>
      <NButton
        v-if="only"
        size="small"
        @click="goTo('board', { kind: only.module.row ? 'module' : 'station', id: only.module.id })"
      >
        Show on the Board
      </NButton>
      <NButton
        size="small"
        :disabled="off.length === 0 || guard.whyNotPlan() !== null"
        :title="guard.whyNotPlan() ?? (off.length === 0 ? 'No unused port is on.' : '')"
        @click="switchOff"
      >
        Switch {{ off.length }} unused {{ plural(off.length, 'port') }} off
      </NButton>
    </PageHead>
    <div class="table">
      <RowTable
        label="Ports"
        :rows="rows"
        :columns="columns"
        :key-of="({ key }) => key"
        height="fill"
        :empty="
          all.length === 0
            ? 'No port in the plan: descriptions, device sheets and data layouts say where ports are.'
            : 'No port has these words.'
        "
      >
        <template #mode="{ row }">
          <PickField
            v-if="row.uses.length > 0"
            :label="`Use of port ${row.port.subslot} of ${row.station} ${row.place}`"
            size="small"
            :disabled="whyNot(row) !== null"
            :value="row.mode"
            :options="row.uses.map((use) => ({ value: use.mode, label: wordUse(use) }))"
            @update:value="setMode(row, $event)"
          />
          <span v-else class="quiet">{{ row.mode ? portModeWords[row.mode] : 'no choice' }}</span>
        </template>
        <template #device="{ row }">
          <span v-if="row.port.below" class="below">
            <strong>{{ row.device }}</strong>
            <NButton
              size="tiny"
              :disabled="whyNot(row) !== null"
              :aria-label="`Remove ${row.device} from port ${row.port.subslot}`"
              @click="takeOff(row)"
            >
              Remove
            </NButton>
          </span>
          <NButton
            v-else-if="row.port.isPort || row.port.allowed.length > 0"
            size="tiny"
            :disabled="whyNot(row) !== null"
            :aria-label="`Put a device below port ${row.port.subslot} of ${row.station} ${row.place}`"
            @click="picking = row"
          >
            Device below …
          </NButton>
        </template>
        <template #size="{ row }">
          <span class="quiet"
            >{{ row.port.size.inputBytes }} in, {{ row.port.size.outputBytes }} out</span
          >
        </template>
        <template #within="{ row }">{{ placesOf(row) }}</template>
        <template #sent="{ row }">
          <span
            v-if="row.parameter"
            :title="`${row.parameter.parameter.name}, record ${row.parameter.record.key}`"
            >{{ row.sent }} = {{ toHex(row.parameter.octets) }}</span
          >
        </template>
      </RowTable>
    </div>
    <DialogBox
      v-if="picking"
      :title="`The device below port ${picking.port.subslot}`"
      @close="picking = null"
    >
      <DeviceBelow @take="putBelow(picking, $event)" @close="picking = null" />
    </DialogBox>
  </article>
</template>

<style scoped>
.page {
  height: 100%;
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
}
.search {
  width: 220px;
}
.table {
  padding: 8px 18px 12px;
  min-height: 0;
}
.below {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}
</style>
