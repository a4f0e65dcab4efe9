<script setup lang="ts">
import { computed } from 'vue'
import { notationNames, notations, type NotationName } from '@kataxis/core'
import EditField from '../../../parts/EditField.vue'
import FillBar from '../../../parts/FillBar.vue'
import FindingList from '../../../parts/FindingList.vue'
import { useProject } from '../../../stores/project'

const props = defineProps<{ id: string }>()
const project = useProject()
const view = computed(() => project.derived!.controllers.find(({ controller }) => controller.id === props.id)!)
const set = (values: { name?: string; inputBytes?: number; outputBytes?: number; aligned?: boolean; notation?: NotationName }) => project.run({ type: 'updateController', id: props.id, set: values })
function setSize(which: 'inputBytes' | 'outputBytes', text: string) {
  const bytes = Number(text)
  if (!Number.isInteger(bytes) || bytes < 0 || bytes > 1_048_576) return project.tell(`"${text}" is no image size; a whole number of bytes from 0 to 1048576 is needed.`)
  set({ [which]: bytes })
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Controller</h3>
      <h1>{{ view.controller.name || '(no name)' }}</h1>
    </header>
    <FindingList :ids="[id]" />
    <EditField label="Name" :value="view.controller.name" @change="set({ name: $event.trim() })" />
    <div class="pair">
      <EditField label="Input image, bytes" :value="String(view.controller.inputBytes)" mono @change="setSize('inputBytes', $event)" />
      <EditField label="Output image, bytes" :value="String(view.controller.outputBytes)" mono @change="setSize('outputBytes', $event)" />
    </div>
    <label class="check"><input type="checkbox" :checked="view.controller.aligned" @change="set({ aligned: ($event.target as HTMLInputElement).checked })" /> New 16- and 32-bit values start at even and 4-divisible bytes</label>
    <label><span class="label">Addresses are written as</span>
      <select class="field" :value="view.controller.notation" @change="set({ notation: ($event.target as HTMLSelectElement).value as NotationName })"><option v-for="name in notationNames" :key="name" :value="name">{{ notations[name].name }}, {{ notations[name].label }}</option></select>
    </label>
    <section>
      <h2>Given out</h2>
      <FillBar label="Inputs" :used="view.inputBytes" :limit="view.controller.inputBytes" unit="bytes" />
      <FillBar label="Outputs" :used="view.outputBytes" :limit="view.controller.outputBytes" unit="bytes" />
      <p class="quiet">What has an address keeps it, whatever is inserted, moved or removed elsewhere.</p>
    </section>
    <button class="button small" @click="project.run({ type: 'removeController', id })">Remove the controller and all on it</button>
  </div>
</template>

<style scoped>
.check {
  font: 13px/1.35 var(--sans);
  display: flex;
  gap: 8px;
  align-items: baseline;
}
</style>
