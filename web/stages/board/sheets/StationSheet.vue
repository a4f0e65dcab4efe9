<script setup lang="ts">
import {
  fieldSupplySteps,
  kindOf,
  laneSlots,
  proposedModules,
  supplySteps,
  widthOf,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import FindingList from '../../../parts/FindingList.vue'
import PickField from '../../../parts/PickField.vue'
import { useNotation } from '../../../parts/useNotation'
import { useFocus } from '../../../stores/focus'
import { useProject } from '../../../stores/project'
import ChannelSections from './ChannelSections.vue'
import ConnectionSection from './ConnectionSection.vue'
import IdentitySection from './IdentitySection.vue'
import ParameterSection from './ParameterSection.vue'
import RequestSection from './RequestSection.vue'
import SafetyStationSection from './SafetyStationSection.vue'
import SubslotSection from './SubslotSection.vue'

const props = defineProps<{ id: string }>()
const project = useProject()
const notationIn = useNotation()
const emit = defineEmits<{ duplicate: []; replace: [] }>()
const view = computed(() => project.derived!.stations.get(props.id)!)
const kind = computed(() => kindOf(project.plan!.networks[view.value.station.networkId]!))
const supply = computed(() => supplySteps(view.value.modules).at(-1) ?? null)
const fieldSupply = computed(() => fieldSupplySteps(view.value.modules).at(-1) ?? null)
const width = computed(() => widthOf(view.value))
const proposed = computed(() => proposedModules(view.value))
const rail = computed(() => view.value.station.railMm || project.plan!.project.railMm)
function setRail(text: string, isProject: boolean) {
  const railMm = Number(text.trim() || 0)
  if (!Number.isInteger(railMm) || railMm < 0 || railMm > 100_000)
    return project.tell(
      `"${text}" is no rail length; a whole number of millimetres from 0 to 100000 is needed.`,
    )
  project.run(
    isProject
      ? { type: 'setProject', set: { railMm } }
      : { type: 'updateStation', id: props.id, set: { railMm } },
  )
}
const isWrong = (codes: readonly string[]) =>
  (project.findings?.all ?? []).some(({ at, code }) => at.id === props.id && codes.includes(code))
const set = (values: { comment: string }) =>
  project.run({ type: 'updateStation', id: props.id, set: values })
const setPacking = (value: string) =>
  project.run({
    type: 'updateStation',
    id: props.id,
    set: { packsBits: value === '' ? null : value === 'true' },
  })
/** Heads of device sheets with slots: below them stand devices of their own. */
const isGateway = computed(() => {
  const head = view.value.device
  return head !== null && 'sheet' in head && head.slots.length > 0
})
const { goTo } = useFocus()
/** Where its data begin. */
function showInMemory(): void {
  const { module } = view.value.blocks[0]!
  void goTo('memory', { kind: module.row ? 'module' : 'station', id: module.id })
}
const bars = computed(() => {
  const { device, inputBytes, outputBytes, modules } = view.value
  if (!device) return []
  const { limits } = device
  const bars: { label: string; used: number; limit: number | null; unit?: string }[] = [
    ...(device.slots.length > 0
      ? [{ label: 'Slots', used: modules.length - 1, limit: device.slots.length, unit: '' }]
      : []),
    ...(supply.value
      ? [
          {
            label: 'Backplane current',
            used: supply.value.drawnMa,
            limit: supply.value.suppliedMa,
            unit: 'mA',
          },
        ]
      : []),
    ...(fieldSupply.value
      ? [
          {
            label: 'Field supply of the last group',
            used: fieldSupply.value.drawnMa,
            limit: fieldSupply.value.suppliedMa,
            unit: 'mA',
          },
        ]
      : []),
    ...(width.value > 0 && rail.value > 0
      ? [{ label: 'Width on the rail', used: width.value, limit: rail.value, unit: 'mm' }]
      : []),
    { label: 'Input data', used: inputBytes, limit: limits.inputBytes },
    { label: 'Output data', used: outputBytes, limit: limits.outputBytes },
    { label: 'Data both ways', used: inputBytes + outputBytes, limit: limits.dataBytes },
  ]
  return bars
})
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Station</h3>
      <h1>{{ view.station.name || '(no name)' }}</h1>
      <p v-if="view.device" class="quiet">
        {{ view.device.name }} ·
        <span class="mono">{{ view.device.orderNumber }} {{ view.device.firmware }}</span> ·
        {{ view.file?.vendor.name }}
      </p>
    </header>
    <FindingList :ids="[id]" />
    <IdentitySection :view="view" />
    <p v-if="proposed.length > 0 && view.modules.length === 1">
      <NButton
        size="small"
        @click="
          project.run({
            type: 'batch',
            label: `Insert the ${proposed.length} modules that its description proposes`,
            commands: [...proposed],
          })
        "
        >Insert the {{ proposed.length }} modules that its description proposes</NButton
      >
    </p>
    <ConnectionSection v-if="(view.device?.connections.length ?? 0) > 0" :view="view" />
    <section>
      <PickField
        label="Small modules side by side in one byte"
        shown
        :value="view.station.packsBits === null ? '' : String(view.station.packsBits)"
        :options="[
          {
            value: '',
            label: `as the project says (${project.plan!.project.packsBits ? 'yes' : 'no'})`,
          },
          { value: 'true', label: 'yes' },
          { value: 'false', label: 'no' },
        ]"
        @update:value="setPacking($event)"
      />
      <EditField label="Comment" :value="view.station.comment" @change="set({ comment: $event })" />
    </section>
    <NButton v-if="isGateway" size="small" @click="goTo('devices', { kind: 'station', id })">
      Devices below …
    </NButton>
    <SubslotSection :view="view" :module="view.modules[0]!" />
    <ChannelSections
      v-if="view.modules[0]!.layout?.channels.length"
      :view="view"
      :notation="notationIn(view.station)"
      :module="view.modules[0]!"
    />
    <SafetyStationSection :view="view" />
    <ParameterSection :view="view" :module="view.modules[0]!" />
    <RequestSection :view="view" />
    <section>
      <h2>Against the description’s limits</h2>
      <FillBar v-for="bar in bars" :key="bar.label" v-bind="bar" :unit="bar.unit ?? 'bytes'" />
      <p v-if="kind.hasWireNames" class="quiet">
        {{ view.inputFrameBytes }} bytes to the controller and {{ view.outputFrameBytes }} from it
        in one frame, status included. {{ laneSlots(view).free }} slots free.
      </p>
      <p v-else class="quiet">
        {{ view.inputBytes }} bytes to the controller and {{ view.outputBytes }} from it.
      </p>
    </section>
    <section v-if="width > 0">
      <h2>On its rail</h2>
      <div class="pair">
        <EditField
          label="Rail of this station, mm"
          :wrong="isWrong(['station.width'])"
          :value="view.station.railMm === 0 ? '' : String(view.station.railMm)"
          mono
          @change="setRail($event, false)"
        />
        <EditField
          label="Rails of the project, mm"
          :value="project.plan!.project.railMm === 0 ? '' : String(project.plan!.project.railMm)"
          mono
          @change="setRail($event, true)"
        />
      </div>
      <p class="quiet">
        The station is {{ width }} mm wide;
        {{
          rail > 0 ? `${rail - width} mm are left.` : 'without a rail length nothing is checked.'
        }}
      </p>
    </section>
    <section v-if="view.device">
      <h2>From the description</h2>
      <p>{{ view.device.info }}</p>
      <p v-if="'profinet' in view.device" class="quiet">
        Vendor
        <span class="mono"
          >0x{{ view.device.identity.profinet.vendorId.toString(16).padStart(4, '0') }}</span
        >, device
        <span class="mono"
          >0x{{ view.device.identity.profinet.deviceId.toString(16).padStart(4, '0') }}</span
        >, shortest interval {{ (view.device.profinet.minDeviceIntervalUs ?? 0) / 1000 }} ms,
        conformance class {{ view.device.profinet.conformanceClass ?? 'not stated' }}
      </p>
    </section>
    <div class="row">
      <NButton v-if="view.blocks.length > 0" size="small" @click="showInMemory">
        Show in the memory
      </NButton>
      <NButton size="small" @click="emit('duplicate')">Duplicate …</NButton>
      <NButton size="small" @click="emit('replace')">Replace the head …</NButton>
      <NButton size="small" @click="project.run({ type: 'removeStation', id })">
        Remove the station
      </NButton>
    </div>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
