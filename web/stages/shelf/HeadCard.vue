<script setup lang="ts">
import { numbered, referenceOf, wordBytes, wordTable, type Device } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import BitStrip from '../../parts/BitStrip.vue'
import ConnectionTable from './ConnectionTable.vue'
import { factsOf } from './device-facts'
import ParameterTable from './ParameterTable.vue'

/** One head of a file: facts, connections to choose from, its own data and parameters. */
const props = defineProps<{ device: Device }>()
const opened = ref<string | null>(null)
const toggle = (what: string) => (opened.value = opened.value === what ? null : what)
const own = computed(() =>
  props.device.submodules.filter(({ inputBytes, outputBytes }) => inputBytes + outputBytes > 0),
)
const records = computed(() => [
  ...props.device.parameters,
  ...props.device.submodules.flatMap(({ parameters }) => parameters),
])
const registers = computed(() => ('sheet' in props.device ? props.device.sheet.registers : []))
const count = computed(() =>
  records.value.reduce((sum, { parameters }) => sum + Math.max(1, parameters.length), 0),
)
</script>

<template>
  <article class="head" :aria-label="device.name">
    <header>
      <strong>{{ device.name || device.key }}</strong>
      <span class="mono">{{
        [device.orderNumber, device.firmware].filter(Boolean).join(' · ')
      }}</span>
      <span v-if="device.hidden" class="quiet">old revision</span>
      <span v-if="device.variants.length > 1" class="quiet"
        >also
        {{
          device.variants
            .slice(1, 6)
            .map(({ productId }) => productId)
            .join(', ')
        }}</span
      >
      <span class="rest" />
      <NButton
        v-for="data in own"
        :key="data.key"
        size="small"
        :aria-expanded="opened === data.key"
        @click="toggle(data.key)"
      >
        {{ wordBytes(data) }}
      </NButton>
      <NButton
        v-if="registers.length > 0"
        size="small"
        :aria-expanded="opened === 'registers'"
        @click="toggle('registers')"
      >
        {{ numbered(registers.length, 'register') }}
      </NButton>
      <NButton
        v-if="count > 0"
        size="small"
        :aria-expanded="opened === 'parameters'"
        @click="toggle('parameters')"
      >
        {{ numbered(count, 'parameter') }}
      </NButton>
    </header>
    <p v-if="device.info" class="quiet">{{ device.info }}</p>
    <dl>
      <div v-for="[label, value] in factsOf(device)" :key="label">
        <dt>{{ label }}</dt>
        <dd>{{ value }}</dd>
      </div>
    </dl>
    <template v-for="data in own" :key="data.key">
      <BitStrip v-if="opened === data.key" :data="data" :from-end="'ioLink' in device" />
    </template>
    <NTable v-if="opened === 'registers'" size="small" :bordered="false" aria-label="Registers">
      <thead>
        <tr>
          <th scope="col">Table</th>
          <th scope="col">Address, from 0</th>
          <th scope="col">Reference, from 1</th>
          <th scope="col">Type</th>
          <th scope="col">Access</th>
          <th scope="col">What it means</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in registers" :key="one.table + one.address">
          <td>{{ wordTable(one.table) }}</td>
          <td class="mono">{{ one.address }}</td>
          <td class="mono">{{ referenceOf(one.table, one.address) }}</td>
          <td class="mono">{{ one.type }}</td>
          <td>{{ one.access }}</td>
          <td>{{ one.name }}</td>
        </tr>
      </tbody>
    </NTable>
    <ParameterTable v-if="opened === 'parameters'" :records="records" />
    <ConnectionTable v-if="device.connections.length > 0" :connections="device.connections" />
  </article>
</template>

<style scoped>
.head {
  border-top: 1px solid var(--line);
  padding: 8px 0;
  display: grid;
  gap: 4px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 10px;
}
.rest {
  flex: 1;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 0;
  font: 13px/1.35 var(--narrow);
}
dl div {
  display: flex;
  gap: 6px;
}
dt {
  color: var(--ink-3);
}
dd {
  margin: 0;
}
</style>
