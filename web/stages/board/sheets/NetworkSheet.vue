<script setup lang="ts">
import { computed } from 'vue'
import { formatSubnet, kindOf, subnetOf } from '@kataxis/core'
import EditField from '../../../parts/EditField.vue'
import FindingList from '../../../parts/FindingList.vue'
import { useProject } from '../../../stores/project'

const props = defineProps<{ id: string }>()
const project = useProject()
const network = computed(() => project.plan!.networks[props.id]!)
const kind = computed(() => kindOf(network.value))
const stations = computed(() => project.derived!.controllers.flatMap(({ networks }) => networks).find((one) => one.network.id === props.id)!.stations)
const subnet = computed(() => kind.value.hasIp && subnetOf(network.value.controllerIp, network.value.prefixLength))
const set = (values: { name?: string; controllerIp?: string; prefixLength?: number }) => project.run({ type: 'updateNetwork', id: props.id, set: values })
function setPrefix(text: string) {
  const length = Number(text)
  if (!Number.isInteger(length) || length < 1 || length > 30) return project.tell(`"${text}" is no prefix length; a whole number from 1 to 30 is needed.`)
  set({ prefixLength: length })
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Network · {{ kind.name }}</h3>
      <h1>{{ network.name || '(no name)' }}</h1>
      <p v-if="subnet" class="quiet">Subnet <span class="mono">{{ formatSubnet(subnet) }}</span>, room for {{ subnet.broadcast - subnet.network - 2 }} stations beside the controller</p>
    </header>
    <FindingList :ids="[id]" />
    <EditField label="Name" :value="network.name" @change="set({ name: $event.trim() })" />
    <p class="quiet">{{ kind.number.word }} {{ kind.number.first }} to {{ kind.number.last }}; {{ stations.length }} given out.</p>
    <div v-if="kind.hasIp" class="pair">
      <EditField label="Controller’s IP address" :value="network.controllerIp" mono @change="set({ controllerIp: $event.trim() })" />
      <EditField label="Prefix length" :value="String(network.prefixLength)" mono @change="setPrefix" />
    </div>
    <button class="button small" @click="project.run({ type: 'removeNetwork', id })">Remove the network and its stations</button>
  </div>
</template>
