<script setup lang="ts">
import { computed } from 'vue'
import { laneSlots } from '@kataxis/core'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import FindingList from '../../../parts/FindingList.vue'
import { useProject } from '../../../stores/project'

const props = defineProps<{ id: string }>()
const project = useProject()
const view = computed(() => project.derived!.stations.get(props.id)!)
const isWrong = (codes: readonly string[]) => (project.findings?.all ?? []).some(({ at, code }) => at.id === props.id && codes.includes(code))
const set = (values: { name?: string; ip?: string; comment?: string; deviceNumber?: number }) => project.run({ type: 'updateStation', id: props.id, set: values })
function setNumber(text: string) {
  const number = Number(text)
  if (!Number.isInteger(number) || number < 1 || number > 4096) return project.tell(`"${text}" is no device number; a whole number from 1 to 4096 is needed.`)
  set({ deviceNumber: number })
}
const bars = computed(() => {
  const { device, inputBytes, outputBytes, modules } = view.value
  if (!device) return []
  const { limits } = device
  return [
    { label: 'Slots', used: modules.length - 1, limit: device.slots.length },
    { label: 'Input data', used: inputBytes, limit: limits.inputBytes },
    { label: 'Output data', used: outputBytes, limit: limits.outputBytes },
    { label: 'Data both ways', used: inputBytes + outputBytes, limit: limits.dataBytes },
  ]
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
        <EditField label="IP address" :value="view.station.ip" mono :wrong="isWrong(['station.ip', 'station.ipDuplicate'])" @change="set({ ip: $event.trim() })" />
        <EditField label="Device number" :value="String(view.station.deviceNumber)" mono @change="setNumber" />
      </div>
      <EditField label="Comment" :value="view.station.comment" @change="set({ comment: $event })" />
    </section>
    <section>
      <h2>Against the description’s limits</h2>
      <FillBar v-for="bar in bars" :key="bar.label" v-bind="bar" :unit="bar.label === 'Slots' ? '' : 'bytes'" />
      <p class="quiet">{{ view.inputFrameBytes }} bytes to the controller and {{ view.outputFrameBytes }} from it in one frame, status included. {{ laneSlots(view).free }} slots free.</p>
    </section>
    <section v-if="view.device">
      <h2>From the description</h2>
      <p>{{ view.device.info }}</p>
      <p v-if="view.device.protocol === 'profinet'" class="quiet">
        Vendor <span class="mono">0x{{ view.device.identity.profinet.vendorId.toString(16).padStart(4, '0') }}</span>, device <span class="mono">0x{{ view.device.identity.profinet.deviceId.toString(16).padStart(4, '0') }}</span>,
        shortest interval {{ (view.device.profinet.minDeviceIntervalUs ?? 0) / 1000 }} ms, conformance class {{ view.device.profinet.conformanceClass ?? 'not stated' }}
      </p>
    </section>
    <button class="button small" @click="project.run({ type: 'removeStation', id })">Remove the station</button>
  </div>
</template>
