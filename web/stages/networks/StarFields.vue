<script setup lang="ts">
import { numbered, wiresOf, type WiredNetwork } from '@kataxis/core'
import { NButton, NSelect } from 'naive-ui'
import { computed, ref } from 'vue'
import { useProject } from '../../stores/project'

/** Hangs several stations on one node, a port each: a star on a switch. */
const props = defineProps<{ id: string; wired: WiredNetwork; disabled: boolean }>()
const project = useProject()
const chosen = ref<string[]>([])
const freePorts = computed(() => wiresOf(project.derived!).freePorts(props.id).length)
const stations = computed(() =>
  props.wired.stations.flatMap(({ view }) =>
    view.id === props.id ? [] : [{ value: view.id, label: view.station.name || '(no name)' }],
  ),
)
function link(): void {
  if (project.run({ type: 'starOn', node: props.id, stationIds: chosen.value })) chosen.value = []
}
</script>

<template>
  <section v-if="wired.segments.length === 0 && freePorts > 1">
    <h2>Star</h2>
    <NSelect
      v-model:value="chosen"
      multiple
      filterable
      size="small"
      placeholder="Stations to hang on it …"
      :input-props="{ 'aria-label': 'Stations to hang on it' } as never"
      :options="stations"
      :disabled="disabled"
    />
    <NButton class="link" size="small" :disabled="disabled || chosen.length === 0" @click="link">
      Link {{ numbered(chosen.length, 'station') }} to it
    </NButton>
  </section>
</template>

<style scoped>
.link {
  justify-self: start;
}
</style>
