<script setup lang="ts">
import { decodeText, type Problem } from '@kataxis/core'
import { ref, watch } from 'vue'
import { api } from '../../api/client'

/** The source text around a problem's line; of a file on the Shelf, or of one that is only in the
 *  browser. */
const props = defineProps<{ source: string | File; problem: Problem }>()
const around = 3
const lines = ref<{ number: number; text: string }[]>([])

watch(
  () => [props.source, props.problem.line] as const,
  async ([source, line]) => {
    if (line === null) return
    const from = Math.max(1, line - around)
    const found =
      typeof source === 'string'
        ? (await api.fileLines(source, from, line + around)).lines
        : await localLines(source, from, line + around)
    lines.value = found.map((text, i) => ({
      number: from + i,
      text: window(text, props.problem.line === from + i ? (props.problem.column ?? 1) : 1),
    }))
  },
  { immediate: true },
)

async function localLines(file: File, from: number, to: number): Promise<string[]> {
  const decoded = decodeText(new Uint8Array(await file.arrayBuffer()))
  const text =
    'text' in decoded
      ? decoded.text
      : new TextDecoder('windows-1252').decode(await file.arrayBuffer())
  return text.split(/\r\n?|\n/).slice(from - 1, to)
}

/** Files without line breaks have one endless line; what stands around the column is shown of
 *  it. */
function window(text: string, column: number): string {
  return text.length <= 180
    ? text
    : `${column > 60 ? '…' : ''}${text.slice(Math.max(0, column - 60), column + 120)}…`
}
</script>

<template>
  <ol
    v-if="lines.length > 0"
    class="source"
    tabindex="0"
    :aria-label="`Source text around line ${problem.line}`"
  >
    <li v-for="line in lines" :key="line.number" :class="{ here: line.number === problem.line }">
      <span class="number">{{ line.number }}</span><code>{{ line.text }}</code>
    </li>
  </ol>
</template>

<style scoped>
.source {
  list-style: none;
  margin: 0;
  padding: 4px 0;
  overflow-x: auto;
  background: var(--paper-2);
  font: 12px/1.45 var(--mono);
}
li {
  display: flex;
  gap: 12px;
  padding: 0 10px;
  white-space: pre;
}
.number {
  color: var(--ink-3);
  min-width: 44px;
  text-align: right;
}
.here {
  background: var(--accent-soft);
  box-shadow: inset 3px 0 0 var(--accent);
}
</style>
