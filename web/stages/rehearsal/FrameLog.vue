<script setup lang="ts">
import { fromHex, kindNamed, type NetworkKindName } from '@kataxis/core'
import { NButton, NCheckbox, NInput, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import type { RehearsalView } from '../../api/client'
import { useProject } from '../../stores/project'

/** What went over the wires, in words; octets on demand. */
const props = defineProps<{
  frames: RehearsalView['frames']
  /** Of all, those that are not shown too. */
  count: number
  networkId: string | null
  captureUrl: string
}>()
const project = useProject()
const opened = ref<number | null>(null)
const onlyHere = ref(true)
const filter = ref('')
const mostShown = 60

type Frame = RehearsalView['frames'][number]
const kindOf = ({ networkId }: Frame) =>
  project.plan?.networks[networkId]?.settings.kind as NetworkKindName | undefined

/** Whom a frame goes to or comes from: by its addresses where it is Ethernet, by those it was sent
 *  to over IP. */
function deviceOf(frame: Frame): string {
  if (frame.to) return frame.peer?.ip || frame.peer?.mac || frame.to.ip
  const mac = frame.direction === 'sent' ? frame.hex.slice(0, 12) : frame.hex.slice(12, 24)
  const kind = kindOf(frame)
  return kind && isEthernet.has(kind) ? (mac.match(/../g)?.join(':') ?? '') : ''
}
const isEthernet = new Set<NetworkKindName>(['profinet', 'ethercat', 'ring'])

const rows = computed(() => {
  const wanted = filter.value.trim().toLowerCase()
  return props.frames
    .filter(({ networkId }) => !onlyHere.value || networkId === props.networkId)
    .map((frame) => {
      const kind = kindOf(frame)
      const octets = fromHex(frame.hex)
      return {
        ...frame,
        at: (frame.timeUs / 1000).toFixed(2),
        network: project.plan?.networks[frame.networkId]?.name ?? '',
        with: deviceOf(frame),
        words: (kind && kindNamed(kind).wordFrame?.(octets, frame.to)) ?? `${octets.length} octets`,
      }
    })
    .filter((row) => wanted === '' || `${row.with} ${row.words}`.toLowerCase().includes(wanted))
    .slice(-mostShown)
    .reverse()
})
const octets = (hex: string) =>
  hex
    .match(/.{1,32}/g)
    ?.map((line) => line.match(/../g)!.join(' '))
    .join('\n') ?? ''
</script>

<template>
  <section class="log" aria-label="Frames on the wire">
    <header>
      <h2>Frames on the wire</h2>
      <span class="quiet">{{ count }} in all</span>
      <NCheckbox v-model:checked="onlyHere">Only of the network above</NCheckbox>
      <NInput
        v-model:value="filter"
        class="filter"
        size="small"
        clearable
        placeholder="Address or words"
        :input-props="{ 'aria-label': 'Filter frames' }"
      />
      <NButton size="small" tag="a" :href="captureUrl" download>Download capture file</NButton>
    </header>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">ms</th>
          <th scope="col">Network</th>
          <th scope="col">Way</th>
          <th scope="col">Device</th>
          <th scope="col">What</th>
          <th scope="col">Octets</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(row, i) in rows" :key="count - i">
          <tr>
            <td class="mono">{{ row.at }}</td>
            <td>{{ row.network }}</td>
            <td>{{ row.direction === 'sent' ? 'out' : 'in' }}</td>
            <td class="mono">{{ row.with }}</td>
            <td>{{ row.words }}</td>
            <td>
              <NButton
                size="tiny"
                quaternary
                :aria-label="`Octets of the frame at ${row.at} ms`"
                :aria-expanded="opened === i"
                @click="opened = opened === i ? null : i"
              >
                {{ row.hex.length / 2 }}
              </NButton>
            </td>
          </tr>
          <tr v-if="opened === i">
            <td colspan="6">
              <pre class="mono">{{ octets(row.hex) }}</pre>
            </td>
          </tr>
        </template>
      </tbody>
    </NTable>
  </section>
</template>

<style scoped>
.filter {
  width: 200px;
}
header {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 6px 0;
}
pre {
  margin: 2px 0;
}
</style>
