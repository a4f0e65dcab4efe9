<script setup lang="ts">
import {
  roundOf,
  type DerivedStation,
  type NetworkRow,
  type NetworkSettingsEdit,
} from '@kataxis/core'
import { computed } from 'vue'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import LineFields from '../../../parts/LineFields.vue'
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
      <LineFields :model-value="line" @update:model-value="set({ line: $event })" />
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
