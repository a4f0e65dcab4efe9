<script setup lang="ts">
import {
  failSafeParts,
  ipOf,
  nodeReference,
  safetyConfigurationOf,
  safetyNetworkNumberOf,
  safetySignature,
  stationParameterSignature,
  type DerivedStation,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import TextField from '../../../parts/TextField.vue'
import { useProject } from '../../../stores/project'
import { useSession } from '../../../stores/session'

/** What is fail-safe of a station: its modules' addresses and the plan's signature; in CIP safety
 *  its reference and configuration signature. */
const props = defineProps<{ view: DerivedStation }>()
const project = useProject()
const session = useSession()
const network = computed(() => project.plan!.networks[props.view.station.networkId])
const parts = computed(() => failSafeParts(props.view, project.catalog))
const reference = computed(() =>
  nodeReference(
    network.value ? safetyNetworkNumberOf(network.value) : '',
    ipOf(props.view.station),
  ),
)
const entered = computed(() => safetyConfigurationOf(props.view.station))
const isStale = computed(
  () =>
    entered.value !== null &&
    entered.value.over !== stationParameterSignature(props.view, project.catalog),
)
const signature = ref('')
const set = (text: string) =>
  project.run({
    type: 'setSafetyConfiguration',
    id: props.view.id,
    signature: text,
    by: session.user?.fullName ?? '',
    at: new Date().toISOString(),
  })
function enter(): void {
  if (set(signature.value.trim())) signature.value = ''
}
</script>

<template>
  <section v-if="parts.length > 0 || reference || entered" aria-label="Safety">
    <h2>Fail-safe</h2>
    <p v-for="part in parts" :key="part.module.id + part.placed.key">
      Slot {{ part.module.slot }}, {{ part.module.described?.name }}: F address
      <span class="mono">{{ part.f.destinationAddress }}</span>, {{ part.f.watchdogMs }} ms, CRC
      <span class="mono">0x{{ part.f.parameterCrc.toString(16).padStart(4, '0') }}</span>
    </p>
    <p v-if="parts.length > 0" class="quiet">
      Signature of all that is fail-safe
      <span class="mono">{{ safetySignature(project.derived!)?.slice(0, 12) }}…</span>
    </p>
    <template v-if="reference || entered">
      <p v-if="reference">
        Node reference <span class="mono">{{ reference }}</span>
      </p>
      <p v-if="entered" :class="{ stale: isStale }">
        Configuration signature <span class="mono">{{ entered.signature }}</span> by
        {{ entered.by }}, {{ entered.at.slice(0, 10)
        }}<template v-if="isStale"> · stale: parameters changed since</template>
      </p>
      <form class="line" @submit.prevent="enter">
        <TextField
          v-model:value="signature"
          label="Configuration signature"
          mono
          placeholder="as the maker’s tool shows it"
        /><NButton size="small" attr-type="submit" :disabled="signature.trim() === ''">
          {{ entered ? 'Renew' : 'Enter' }}
        </NButton>
        <NButton v-if="entered" size="small" @click="set('')"> Take away </NButton>
      </form>
    </template>
  </section>
</template>

<style scoped>
p {
  font: 13px/1.5 var(--narrow);
}
.line {
  display: flex;
  gap: 6px;
}
.stale {
  color: var(--accent);
}
</style>
