<script setup lang="ts">
import { timeBasedNetworkNumber, type NetworkRow } from '@kataxis/core'
import { NButton } from 'naive-ui'
import EditField from '../../../parts/EditField.vue'
import { useProject } from '../../../stores/project'

/** The safety network number of an EtherNet/IP network, by hand or by the time. */
const props = defineProps<{ network: NetworkRow }>()
const project = useProject()
const set = (safetyNetworkNumber: string) =>
  project.run({
    type: 'updateNetwork',
    id: props.network.id,
    set: { settings: { safetyNetworkNumber } },
  })
function take(text: string): void {
  const digits = text.toLowerCase().replace(/[\s_.-]/g, '')
  if (!/^([0-9a-f]{12})?$/.test(digits))
    return project.tell(`"${text}" is no safety network number; twelve hex digits are needed.`)
  set(digits)
}
</script>

<template>
  <section v-if="'safetyNetworkNumber' in network.settings" aria-label="CIP safety">
    <h2>CIP safety</h2>
    <div class="line">
      <EditField
        label="Safety network number, twelve hex digits"
        :value="network.settings.safetyNetworkNumber.match(/..../g)?.join('_') ?? ''"
        mono
        @change="take"
      />
      <NButton size="small" @click="set(timeBasedNetworkNumber(new Date()))"> By the time </NButton>
    </div>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  gap: 8px;
  align-items: end;
}
.line > :first-child {
  flex: 1;
}
</style>
