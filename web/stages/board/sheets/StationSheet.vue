<script setup lang="ts">
import { computed } from 'vue'
import { fieldSupplySteps, kindOf, laneSlots, notationOf, supplySteps, widthOf } from '@kataxis/core'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import FindingList from '../../../parts/FindingList.vue'
import { useProject } from '../../../stores/project'
import ChannelSections from './ChannelSections.vue'
import SubslotSection from './SubslotSection.vue'

const props = defineProps<{ id: string }>()
const project = useProject()
const emit = defineEmits<{ duplicate: []; replace: [] }>()
const view = computed(() => project.derived!.stations.get(props.id)!)
const kind = computed(() => kindOf(project.plan!.networks[view.value.station.networkId]!))
const supply = computed(() => supplySteps(view.value.modules).at(-1) ?? null)
const fieldSupply = computed(() => fieldSupplySteps(view.value.modules).at(-1) ?? null)
const width = computed(() => widthOf(view.value))
const rail = computed(() => view.value.station.railMm || project.plan!.project.railMm)
function setRail(text: string, isProject: boolean) {
  const railMm = Number(text.trim() || 0)
  if (!Number.isInteger(railMm) || railMm < 0 || railMm > 100_000) return project.tell(`"${text}" is no rail length; a whole number of millimetres from 0 to 100000 is needed.`)
  project.run(isProject ? { type: 'setProject', set: { railMm } } : { type: 'updateStation', id: props.id, set: { railMm } })
}
const isWrong = (codes: readonly string[]) => (project.findings?.all ?? []).some(({ at, code }) => at.id === props.id && codes.includes(code))
const set = (values: { name?: string; ip?: string; comment?: string; deviceNumber?: number }) => project.run({ type: 'updateStation', id: props.id, set: values })
function setConnection(connection: string) {
  const { device, file } = view.value.station
  project.run({ type: 'replaceHead', id: props.id, file, device, connection })
}
function setNumber(text: string) {
  const number = Number(text)
  const { word, first, last } = kind.value.number
  if (text.trim() === '' || !Number.isInteger(number) || number < first || number > last) return project.tell(`"${text}" is no ${word.toLowerCase()}; a whole number from ${first} to ${last} is needed.`)
  set({ deviceNumber: number })
}
const bars = computed(() => {
  const { device, inputBytes, outputBytes, modules } = view.value
  if (!device) return []
  const { limits } = device
  const bars: { label: string; used: number; limit: number | null; unit?: string }[] = [
    ...(device.slots.length > 0 ? [{ label: 'Slots', used: modules.length - 1, limit: device.slots.length, unit: '' }] : []),
    ...(supply.value ? [{ label: 'Backplane current', used: supply.value.drawnMa, limit: supply.value.suppliedMa, unit: 'mA' }] : []),
    ...(fieldSupply.value ? [{ label: 'Field supply of the last group', used: fieldSupply.value.drawnMa, limit: fieldSupply.value.suppliedMa, unit: 'mA' }] : []),
    ...(width.value > 0 && rail.value > 0 ? [{ label: 'Width on the rail', used: width.value, limit: rail.value, unit: 'mm' }] : []),
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
      <p v-if="view.device" class="quiet">{{ view.device.name }} · <span class="mono">{{ view.device.orderNumber }} {{ view.device.firmware }}</span> · {{ view.file?.vendor.name }}</p>
    </header>
    <FindingList :ids="[id]" />
    <section>
      <EditField label="Station name" :value="view.station.name" mono :wrong="isWrong(['station.name', 'station.nameDuplicate'])" @change="set({ name: $event.trim() })" />
      <div class="pair">
        <EditField v-if="kind.hasIp" label="IP address" :value="view.station.ip" mono :wrong="isWrong(['station.ip', 'station.ipDuplicate'])" @change="set({ ip: $event.trim() })" />
        <EditField :label="kind.number.word" :wrong="isWrong(['station.number', 'station.deviceNumberDuplicate'])" :value="String(view.station.deviceNumber)" mono @change="setNumber" />
      </div>
      <label v-if="(view.device?.connections.length ?? 0) > 0"><span class="label">Connection</span>
        <select class="field" :value="view.station.connection" @change="setConnection(($event.target as HTMLSelectElement).value)">
          <option v-for="connection in view.device!.connections" :key="connection.key" :value="connection.key">{{ connection.name }} · {{ connection.inputBytes }} bytes in, {{ connection.outputBytes }} out</option>
        </select>
      </label>
      <EditField label="Comment" :value="view.station.comment" @change="set({ comment: $event })" />
    </section>
    <SubslotSection :view="view" :module="view.modules[0]!" />
    <ChannelSections :notation="notationOf(project.plan!, view.station)" v-if="view.modules[0]!.layout?.channels.length" :module="view.modules[0]!" />
    <section>
      <h2>Against the description’s limits</h2>
      <FillBar v-for="bar in bars" :key="bar.label" v-bind="bar" :unit="bar.unit ?? 'bytes'" />
      <p v-if="kind.hasWireNames" class="quiet">{{ view.inputFrameBytes }} bytes to the controller and {{ view.outputFrameBytes }} from it in one frame, status included. {{ laneSlots(view).free }} slots free.</p>
      <p v-else class="quiet">{{ view.inputBytes }} bytes to the controller and {{ view.outputBytes }} from it.</p>
    </section>
    <section v-if="width > 0">
      <h2>On its rail</h2>
      <div class="pair">
        <EditField label="Rail of this station, mm" :wrong="isWrong(['station.width'])" :value="view.station.railMm === 0 ? '' : String(view.station.railMm)" mono @change="setRail($event, false)" />
        <EditField label="Rails of the project, mm" :value="project.plan!.project.railMm === 0 ? '' : String(project.plan!.project.railMm)" mono @change="setRail($event, true)" />
      </div>
      <p class="quiet">The station is {{ width }} mm wide; {{ rail > 0 ? `${rail - width} mm are left.` : 'without a rail length nothing is checked.' }}</p>
    </section>
    <section v-if="view.device">
      <h2>From the description</h2>
      <p>{{ view.device.info }}</p>
      <p v-if="view.device.protocol === 'profinet'" class="quiet">
        Vendor <span class="mono">0x{{ view.device.identity.profinet.vendorId.toString(16).padStart(4, '0') }}</span>, device <span class="mono">0x{{ view.device.identity.profinet.deviceId.toString(16).padStart(4, '0') }}</span>,
        shortest interval {{ (view.device.profinet.minDeviceIntervalUs ?? 0) / 1000 }} ms, conformance class {{ view.device.profinet.conformanceClass ?? 'not stated' }}
      </p>
    </section>
    <div class="row">
      <button class="button small" @click="emit('duplicate')">Copies …</button>
      <button class="button small" @click="emit('replace')">Another head …</button>
      <button class="button small" @click="project.run({ type: 'removeStation', id })">Remove the station</button>
    </div>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
}
</style>
