<script lang="ts">
/** What stands beside the grid. */
export type Beside = 'pattern' | 'replace' | 'rules' | 'tray' | 'wiring' | 'findings'
</script>

<script setup lang="ts">
import { NButton } from 'naive-ui'
/** Where the row with the cursor leads, and what is shown of it beside the grid. */
const beside = defineModel<Beside | null>({ required: true })
const emit = defineEmits<{ show: [stage: 'board' | 'memory']; bench: [] }>()
</script>

<template>
  <span class="tool-set" role="group" aria-label="The row with the cursor"
    ><span class="what">Row</span>
    <NButton size="small" @click="emit('show', 'board')">Board</NButton>
    <NButton size="small" @click="emit('show', 'memory')">Memory</NButton>
    <NButton size="small" @click="emit('bench')">Range bench</NButton>
    <NButton
      size="small"
      :type="beside === 'wiring' ? 'info' : 'default'"
      :aria-pressed="beside === 'wiring'"
      @click="beside = beside === 'wiring' ? null : 'wiring'"
    >
      Circuit
    </NButton>
    <NButton
      size="small"
      :type="beside === 'findings' ? 'info' : 'default'"
      :aria-pressed="beside === 'findings'"
      @click="beside = beside === 'findings' ? null : 'findings'"
    >
      Findings
    </NButton>
  </span>
</template>

<style scoped src="./tool-row.css"></style>
