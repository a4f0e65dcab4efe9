<script lang="ts">
/** A head module on the Shelf. */
export interface Head {
  readonly sha256: string
  readonly key: string
  readonly name: string
  readonly orderNumber: string | null
  readonly firmware: string | null
}
</script>

<script setup lang="ts">
import { protocolTitle, type Protocol } from '@kataxis/core'
import { computed, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import TextField from '../../../parts/TextField.vue'
import { usePickList } from '../../../parts/usePickList'
import { useShelf } from '../../../stores/shelf'

/** Heads on the Shelf that speak one protocol, found while typing. */
const props = defineProps<{ protocol: Protocol }>()
const emit = defineEmits<{ take: [head: Head]; close: [] }>()
const shelf = useShelf()
const route = useRoute()
const text = ref('')
const field = ref<InstanceType<typeof TextField>>()
onMounted(() => {
  field.value?.focus()
  void shelf.refresh()
})

const ofProtocol = computed(() =>
  shelf.files.flatMap(({ sha256, summary }) =>
    summary.devices
      .filter(({ protocol }) => protocol === props.protocol)
      .map((device) => ({
        ...device,
        sha256,
        vendor: summary.vendor,
        family: summary.family,
        words:
          `${device.name} ${device.orderNumber} ${device.firmware} ${summary.vendor} ${summary.family}`.toLowerCase(),
      })),
  ),
)
const heads = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return ofProtocol.value.filter((head) => words.every((word) => head.words.includes(word)))
})
const { at, onKey } = usePickList(
  heads,
  (head) => emit('take', head),
  () => emit('close'),
)
</script>

<template>
  <TextField
    ref="field"
    v-model:value="text"
    label="Head module"
    placeholder="Order number, firmware, maker …"
    :more="{
      role: 'combobox',
      'aria-expanded': true,
      'aria-controls': 'head-list',
      'aria-activedescendant': `head-${at}`,
    }"
    @keydown="onKey"
  />
  <ul id="head-list" role="listbox" aria-label="Head modules on the Shelf">
    <li
      v-for="(head, i) in heads"
      :id="`head-${i}`"
      :key="head.sha256 + head.key"
      role="option"
      :aria-selected="i === at"
      :class="{ at: i === at }"
      @mousemove="at = i"
      @click="emit('take', head)"
    >
      <strong>{{ head.orderNumber ?? head.name }}</strong><span class="mono">{{
        head.firmware
      }}</span
      ><span
        >{{ head.name }}<template v-if="head.slots > 0">, {{ head.slots }} slots</template></span
      ><small>{{ head.vendor }} · {{ head.family }}</small>
    </li>
  </ul>
  <p v-if="ofProtocol.length === 0" class="none">
    The Shelf holds no {{ protocolTitle(protocol) }} device.
    <RouterLink :to="{ name: 'shelf', params: { project: route.params['project'] } }"
      >Add a description file</RouterLink
    >
    first.
  </p>
  <p v-else-if="heads.length === 0" class="none">No head on the Shelf matches “{{ text }}”.</p>
</template>

<style scoped>
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
