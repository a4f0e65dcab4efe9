<script setup lang="ts">
import { computed } from 'vue'
import { layoutOf, type Module } from '@kataxis/core'

/** The data of a module drawn to the bit: one row an octet, bit 7 left. */
const props = defineProps<{ module: Module }>()
const rows = computed(() => {
  const layout = layoutOf(props.module)
  return layout.blocks.flatMap((block) => {
    const own = layout.channels.filter(({ subslot, direction }) => subslot === block.subslot && direction === block.direction)
    return Array.from({ length: block.bytes }, (_, byte) => {
      const within = own.filter(({ offsetBits, bits }) => offsetBits < byte * 8 + 8 && offsetBits + bits > byte * 8)
      const whole = within.find(({ bits }) => bits >= 8)
      const cells = whole
        ? [{ span: 8, words: whole.offsetBits === byte * 8 ? `${whole.name} · ${whole.type}` : '…' }]
        : Array.from({ length: 8 }, (_unused, i) => ({ span: 1, words: within.find(({ offsetBits }) => offsetBits === byte * 8 + 7 - i)?.name ?? '' }))
      return { key: `${block.direction}${block.subslot}.${byte}`, label: `${block.direction} ${byte}`, cells }
    })
  })
})
</script>

<template>
  <table class="strip">
    <thead>
      <tr><th scope="col">Byte</th><th v-for="bit in 8" :key="bit" scope="col">{{ 8 - bit }}</th></tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.key">
        <th scope="row">{{ row.label }}</th>
        <td v-for="(cell, i) in row.cells" :key="i" :colspan="cell.span" :class="{ unused: !cell.words, more: cell.words === '…' }">{{ cell.words }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.strip {
  border-collapse: collapse;
  width: 100%;
  table-layout: fixed;
  font: 12px/1.3 var(--narrow);
  margin: 4px 0 8px;
}
.strip th,
.strip td {
  border: 1px solid var(--line);
  padding: 3px 6px;
  text-align: center;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.strip th {
  font: 11px/1.3 var(--mono);
  color: var(--ink-2);
  font-weight: 400;
}
.strip td {
  background: var(--paper-2);
}
.strip td.unused {
  background: transparent;
}
</style>
