<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { newId } from '@kataxis/core'
import { usePickList } from '../../parts/usePickList'
import { useProject } from '../../stores/project'
import { useShelf } from '../../stores/shelf'

const props = defineProps<{ networkId: string }>()
const emit = defineEmits<{ close: []; added: [id: string] }>()
const project = useProject()
const shelf = useShelf()
const route = useRoute()
const text = ref('')
const field = ref<HTMLInputElement>()
onMounted(() => {
  field.value?.focus()
  void shelf.refresh()
})

const kind = computed(() => project.plan?.networks[props.networkId]?.kind)
const heads = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return shelf.files
    .flatMap(({ sha256, summary }) => summary.devices.filter(({ protocol }) => protocol === kind.value).map((device) => ({ ...device, sha256, vendor: summary.vendor, family: summary.family, words: `${device.name} ${device.orderNumber} ${device.firmware} ${summary.vendor} ${summary.family}`.toLowerCase() })))
    .filter((head) => words.every((word) => head.words.includes(word)))
})
const { at, onKey } = usePickList(heads, (head) => void take(head), () => emit('close'))
async function take(head: (typeof heads.value)[number]) {
  await shelf.need([head.sha256])
  const id = newId()
  if (project.run({ type: 'addStation', id, networkId: props.networkId, file: head.sha256, device: head.key, comment: '' })) emit('added', id)
}
</script>

<template>
  <div class="veil" @mousedown.self="emit('close')">
    <div class="box" role="dialog" aria-modal="true" aria-label="Add a station">
      <h2>Which head does the station stand on?</h2>
      <input ref="field" v-model="text" class="field" role="combobox" aria-expanded="true" aria-controls="head-list" :aria-activedescendant="`head-${at}`" aria-label="Head module" placeholder="Order number, firmware, maker …" @keydown="onKey" />
      <ul id="head-list" role="listbox" aria-label="Head modules on the Shelf">
        <li v-for="(head, i) in heads" :id="`head-${i}`" :key="head.sha256 + head.key" role="option" :aria-selected="i === at" :class="{ at: i === at }" @mousemove="at = i" @click="take(head)">
          <strong>{{ head.orderNumber ?? head.name }}</strong><span class="mono">{{ head.firmware }}</span><span>{{ head.name }}, {{ head.slots }} slots</span><small>{{ head.vendor }} · {{ head.family }}</small>
        </li>
      </ul>
      <p v-if="shelf.files.length === 0" class="none">
        The Shelf is empty. <RouterLink :to="{ name: 'shelf', params: { project: route.params['project'] } }">Bring in a description file</RouterLink> first.
      </p>
      <p v-else-if="heads.length === 0" class="none">No head on the Shelf matches “{{ text }}”.</p>
    </div>
  </div>
</template>

<style scoped>
.veil {
  position: fixed;
  inset: 0;
  z-index: 45;
  background: var(--veil);
}
.box {
  width: min(640px, 92vw);
  margin: 12vh auto 0;
  padding: 16px;
  background: var(--paper);
  border-top: 3px solid var(--accent);
  display: grid;
  gap: 10px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 46vh;
  overflow: auto;
}
li {
  display: grid;
  grid-template-columns: 90px 56px 1fr auto;
  gap: 10px;
  padding: 6px 8px;
  align-items: baseline;
  font: 13px/1.3 var(--narrow);
  cursor: pointer;
}
li.at {
  background: var(--accent-soft);
}
small {
  color: var(--ink-2);
}
.none a {
  color: var(--accent);
}
</style>
