<script setup lang="ts">
import { modbusTables, requestsOf, serialTimeMs, type DerivedStation } from '@kataxis/core'
import { NTable } from 'naive-ui'
import { computed } from 'vue'
import { useProject } from '../../../stores/project'

/** The requests that bring a Modbus station's registers, as few as the limits allow, with their
 *  load. */
const props = defineProps<{ view: DerivedStation }>()
const project = useProject()
const network = computed(() => project.plan!.networks[props.view.station.networkId]!)
const line = computed(() => ('line' in network.value.settings ? network.value.settings.line : null))
const rows = computed(() =>
  requestsOf(props.view).map((request) => ({
    ...request,
    ms: line.value && serialTimeMs(request, line.value),
    bytes: request.requestBytes + request.responseBytes,
  })),
)
const requestMs = computed(() =>
  'requestMs' in network.value.settings ? network.value.settings.requestMs : 500,
)
const load = computed(() => {
  if (line.value)
    return `${((rows.value.reduce((sum, { ms }) => sum + ms!, 0) / requestMs.value) * 100).toFixed(1)} % of the line`
  return `${((rows.value.reduce((sum, { bytes }) => sum + bytes + 2 * tcpOverhead, 0) * 8) / requestMs.value).toFixed(1)} kbit/s`
})
/** Octets around each data unit: Modbus header, TCP, IP, Ethernet with its gap (from memory). */
const tcpOverhead = 7 + 20 + 20 + 38
const traits = computed(() =>
  props.view.device && 'sheet' in props.view.device ? props.view.device.sheet.modbus : null,
)
const span = (start: number, count: number) =>
  count === 1 ? `${start}` : `${start} to ${start + count - 1}`
</script>

<template>
  <section v-if="rows.length > 0" aria-label="Requests">
    <h2>Requests</h2>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Function</th>
          <th scope="col">What</th>
          <th scope="col">Bytes</th>
          <th v-if="line" scope="col">Time</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(request, i) in rows"
          :key="i"
          :title="[...request.names, ...(request.writes?.names ?? [])].join(', ')"
        >
          <td class="mono">{{ request.functionCode }}</td>
          <td>
            {{ request.writes ? 'read' : request.isWrite ? 'write' : 'read' }}
            {{ modbusTables[request.table].words }} {{ span(request.start, request.count)
            }}<template v-if="request.writes"
              >, write {{ span(request.writes.start, request.writes.count) }}</template
            >
          </td>
          <td class="mono">{{ request.requestBytes }}+{{ request.responseBytes }}</td>
          <td v-if="line" class="mono">{{ request.ms!.toFixed(1) }} ms</td>
        </tr>
      </tbody>
    </NTable>
    <p class="quiet">
      Every {{ requestMs }} ms: {{ load }}. Registers count from 0 as in the request.
    </p>
    <p v-if="traits?.watchdog">
      Watchdog: write holding register {{ traits.watchdog.address }} at least every
      {{ traits.watchdog.periodMs }} ms, or the device stops.
    </p>
    <ol v-if="traits && traits.startSequence.length > 0">
      <li v-for="(step, i) in traits.startSequence" :key="i">
        {{ step.table === 'coil' ? 'Coil' : 'Register' }} {{ step.address }} = {{ step.value
        }}{{ step.note ? `: ${step.note}` : '' }}
      </li>
    </ol>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
ol {
  margin: 0;
  padding-left: 20px;
}
</style>
