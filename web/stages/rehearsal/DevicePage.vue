<script setup lang="ts">
import { switchesAt, wordSetBy } from '@kataxis/core'
import { NDrawer, NDrawerContent, NTable } from 'naive-ui'
import { computed } from 'vue'
import { useRehearsal } from '../../stores/rehearsal'

/** What a device says of itself, as its own page in a browser would on site, with what the plan has
 *  beside it. */
const props = defineProps<{ stationId: string }>()
const emit = defineEmits<{ close: [] }>()
const rehearsal = useRehearsal()
const match = computed(() =>
  rehearsal.matches
    .flatMap(({ stations }) => stations)
    .find(({ station }) => station.id === props.stationId),
)
const device = computed(() => match.value?.device ?? null)
const station = computed(() => match.value!.station)
const started = computed(() => rehearsal.view?.started[props.stationId])
const slots = computed(() => rehearsal.comparisons.get(props.stationId) ?? [])
/** What is reported against what is planned. */
const facts = computed(() => {
  const { identity, wireName, ip, number } = station.value
  const one = device.value
  const rows: [string, string, string][] = [
    ['Type', one?.typeName || one?.type || '–', identity.typeName],
    ['Firmware', one?.firmware ?? 'not told', identity.firmware ?? 'not said'],
    ['Serial number', one?.serial ?? 'not told', ''],
    ['Address', one?.address ?? 'none', ip || String(number)],
  ]
  if (wireName) rows.unshift(['Name', one?.name || 'none', wireName])
  return rows.map(([what, real, planned]) => ({ what, real, planned }))
})
const setBy = computed(() => {
  return wordSetBy(station.value.view, switchesAt(station.value))
})
const values = computed(
  () => rehearsal.view?.signals.filter((one) => one.station === station.value.name) ?? [],
)
</script>

<template>
  <NDrawer
    :show="true"
    :width="560"
    :aria-label="`Device page: ${match?.station.name ?? ''}`"
    @update:show="(show: boolean) => !show && emit('close')"
  >
    <NDrawerContent v-if="match" :title="`Device page: ${station.name}`" closable>
      <NTable size="small" :bordered="false">
        <thead>
          <tr>
            <th scope="col"></th>
            <th scope="col">Device</th>
            <th scope="col">Plan</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ what, real, planned } in facts" :key="what">
            <th scope="row">{{ what }}</th>
            <td class="mono">{{ real }}</td>
            <td class="mono">{{ planned }}</td>
          </tr>
        </tbody>
      </NTable>
      <p class="note">{{ setBy }}</p>
      <h3>Connection</h3>
      <p>
        {{
          !started
            ? 'Not started.'
            : started.isRunning
              ? 'Data are exchanged.'
              : started.faults.map(({ words }) => words).join('; ') + '.'
        }}
      </p>
      <h3>Neighbours</h3>
      <p v-if="!device?.neighbours.length" class="quiet">None told.</p>
      <ul v-else>
        <li v-for="one in device.neighbours" :key="one.port">
          Port {{ one.port }}: {{ one.name }}, {{ one.peerPort }}
        </li>
      </ul>
      <h3>Modules in true order</h3>
      <p v-if="device?.modules === null" class="quiet">This device does not tell its modules.</p>
      <ol v-else class="modules">
        <li v-for="slot in slots" :key="slot.slot" :class="{ off: slot.state !== 'same' }">
          {{ slot.slot }}: {{ slot.found ?? 'empty'
          }}<template v-if="slot.state !== 'same'">
            (plan: {{ slot.planned ?? 'nothing' }})</template
          >
        </li>
      </ol>
      <template v-if="values.length > 0">
        <h3>Process data at the last check</h3>
        <NTable size="small" :bordered="false">
          <tbody>
            <tr v-for="one in values" :key="one.tag">
              <td>{{ one.tag }}</td>
              <td class="mono">{{ one.raw ?? '–' }}</td>
              <td>
                {{ one.value === null ? '–' : Number(one.value.toPrecision(5)) }} {{ one.unit }}
              </td>
              <td>{{ one.verdict }}</td>
            </tr>
          </tbody>
        </NTable>
      </template>
    </NDrawerContent>
  </NDrawer>
</template>

<style scoped>
.note {
  font: 13px/1.4 var(--narrow);
  color: var(--ink-2);
  margin: 6px 0;
}
h3 {
  margin: 12px 0 4px;
}
.modules {
  list-style: none;
  padding: 0;
  margin: 0;
  font: 13px/1.5 var(--narrow);
}
.off {
  font-weight: 600;
  color: var(--accent);
}
</style>
