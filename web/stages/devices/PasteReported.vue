<script setup lang="ts">
import { numbered, readReportedTable } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../parts/DialogBox.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'

/** The list of devices as the gateway shows it, pasted; it is compared with the plan. */
const props = defineProps<{ stationId: string }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const text = ref('')
const read = computed(() => readReportedTable(text.value))
function put(): void {
  const reported = [...read.value.devices]
  if (project.run({ type: 'setReported', id: props.stationId, reported })) emit('close')
}
</script>

<template>
  <DialogBox title="What the gateway reports" wide @close="emit('close')">
    <p class="quiet">
      Columns: node, tag, address, serial number. With headings they may stand in any order; tabs,
      commas or semicolons between them.
    </p>
    <TextField
      v-model:value="text"
      label="List"
      type="textarea"
      mono
      :rows="10"
      placeholder="Node	Tag	Address	Serial
1	LT_101	00:1B:1E:F8:70:00:12:0A	BW-20417"
    />
    <p role="status">{{ numbered(read.devices.length, 'device') }} read.</p>
    <ul v-if="read.faults.length > 0" class="faults">
      <li v-for="fault in read.faults.slice(0, 8)" :key="fault.line">{{ fault.sentence }}</li>
      <li v-if="read.faults.length > 8">and {{ read.faults.length - 8 }} more.</li>
    </ul>
    <div class="actions">
      <NButton type="primary" :disabled="read.devices.length === 0" @click="put">
        Compare {{ numbered(read.devices.length, 'device') }}
      </NButton>
      <NButton @click="emit('close')">Cancel</NButton>
    </div>
  </DialogBox>
</template>

<style scoped>
.faults {
  margin: 0;
  padding-left: 18px;
  font: 13px/1.5 var(--narrow);
  color: var(--accent);
}
.actions {
  display: flex;
  gap: 8px;
}
</style>
