<script setup lang="ts">
import { countKinds, fillOfAreas, fillOfStations } from '@kataxis/core'
import { NRadioButton, NRadioGroup } from 'naive-ui'
import { computed, ref } from 'vue'
import StackedBars from '../../parts/StackedBars.vue'
import { useProject } from '../../stores/project'

/** How much of the channels carries a tag, and how full the controllers' memory is. */
const project = useProject()
const channelsBy = ref<'kind' | 'station'>('kind')
const memoryBy = ref<'area' | 'station'>('area')
const stations = computed(() => fillOfStations(project.derived!))
const channels = computed(() =>
  channelsBy.value === 'kind'
    ? countKinds(project.derived!).map((one) => ({
        name: one.kind,
        taken: one.named,
        all: one.channels,
      }))
    : stations.value.map((one) => ({
        name: one.station,
        taken: one.named,
        all: one.channels,
      })),
)
const hasSeveral = computed(() => project.derived!.controllers.length > 1)
const memory = computed(() =>
  memoryBy.value === 'area'
    ? fillOfAreas(project.derived!).map(
        ({ controller, direction, from, area, bytes, usedBytes }) => ({
          name: [
            ...(hasSeveral.value ? [controller] : []),
            direction,
            ...(area
              ? [
                  area.content === 'any' ? '' : area.content,
                  networkOf(area.networkId),
                  `from ${from}`,
                ]
              : []),
          ]
            .filter(Boolean)
            .join(' '),
          taken: usedBytes,
          all: bytes,
        }),
      )
    : stations.value.map(({ station, inputBytes, outputBytes }) => ({
        name: station,
        taken: inputBytes,
        all: inputBytes + outputBytes,
      })),
)
const networkOf = (id: string) => project.plan?.networks[id]?.name ?? ''
</script>

<template>
  <header>
    <h3>Channels</h3>
    <NRadioGroup
      v-model:value="channelsBy"
      size="small"
      name="channels-by"
      aria-label="Channels by"
    >
      <NRadioButton value="kind">by kind</NRadioButton>
      <NRadioButton value="station">by station</NRadioButton>
    </NRadioGroup>
    <span class="quiet">with a tag of all</span>
  </header>
  <div class="long" tabindex="0" aria-label="Channels">
    <StackedBars
      label="Channels with a tag"
      :rows="channels"
      :sized="channelsBy === 'station'"
      taken="with a tag"
      left="without"
    />
  </div>
  <header>
    <h3>Memory, bytes</h3>
    <NRadioGroup v-model:value="memoryBy" size="small" name="memory-by" aria-label="Memory by">
      <NRadioButton value="area">by area</NRadioButton>
      <NRadioButton value="station">by station</NRadioButton>
    </NRadioGroup>
    <span class="quiet">{{ memoryBy === 'area' ? 'in use of all' : 'inputs of all' }}</span>
  </header>
  <div class="long" tabindex="0" aria-label="Memory">
    <StackedBars
      label="Memory in bytes"
      :rows="memory"
      :sized="memoryBy === 'station'"
      :taken="memoryBy === 'area' ? 'in use' : 'inputs'"
      :left="memoryBy === 'area' ? 'free' : 'outputs'"
    />
  </div>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  gap: 12px;
}
.long {
  max-height: 210px;
  overflow: auto;
}
</style>
