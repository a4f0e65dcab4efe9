<script setup lang="ts">
import { wordElectrical, type DeviceFile, type Supplement } from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed } from 'vue'
import { useProject } from '../../stores/project'

/** A sheet that adds to what other files describe: what it adds, and whether this project takes
 *  it. */
const props = defineProps<{ file: DeviceFile; sha256: string }>()
const project = useProject()
const taken = computed(() => project.plan!.project.supplements)
const isTaken = computed(() => taken.value.includes(props.sha256))
const toggle = () =>
  project.run({
    type: 'setProject',
    set: {
      supplements: isTaken.value
        ? taken.value.filter((hash) => hash !== props.sha256)
        : [...taken.value, props.sha256],
    },
  })
const words = ({
  currentMa,
  switches,
  placement,
  headPlacement,
  power,
  terminals,
  electrical,
}: Supplement) =>
  [
    currentMa === undefined
      ? ''
      : currentMa < 0
        ? `supplies ${-currentMa} mA`
        : `takes ${currentMa} mA`,
    power ? `takes ${power.currentMa} mA of its supply` : '',
    switches ? 'address switches' : '',
    placement || headPlacement ? 'its place on the rail' : '',
    terminals ? `${terminals.length} terminals` : '',
    electrical ? `channel ${wordElectrical(electrical).join(', ')}` : '',
  ]
    .filter(Boolean)
    .join(', ')
/** Heads and modules in this project that it adds to. */
const hits = computed(() => {
  const numbers = new Set(
    props.file.supplements!.map(({ orderNumber }) => orderNumber.toLowerCase()),
  )
  const maker = props.file.vendor.name.toLowerCase()
  return [...(project.derived?.stations.values() ?? [])]
    .filter(({ file }) => file?.vendor.name.toLowerCase() === maker)
    .flatMap(({ modules }) => modules)
    .filter(({ described }) => numbers.has((described?.orderNumber ?? '').toLowerCase())).length
})
</script>

<template>
  <section class="stacked" aria-label="What it adds">
    <div class="titled">
      <h2>Adds to {{ file.supplements!.length }} heads and modules of {{ file.vendor.name }}</h2>
      <NButton size="small" :class="{ main: !isTaken }" @click="toggle">
        {{ isTaken ? 'This project does without' : 'Use in this project' }}
      </NButton>
      <span class="quiet"
        >{{
          isTaken
            ? `In use: ${hits} in this project have it.`
            : `${hits} in this project would have it.`
        }}
        The files themselves stay as they are.</span
      >
    </div>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Order number</th>
          <th scope="col">What it adds</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in file.supplements" :key="one.orderNumber">
          <td class="mono">{{ one.orderNumber }}</td>
          <td>{{ words(one) }}</td>
        </tr>
      </tbody>
    </NTable>
  </section>
</template>

<style scoped>
.titled {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
