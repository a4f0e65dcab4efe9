<script setup lang="ts">
import { numbered, type Connection } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { ref } from 'vue'
import BitStrip from '../../parts/BitStrip.vue'

/** Connections that a head offers, each with the layout of its data. */
defineProps<{ connections: readonly Connection[] }>()
const opened = ref<string | null>(null)
const bytes = (count: number) => numbered(count, 'byte')
</script>

<template>
  <NTable size="small" :bordered="false">
    <thead>
      <tr>
        <th scope="col">Connection</th>
        <th scope="col">To the controller</th>
        <th scope="col">From it</th>
        <th scope="col">Configuration</th>
        <th scope="col">Interval</th>
        <th scope="col">Path</th>
        <th scope="col"><span class="quiet">Layout</span></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="connection in connections" :key="connection.key">
        <tr>
          <td>
            {{ connection.name }} <span class="quiet">{{ connection.info }}</span>
          </td>
          <td>{{ bytes(connection.inputBytes) }}</td>
          <td>
            {{ bytes(connection.outputBytes)
            }}{{ connection.hasRunIdleHeader ? ' and run/idle' : '' }}
          </td>
          <td>{{ bytes(connection.configBytes) }}</td>
          <td>
            {{
              connection.requestedIntervalUs === null
                ? ''
                : `${connection.requestedIntervalUs / 1000} ms`
            }}
          </td>
          <td class="mono">{{ connection.path }}</td>
          <td>
            <NButton
              v-if="connection.inputs.length + connection.outputs.length > 0"
              size="small"
              :aria-expanded="opened === connection.key"
              :aria-label="`Layout of ${connection.name}`"
              @click="opened = opened === connection.key ? null : connection.key"
            >
              Bits
            </NButton>
          </td>
        </tr>
        <tr v-if="opened === connection.key">
          <td colspan="7"><BitStrip :data="connection" /></td>
        </tr>
      </template>
    </tbody>
  </NTable>
</template>
