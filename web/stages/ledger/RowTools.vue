<script lang="ts">
/** What stands beside the grid. */
export type Beside = 'pattern' | 'replace' | 'rules' | 'tray' | 'wiring' | 'findings'
</script>

<script setup lang="ts">
/** Where the row with the cursor leads, and what is shown of it beside the grid. */
const beside = defineModel<Beside | null>({ required: true })
const emit = defineEmits<{ show: [stage: 'board' | 'memory']; bench: [] }>()
</script>

<template>
  <span class="tool-set" role="group" aria-label="The row with the cursor"
    ><span class="what">Row</span>
    <button class="button small" @click="emit('show', 'board')">Board</button>
    <button class="button small" @click="emit('show', 'memory')">Memory</button>
    <button class="button small" @click="emit('bench')">Range bench</button>
    <button
      class="button small"
      :aria-pressed="beside === 'wiring'"
      @click="beside = beside === 'wiring' ? null : 'wiring'"
    >
      Circuit
    </button>
    <button
      class="button small"
      :aria-pressed="beside === 'findings'"
      @click="beside = beside === 'findings' ? null : 'findings'"
    >
      Findings
    </button>
  </span>
</template>

<style scoped src="./tool-row.css"></style>
