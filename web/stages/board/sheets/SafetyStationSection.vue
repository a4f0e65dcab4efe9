<script setup lang="ts">
import {
  failSafeParts,
  ipOf,
  nodeReference,
  safetyConfigurationOf,
  safetyNetworkNumberOf,
  safetySignature,
  isConfigurationStale,
  type DerivedStation,
} from '@kataxis/core'
import { NButton, NDatePicker } from 'naive-ui'
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
const isStale = computed(() => isConfigurationStale(props.view, project.catalog))
/** The number that the maker's tool shows, with its own date and time. */
const signature = ref('')
const made = ref<number | null>(null)
const set = (text: string, madeAt = '') =>
  project.run({
    type: 'setSafetyConfiguration',
    id: props.view.id,
    signature: text,
    madeAt,
    by: session.user?.fullName ?? '',
    at: new Date().toISOString(),
  })
function enter(): void {
  const text = signature.value.trim().toLowerCase().replace(/^0x/, '').replace(/[\s_]/g, '')
  if (!/^[0-9a-f]{1,8}$/.test(text))
    return project.tell(
      `"${signature.value}" is no configuration signature; a number such as 0x89AB12CD is needed.`,
    )
  const madeAt = made.value === null ? '' : new Date(made.value).toISOString()
  if (set(`0x${text.padStart(8, '0')}`, madeAt)) signature.value = ''
}
const wordTime = (at: string) => (at === '' ? '' : at.replace('T', ' ').slice(0, 19))
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
        Configuration signature <span class="mono">{{ entered.signature }}</span><template
          v-if="entered.madeAt"
        >
          of {{ wordTime(entered.madeAt) }}</template
        >, entered by {{ entered.by }}, {{ entered.at.slice(0, 10)
        }}<template v-if="isStale"> · stale: modules or parameters changed since</template>
      </p>
      <form class="line" @submit.prevent="enter">
        <TextField
          v-model:value="signature"
          label="Configuration signature"
          mono
          placeholder="0x89AB12CD"
        /><NDatePicker
          v-model:value="made"
          type="datetime"
          clearable
          size="medium"
          :input-props="{ 'aria-label': 'Its own date and time' } as never"
          placeholder="its date and time"
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
