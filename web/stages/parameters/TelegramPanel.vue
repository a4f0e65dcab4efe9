<script setup lang="ts">
import {
  recordsOnWire,
  setPrmTelegram,
  toHex,
  userParameters,
  usualPrmSettings,
  type DerivedStation,
} from '@kataxis/core'
import { NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import NumberField from '../../parts/NumberField.vue'
import { useProject } from '../../stores/project'

/** The whole Set_Prm telegram of a PROFIBUS station: seven octets of the bus, then everybody's user
 *  parameters. */
const props = defineProps<{ view: DerivedStation }>()
const project = useProject()
const watchdogMs = ref(usualPrmSettings.watchdogMs)
const parts = computed(() => userParameters(recordsOnWire(props.view, project.catalog)))
const bytes = computed(() => {
  const { device } = props.view
  if (!device || !('profibus' in device)) return ''
  return toHex(
    setPrmTelegram(
      device.identity.profibus.identNumber,
      Uint8Array.from(parts.value.flatMap((part) => [...part.bytes])),
      { ...usualPrmSettings, watchdogMs: watchdogMs.value || 0 },
    ),
  )
})
const rows = computed(() => {
  let at = 7
  return [
    { what: 'status, watchdog, delay, ident, groups', from: 0, hex: bytes.value.slice(0, 20) },
    ...parts.value.map((part) => {
      const row = {
        what: part.slot === 0 ? 'head' : `slot ${part.slot}`,
        from: at,
        hex: toHex(part.bytes),
      }
      at += part.bytes.length
      return row
    }),
  ]
})
const length = computed(() => (bytes.value.length + 1) / 3)
</script>

<template>
  <section class="stacked" aria-label="Set_Prm telegram">
    <h2>
      Set_Prm telegram <span class="quiet">{{ length }} of 244 octets</span>
    </h2>
    <NumberField
      v-model:value="watchdogMs"
      class="watchdog"
      label="Watchdog, ms; 0: off"
      shown
      :min="0"
      :max="650250"
      :step="10"
    />
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">From</th>
          <th scope="col">Octets</th>
          <th scope="col">Of</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.from">
          <td class="mono">{{ row.from }}</td>
          <td class="mono">{{ row.hex }}</td>
          <td>{{ row.what }}</td>
        </tr>
      </tbody>
    </NTable>
  </section>
</template>

<style scoped>
.watchdog {
  width: 150px;
}
</style>
