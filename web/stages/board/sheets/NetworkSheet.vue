<script setup lang="ts">
import {
  controllerIpOf,
  formatSubnet,
  kindOf,
  prefixLengthOf,
  protocolOn,
  subnetOfNetwork,
  type CommandOf,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import EditField from '../../../parts/EditField.vue'
import FindingList from '../../../parts/FindingList.vue'
import { useProject } from '../../../stores/project'
import LogicalImageSection from './LogicalImageSection.vue'
import NetworkIdentities from './NetworkIdentities.vue'
import RequestSettings from './RequestSettings.vue'
import SafetyNetworkSection from './SafetyNetworkSection.vue'

const props = defineProps<{ id: string }>()
const project = useProject()
const network = computed(() => project.plan!.networks[props.id]!)
const kind = computed(() => kindOf(network.value))
const stations = computed(
  () =>
    project
      .derived!.controllers.flatMap(({ networks }) => networks)
      .find((one) => one.network.id === props.id)!.stations,
)
const subnet = computed(() => subnetOfNetwork(network.value))
const set = (values: CommandOf<'updateNetwork'>['set']) =>
  project.run({ type: 'updateNetwork', id: props.id, set: values })
function setPrefixLength(text: string): void {
  const prefixLength = Number(text)
  if (!Number.isInteger(prefixLength) || prefixLength < 1 || prefixLength > 30)
    return project.tell(`"${text}" is no prefix length; a whole number from 1 to 30 is needed.`)
  set({ settings: { prefixLength } })
}
const sharing = computed(() =>
  Object.values(project.plan!.networks)
    .filter(
      (other) =>
        other.id !== props.id &&
        other.cable === network.value.cable &&
        kindOf(other).hasIp === kind.value.hasIp,
    )
    .map(({ name }) => name),
)
const logical = computed(() => protocolOn(network.value).logicalImage?.(stations.value) ?? null)
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Network · {{ kind.name }}</h3>
      <h1>{{ network.name || '(no name)' }}</h1>
      <p v-if="subnet" class="quiet">
        Subnet <span class="mono">{{ formatSubnet(subnet) }}</span>, room for
        {{ subnet.broadcast - subnet.network - 2 }} stations beside the controller
      </p>
    </header>
    <FindingList :ids="[id]" />
    <section>
      <EditField label="Name" :value="network.name" @change="set({ name: $event.trim() })" />
      <div v-if="kind.hasIp" class="pair">
        <EditField
          label="Controller’s IP address"
          :value="controllerIpOf(network)"
          mono
          @change="set({ settings: { controllerIp: $event.trim() } })"
        />
        <EditField
          label="Prefix length"
          :value="String(prefixLengthOf(network))"
          mono
          @change="setPrefixLength($event)"
        />
      </div>
      <EditField
        label="Cable it shares, empty: the plant’s"
        :value="network.cable"
        @change="set({ cable: $event.trim() })"
      />
      <p v-if="kind.hasIp" class="quiet">
        {{
          sharing.length === 0
            ? 'No other network with IP addresses is on it.'
            : `Addresses are unique together with ${sharing.join(', ')}.`
        }}
      </p>
    </section>
    <SafetyNetworkSection :network="network" />
    <NetworkIdentities :network="network" :stations="stations.length" />
    <RequestSettings
      v-if="'requestMs' in network.settings"
      :network="network"
      :request-ms="network.settings.requestMs"
      :stations="stations"
    />
    <LogicalImageSection v-if="logical && logical.parts.length > 0" :image="logical" />
    <NButton size="small" @click="project.run({ type: 'removeNetwork', id })">
      Remove the network and its stations
    </NButton>
  </div>
</template>
