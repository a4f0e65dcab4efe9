<script setup lang="ts">
import { numbered, protocolOn } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'

/** What can be done with several things at once. */
const props = defineProps<{ moduleIds: readonly string[]; stationIds: readonly string[] }>()
const emit = defineEmits<{ remove: []; duplicate: []; replace: []; fill: []; clear: [] }>()
const project = useProject()
const words = computed(() => {
  const part = (count: number, one: string) => (count === 0 ? [] : [numbered(count, one)])
  return [
    ...part(props.stationIds.length, 'station'),
    ...part(props.moduleIds.length, 'module'),
  ].join(' and ')
})
const protocols = computed(
  () =>
    new Set(
      props.stationIds.map((id) =>
        protocolOn(project.plan!.networks[project.plan!.stations[id]!.station.networkId]!),
      ),
    ),
)
const networks = computed(() =>
  protocols.value.size === 1
    ? Object.values(project.plan!.networks).filter((network) =>
        protocols.value.has(protocolOn(network)),
      )
    : [],
)
const moveTo = (networkId: string) =>
  project.run({ type: 'moveStations', ids: [...props.stationIds], networkId })
</script>

<template>
  <div class="selection" role="toolbar" aria-label="The selection">
    <strong>{{ words }}</strong>
    <template v-if="stationIds.length > 0">
      <NButton v-if="stationIds.length === 1" size="small" @click="emit('duplicate')">
        Duplicate …
      </NButton>
      <PickField
        v-if="networks.length > 1"
        label="Move to another network"
        class="move"
        size="small"
        :value="null"
        placeholder="Move to …"
        :options="networks.map((network) => ({ value: network.id, label: network.name }))"
        @update:value="moveTo"
      />
    </template>
    <NButton
      v-if="moduleIds.length === 1 && stationIds.length === 0"
      size="small"
      @click="emit('fill')"
    >
      Fill the free slots behind
    </NButton>
    <NButton
      v-if="stationIds.length === 0 || moduleIds.length === 0"
      size="small"
      @click="emit('replace')"
    >
      Replace …
    </NButton>
    <NButton size="small" @click="emit('remove')">Remove</NButton>
    <span v-if="moduleIds.length > 0" class="keys">Ctrl+C, X, V copy, cut, paste</span>
    <NButton size="small" quaternary @click="emit('clear')">Select nothing</NButton>
  </div>
</template>

<style scoped>
.selection {
  position: absolute;
  left: 50%;
  bottom: 14px;
  translate: -50% 0;
  z-index: 30;
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 7px 12px;
  background: var(--paper);
  border: 1px solid var(--ink-2);
  box-shadow: 0 3px 14px var(--veil);
  white-space: nowrap;
}
.move {
  width: 150px;
}
.keys {
  font: 12px/1 var(--narrow);
  color: var(--ink-2);
}
</style>
