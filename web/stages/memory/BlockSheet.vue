<script setup lang="ts">
import type { MapBlock, NotationName } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import FindingList from '../../parts/FindingList.vue'
import { useProject } from '../../stores/project'
import ChannelSections from '../board/sheets/ChannelSections.vue'

/** One block of the image: its place, what it carries, and the ways to where it stands. */
const props = defineProps<{ block: MapBlock; notation: NotationName }>()
const project = useProject()
const router = useRouter()
const route = useRoute()
const view = computed(() => project.derived!.stations.get(props.block.view.id) ?? props.block.view)
const module = computed(
  () => view.value.modules.find(({ id }) => id === props.block.module.id) ?? props.block.module,
)
const signal = computed(() => [...module.value.signals.values()][0] ?? null)
const show = (stage: 'board' | 'ledger') =>
  void router.push({
    name: stage,
    params: { project: route.params['project'] },
    query: {
      at:
        stage === 'ledger' && signal.value
          ? `signal:${signal.value.id}`
          : `${module.value.row ? 'module' : 'station'}:${module.value.id}`,
    },
  })
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>{{ view.station.name }} · {{ module.row ? `slot ${module.slot}` : 'head' }}</h3>
      <h1>{{ module.described?.name ?? 'unknown' }}</h1>
      <p v-if="block.isInside" class="quiet">
        Its place in the data of {{ view.station.name }} is given by its slot.
      </p>
    </header>
    <FindingList :ids="[module.id]" />
    <div class="row">
      <NButton size="small" @click="show('board')">Show on the Board</NButton>
      <NButton v-if="signal" size="small" @click="show('ledger')">Show in the Ledger</NButton>
      <NButton
        v-if="!block.isInside"
        size="small"
        @click="project.run({ type: 'readdress', moduleId: module.id })"
      >
        Next free bytes
      </NButton>
    </div>
    <ChannelSections :view="view" :module="module" :notation="notation" />
  </div>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
</style>
