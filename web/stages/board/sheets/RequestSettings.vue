<script setup lang="ts">
import {
  roundOf,
  type DerivedStation,
  type NetworkRow,
  type NetworkSettingsEdit,
} from '@kataxis/core'
import { computed } from 'vue'
import { plainChoices } from '../../../parts/choices'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import PickField from '../../../parts/PickField.vue'
import { useProject } from '../../../stores/project'

/** How often stations are asked for their data, and the line that this goes over, where the
 *  controller asks one after the other. */
const props = defineProps<{
  network: NetworkRow
  requestMs: number
  stations: readonly DerivedStation[]
}>()
const project = useProject()
const line = computed(() => ('line' in props.network.settings ? props.network.settings.line : null))
const round = computed(() => roundOf(props.network, props.stations))
const bauds = [1200, 2400, 4800, 9600, 19_200, 38_400, 57_600, 115_200]
const set = (settings: NetworkSettingsEdit) =>
  project.run({ type: 'updateNetwork', id: props.network.id, set: { settings } })
function setPeriod(text: string): void {
  const requestMs = Number(text)
  if (!Number.isInteger(requestMs) || requestMs < 1 || requestMs > 3_600_000)
    return project.tell(`"${text}" is no period; a whole number from 1 to 3600000 is needed.`)
  set({ requestMs })
}
</script>

<template>
  <section>
    <h2>Requests</h2>
    <div v-if="line" class="four">
      <PickField
        label="Bit/s"
        shown
        :value="line.baud"
        :options="plainChoices(bauds)"
        @update:value="set({ line: { ...line, baud: $event } })"
      />
      <PickField
        label="Parity"
        shown
        :value="line.parity"
        :options="plainChoices(['even', 'odd', 'none'])"
        @update:value="set({ line: { ...line, parity: $event as 'even' } })"
      />
      <PickField
        label="Stop bits"
        shown
        :value="line.stopBits"
        :options="plainChoices([1, 2])"
        @update:value="set({ line: { ...line, stopBits: $event as 1 } })"
      />
      <EditField label="Every, ms" :value="String(requestMs)" mono @change="setPeriod($event)" />
    </div>
    <EditField
      v-else
      label="Every, ms"
      :value="String(requestMs)"
      mono
      @change="setPeriod($event)"
    />
    <FillBar
      v-if="round"
      label="One round of all requests"
      :used="Math.ceil(round.ms)"
      :limit="requestMs"
      unit="ms"
    />
    <p v-if="round" class="quiet">These settings are the same on every node of the line.</p>
  </section>
</template>
