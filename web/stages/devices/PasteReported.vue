<script setup lang="ts">
import { numbered, readReportedTable } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import PasteBox from '../../parts/PasteBox.vue'
import { useProject } from '../../stores/project'

/** The list of devices as the gateway shows it, pasted; it is compared with the plan. */
const props = defineProps<{ stationId: string }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const text = ref('')
const read = computed(() => readReportedTable(text.value))
const example = 'Node\tTag\tAddress\tSerial\n1\tLT_101\t00:1B:1E:F8:70:00:12:0A\tBW-20417'
function put(): void {
  const reported = [...read.value.devices]
  if (project.run({ type: 'setReported', id: props.stationId, reported })) emit('close')
}
</script>

<template>
  <PasteBox
    v-model:text="text"
    title="What the gateway reports"
    about="node, tag, address, serial number"
    label="List"
    :example="example"
    :count="read.devices.length"
    one="device"
    :faults="read.faults"
    @close="emit('close')"
  >
    <NButton type="primary" :disabled="read.devices.length === 0" @click="put">
      Compare {{ numbered(read.devices.length, 'device') }}
    </NButton>
  </PasteBox>
</template>
