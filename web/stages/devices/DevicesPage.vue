<script setup lang="ts">
import {
  bindCommand,
  nodeRows,
  numbered,
  radioLoad,
  reconcile,
  swapCommand,
  unbindCommand,
  type DeviceIdentity,
  type DeviceState,
  type DerivedModule,
  type ReconcileRow,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import ChooseFrom from '../../parts/ChooseFrom.vue'
import NumberField from '../../parts/NumberField.vue'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import TypedInput from '../../parts/TypedInput.vue'
import { useFocus } from '../../stores/focus'
import { useGuard } from '../../stores/guard'
import { useProject } from '../../stores/project'
import NodeTable from './NodeTable.vue'
import PasteReported from './PasteReported.vue'

/** Devices below a gateway: who each is, where it stands in the gateway's data, and what the gateway
 *  reports against what is planned. */
const project = useProject()
const guard = useGuard()
const { focus, setFocus, goTo } = useFocus()
const view = computed(() => project.derived?.stations.get(focus.value?.id ?? '') ?? null)
const rows = computed(() => (view.value ? reconcile(view.value) : []))
/** Of nodes with a device only the direction that it has. */
const nodes = computed(() =>
  (view.value ? nodeRows(view.value) : []).filter(
    ({ module, channels, direction }) => channels.length > 0 || (!module && direction === 'in'),
  ),
)
const tab = ref<'devices' | 'data'>('devices')
const isPasting = ref(false)
const why = computed(() => guard.whyNotPlan())

const stateWords: Readonly<Record<DeviceState, string>> = {
  planned: 'not bound',
  bound: 'bound',
  elsewhere: 'bound to another',
  missing: 'missing',
  surplus: 'not planned',
}
const columns: readonly RowColumn<ReconcileRow>[] = [
  {
    key: 'node',
    title: 'Node',
    width: 64,
    isNumber: true,
    text: ({ module }) => (module ? String(module.slot) : ''),
    sorts: ({ module }) => module?.slot ?? 1e6,
  },
  {
    key: 'type',
    title: 'Device',
    text: ({ module }) => module?.described?.name ?? '',
    choices: true,
  },
  { key: 'tag', title: 'Tag', width: 112, isFixed: true },
  { key: 'address', title: 'Address', width: 212, isFixed: true },
  { key: 'serial', title: 'Serial number', width: 128, isFixed: true },
  { key: 'sends', title: 'Sends every', width: 98, isFixed: true },
  {
    key: 'state',
    title: 'State',
    width: 122,
    text: ({ state }) => stateWords[state],
    choices: true,
  },
  { key: 'reported', title: 'Reported', width: 190, text: wordReported },
  { key: 'do', title: '', width: 176, isFixed: true },
]
function wordReported({ reported, why: odd }: ReconcileRow): string {
  if (!reported) return odd
  const { slot, tag, address, serial } = reported
  return [slot === null ? '' : `node ${slot}`, tag, address || serial].filter(Boolean).join(' · ')
}
const keyOf = ({ module, reported }: ReconcileRow) =>
  module?.id ?? `reported ${reported!.address} ${reported!.serial}`
function set(module: DerivedModule, part: Partial<DeviceIdentity>): void {
  const identity = { tag: '', address: '', serial: '', ...module.row!.identity, ...part }
  project.run({ type: 'setDeviceIdentities', edits: [{ moduleId: module.id, identity }] })
}
const setPace = ({ id }: DerivedModule, seconds: number | null) =>
  project.run({ type: 'setSendTimes', edits: [{ moduleId: id, seconds }] })
/** How far the radio is used, in words. */
const radio = computed(() => {
  const load = view.value && radioLoad(view.value)
  return load ? ` · radio used to ${Math.round(load.share * 100)} %` : ''
})
/** Places that a device can change with. */
const others = computed(() =>
  rows.value.flatMap(({ module, planned }) =>
    module
      ? [
          {
            value: module.id,
            label: `node ${module.slot}${planned?.tag ? ` · ${planned.tag}` : ''}`,
          },
        ]
      : [],
  ),
)
function swap(module: DerivedModule, id: string): void {
  const other = rows.value.find((row) => row.module?.id === id)?.module
  if (other) project.run(swapCommand(module, other))
}
/** To another node: its signals go along. */
const freeNodes = computed(() => {
  const taken = new Set(view.value?.modules.map(({ slot }) => slot))
  return (view.value?.device?.slots ?? [])
    .filter(({ slot }) => !taken.has(slot))
    .map(({ slot }) => ({ value: `move ${slot}`, label: `move to node ${slot}` }))
})
function change(module: DerivedModule, what: string): void {
  if (what.startsWith('move '))
    project.run({
      type: 'moveModule',
      id: module.id,
      stationId: view.value!.id,
      slot: Number(what.slice(5)),
    })
  else swap(module, what)
}
const bindTo = (row: ReconcileRow, id: string) => {
  const module = rows.value.find((one) => one.module?.id === id)?.module
  if (module && row.reported) project.run(bindCommand(module, row.reported))
}
const choices = computed(() =>
  [...(project.derived?.stations.values() ?? [])]
    .filter(({ device }) => device && device.slots.length > 0 && 'sheet' in device)
    .map(({ id, station, device, modules }) => ({
      id,
      name: device!.name,
      info: `${numbered(modules.length - 1, 'device')}`,
      station: station.name,
      place: station.comment,
    })),
)
</script>

<template>
  <article v-if="view" class="page">
    <PageHead
      :above="`${view.station.name} · ${view.device?.name ?? ''}`"
      title="Devices below"
      :quiet="
        (view.station.reported
          ? `${numbered(view.station.reported.length, 'device')} reported`
          : 'nothing reported yet') + radio
      "
    >
      <NButton
        v-if="nodes.length > 0"
        size="small"
        :type="tab === 'data' ? 'info' : 'default'"
        :aria-pressed="tab === 'data'"
        @click="tab = tab === 'data' ? 'devices' : 'data'"
      >
        Table of data
      </NButton>
      <NButton size="small" :disabled="why !== null" @click="isPasting = true">
        Paste what it reports …
      </NButton>
      <NButton size="small" @click="goTo('board', { kind: 'station', id: view.id })">
        Show on the Board
      </NButton>
    </PageHead>
    <NodeTable v-if="tab === 'data' && nodes.length > 0" :nodes="nodes" :disabled="why !== null" />
    <div v-else class="table">
      <RowTable
        label="Devices below the gateway"
        :rows="rows"
        :columns="columns"
        :key-of="keyOf"
        height="fill"
        empty="No device yet: insert modules on the Board, one a node."
        :class-of="({ state }) => `state-${state}`"
      >
        <template
          v-for="part in ['tag', 'address', 'serial'] as const"
          #[part]="{ row }"
          :key="part"
        >
          <TypedInput
            v-if="row.module"
            :label="`${part} of node ${row.module.slot}`"
            size="small"
            :mono="part !== 'tag'"
            :disabled="why !== null"
            :value="row.planned?.[part] ?? ''"
            @change="set(row.module, { [part]: $event.trim() })"
          />
        </template>
        <template #sends="{ row }">
          <NumberField
            v-if="row.module"
            :label="`Sends every, node ${row.module.slot}`"
            size="small"
            optional
            unit="s"
            :min="0.1"
            :max="86400"
            :disabled="why !== null"
            :value="row.module.row!.sendsEveryS"
            @update:value="setPace(row.module, $event)"
          />
        </template>
        <template #state="{ row }">
          <strong :class="row.state">{{ stateWords[row.state] }}</strong>
        </template>
        <template #reported="{ row }">
          <span>{{ wordReported(row) }}</span>
          <small v-if="row.reported && row.why" class="odd">{{ row.why }}</small>
        </template>
        <template #do="{ row }">
          <span class="doing">
            <NButton
              v-if="row.module && row.reported && row.state === 'planned'"
              size="tiny"
              type="primary"
              :disabled="why !== null"
              @click="project.run(bindCommand(row.module, row.reported))"
            >
              Bind
            </NButton>
            <NButton
              v-if="row.module && row.planned && row.planned.address + row.planned.serial !== ''"
              size="tiny"
              :disabled="why !== null"
              :aria-label="`Unbind node ${row.module.slot}`"
              @click="project.run(unbindCommand(row.module))"
            >
              Unbind
            </NButton>
            <PickField
              v-if="row.module"
              class="with"
              size="tiny"
              :label="`Swap or move node ${row.module.slot}`"
              placeholder="Swap …"
              :value="null"
              :disabled="why !== null"
              :options="[
                ...others
                  .filter(({ value }) => value !== row.module!.id)
                  .map((one) => ({ ...one, label: `swap with ${one.label}` })),
                ...freeNodes,
              ]"
              @update:value="change(row.module, $event)"
            />
            <PickField
              v-else
              class="with"
              size="tiny"
              label="Bind to a planned device"
              placeholder="Bind to …"
              :value="null"
              :disabled="why !== null"
              :options="others"
              @update:value="bindTo(row, $event)"
            />
          </span>
        </template>
      </RowTable>
    </div>
    <PasteReported v-if="isPasting" :station-id="view.id" @close="isPasting = false" />
  </article>
  <article v-else class="page">
    <PageHead above="Devices below gateways" title="Choose a gateway" />
    <ChooseFrom
      one="Gateway"
      :choices="choices"
      empty="No gateway or rack with slots is in the plan."
      @choose="setFocus({ kind: 'station', id: $event })"
    />
  </article>
</template>

<style scoped>
.page {
  height: 100%;
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
}
.table {
  padding: 8px 18px 12px;
  min-height: 0;
}
.doing {
  display: flex;
  gap: 6px;
}
.with {
  width: 104px;
}
.odd {
  display: block;
  color: var(--warn);
}
.elsewhere,
.missing {
  color: var(--warn);
}
.planned,
.surplus {
  color: var(--ink-2);
}
</style>
