<script setup lang="ts">
import { numbered, readLinkTable, type SingleCommand, type WiredNetwork } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import PasteBox from '../../parts/PasteBox.vue'
import { useProject } from '../../stores/project'

/** Links as a list of cables has them; those that stand on the same ports go. */
const props = defineProps<{ wired: WiredNetwork }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const text = ref('')
const read = computed(() => readLinkTable(text.value, props.wired.nodes))
const example =
  'From\tPort\tTo\tPort 2\tMedium\tLength\tCable\tLabel\nintake-a\t1\tK1 waterworks\t1\tCopper\t40 m\tType B\tW101'
function put(): void {
  const links = [...read.value.links]
  const named = new Set(links.flatMap(({ from, to }) => [from, to].map(keyOf)))
  const ends = props.wired.links
    .filter(({ from, to }) => named.has(keyOf(from)) || named.has(keyOf(to)))
    .map(({ from }) => from)
  const commands: SingleCommand[] = [
    ...(ends.length > 0 ? [{ type: 'unlinkPorts' as const, ends }] : []),
    { type: 'linkPorts', links },
  ]
  const label = `Put ${numbered(links.length, 'link')} from a list`
  if (project.run({ type: 'batch', label, commands })) emit('close')
}
const keyOf = ({ node, port }: { node: string; port: number }) => `${node}:${port}`
</script>

<template>
  <PasteBox
    v-model:text="text"
    title="Paste links"
    about="from, port, to, port, medium, length in metres, cable, label"
    label="List of links"
    :example="example"
    :count="read.links.length"
    one="link"
    :faults="read.faults"
    @close="emit('close')"
  >
    <NButton type="primary" :disabled="read.links.length === 0" @click="put">
      Put {{ numbered(read.links.length, 'link') }}
    </NButton>
  </PasteBox>
</template>
