<script setup lang="ts">
import { dcpErrors, decodeDcp, fromHex, type DcpBlock, type DcpService } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import type { RehearsalView } from '../../api/client'

const props = defineProps<{ frames: RehearsalView['frames']; captureUrl: string }>()
const opened = ref<number | null>(null)
const services: Record<DcpService, string> = {
  identify: 'identify request',
  identifyAnswer: 'identify answer',
  set: 'set request',
  setAnswer: 'set answer',
}
const blockWords: Record<DcpBlock['kind'], string> = {
  all: 'all stations',
  typeOfStation: 'type',
  name: 'name',
  ip: 'address',
  deviceId: 'device id',
  role: 'role',
  signal: 'blink',
  factoryReset: 'factory reset',
  result: 'result',
  unknown: 'unknown block',
}
function wordBlock(block: DcpBlock): string {
  if (block.kind === 'name') return block.name === '' ? 'no name' : `name ${block.name}`
  if (block.kind === 'ip') return `address ${block.ip}`
  if (block.kind === 'result') return dcpErrors[block.error] ?? `error ${block.error}`
  return blockWords[block.kind]
}
const rows = computed(() =>
  props.frames
    .slice(-60)
    .reverse()
    .map((frame) => {
      const decoded = decodeDcp(fromHex(frame.hex))
      if ('fault' in decoded) return { ...frame, words: decoded.fault, from: '', to: '' }
      const words = `${services[decoded.service]}, transaction ${decoded.xid}: ${decoded.blocks.map(wordBlock).join(', ')}`
      return { ...frame, words, from: decoded.source, to: decoded.destination }
    }),
)
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
      <NButton size="small" tag="a" :href="captureUrl" download>Capture file (pcap)</NButton>
    </header>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Way</th>
          <th scope="col">From</th>
          <th scope="col">To</th>
          <th scope="col">What</th>
          <th scope="col">Octets</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(row, i) in rows" :key="frames.length - i">
          <tr>
            <td>{{ row.direction === 'sent' ? 'out' : 'in' }}</td>
            <td class="mono">{{ row.from }}</td>
            <td class="mono">{{ row.to }}</td>
            <td>{{ row.words }}</td>
            <td>
              <NButton
                size="small"
                quaternary
                :aria-expanded="opened === i"
                @click="opened = opened === i ? null : i"
              >
                {{ row.hex.length / 2 }}
              </NButton>
            </td>
          </tr>
          <tr v-if="opened === i">
            <td colspan="5">
              <pre class="mono">{{ octets(row.hex) }}</pre>
            </td>
          </tr>
        </template>
      </tbody>
    </NTable>
  </section>
</template>

<style scoped>
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
