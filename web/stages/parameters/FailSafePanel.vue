<script setup lang="ts">
import {
  safetyChain,
  monitoringTime,
  reactionTime,
  safetySignature,
  usualTimes,
  type FailSafePart,
  type MonitoredTimes,
} from '@kataxis/core'
import { NInputNumber, NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import SwitchCard from '../../parts/SwitchCard.vue'
import TextField from '../../parts/TextField.vue'
import { useProject } from '../../stores/project'
import { useSession } from '../../stores/session'

/** What only a fail-safe module has: check sums, monitoring time, the signature of the
 *  safety-relevant part of the plan. */
const props = defineProps<{ part: FailSafePart }>()
const project = useProject()
const session = useSession()
const signer = computed(() => session.user?.fullName ?? '')
/** Switches of the destination address, where a device sheet says so. */
const switches = computed(() => {
  const { described } = props.part.module
  return described && 'failSafeSwitches' in described ? (described.failSafeSwitches ?? null) : null
})
const setDestination = (value: number) =>
  project.run({
    type: 'setParameters',
    edits: [
      {
        moduleId: props.part.module.id,
        record: props.part.placed.key,
        parameter: 'F_Dest_Add',
        value,
      },
    ],
  })
const sum = ref('')
const hex = (value: number, digits: number) => `0x${value.toString(16).padStart(digits, '0')}`
const isStale = computed(() => props.part.sum !== null && props.part.sum.over !== props.part.own)
const signature = computed(() => safetySignature(project.derived!))
const release = computed(() => project.plan!.project.safetyRelease)

function enterSum(): void {
  const written = sum.value.trim()
  const crc = /^(0x[0-9a-f]{1,8}|\d+)$/i.test(written) ? Number(written) : NaN
  if (!(crc <= 0xffffffff))
    return project.tell(`"${written}" is no check sum; a number such as 0x89abcdef is needed.`)
  if (
    project.run({
      type: 'setIParameterSum',
      moduleId: props.part.module.id,
      subslot: props.part.placed.subslot ?? 1,
      crc,
      by: signer.value,
      at: new Date().toISOString(),
    })
  )
    sum.value = ''
}
const setReleased = () =>
  project.run({
    type: 'setProject',
    set: {
      safetyRelease: {
        signature: signature.value!,
        by: signer.value,
        at: new Date().toISOString(),
      },
    },
  })

/** Of this connection; the usual ones where nobody said. */
const times = computed(() => props.part.times ?? usualTimes)
const monitored = computed(() => monitoringTime(times.value))
const reaction = computed(() => reactionTime(safetyChain(times.value, props.part.f.watchdogMs)))
const setTime = (key: keyof MonitoredTimes, ms: number | null) =>
  ms !== null &&
  ms !== times.value[key] &&
  project.run({
    type: 'setMonitoredTimes',
    moduleId: props.part.module.id,
    subslot: props.part.placed.subslot ?? 1,
    times: { ...times.value, [key]: ms },
  })
const fields = [
  ['updateMs', 'Update time'],
  ['deviceMs', 'Device'],
  ['hostMs', 'Controller cycle'],
  ['ringMs', 'Ring closes in'],
  ['sensorMs', 'Sensor'],
  ['outputMs', 'Output'],
] as const
const useSuggested = () =>
  project.run({
    type: 'setParameters',
    edits: [
      {
        moduleId: props.part.module.id,
        record: props.part.placed.key,
        parameter: 'F_WD_Time',
        value: monitored.value.suggestedMs,
      },
    ],
  })
const day = (at: string) => at.slice(0, 10)
</script>

<template>
  <section class="safe" aria-label="Fail-safe">
    <h2>Fail-safe</h2>
    <dl>
      <dt>F addresses</dt>
      <dd>
        <span class="mono">{{ part.f.sourceAddress }} → {{ part.f.destinationAddress }}</span>
      </dd>
      <dt>F_Par_CRC</dt>
      <dd>
        <span class="mono">{{ hex(part.f.parameterCrc, 4) }}</span> follows from the block
      </dd>
      <template v-if="part.f.hasIParameterCrc">
        <dt>F_iPar_CRC</dt>
        <dd :class="{ stale: isStale || !part.sum }">
          <template v-if="part.sum"
            ><span class="mono">{{ hex(part.sum.crc, 8) }}</span> by {{ part.sum.by }},
            {{ day(part.sum.at)
            }}<template v-if="isStale">
              · <strong>stale: own parameters changed since</strong></template
            ></template
          >
          <strong v-else>missing</strong>
        </dd>
      </template>
    </dl>
    <form v-if="part.f.hasIParameterCrc" class="line" @submit.prevent="enterSum">
      <TextField v-model:value="sum" label="Check sum over own parameters" mono placeholder="0x…" />
      <NButton
        size="small"
        attr-type="submit"
        :disabled="sum.trim() === '' || !session.may('safety')"
      >
        {{ part.sum ? 'Renew' : 'Enter' }}
      </NButton>
    </form>
    <SwitchCard
      v-if="switches"
      :bank="switches"
      :address="part.f.destinationAddress"
      title="F destination address"
      @take="setDestination"
    />
    <h3>Monitoring time and reaction</h3>
    <div class="times">
      <label v-for="[key, label] in fields" :key="key"
        ><span class="label">{{ label }}</span
        ><NInputNumber
          :value="times[key]"
          :update-value-on-input="false"
          :show-button="false"
          :min="0"
          :max="60_000"
          :step="0.5"
          size="small"
          :input-props="{ 'aria-label': `${label}, ms` }"
          @update:value="setTime(key, $event)"
          ><template #suffix>ms</template></NInputNumber
        ></label
      >
    </div>
    <p v-if="part.times === null" class="quiet">
      Usual times; those of this connection are not entered.
    </p>
    <p>
      At least <strong>{{ monitored.leastMs }} ms</strong>, with reserve
      {{ monitored.suggestedMs }} ms; set are
      <strong :class="{ stale: part.f.watchdogMs < monitored.leastMs }"
        >{{ part.f.watchdogMs }} ms</strong
      >.
      <NButton
        v-if="part.f.watchdogMs !== monitored.suggestedMs"
        size="small"
        :disabled="!session.may('safety')"
        @click="useSuggested"
      >
        Set {{ monitored.suggestedMs }} ms
      </NButton>
    </p>
    <p>
      From sensor to output {{ reaction.normalMs }} ms at the slowest, {{ reaction.worstMs }} ms
      with one fault<template v-if="reaction.decidedBy">
        (the one on {{ reaction.decidedBy }} decides)</template
      >.
    </p>
    <h3>Signature of all that is fail-safe in the plan</h3>
    <p class="mono signature">{{ signature }}</p>
    <p v-if="release" :class="{ stale: release.signature !== signature }">
      {{ release.signature === signature ? 'As released' : 'Changed since it was released' }} by
      {{ release.by }}, {{ day(release.at) }}.
    </p>
    <p v-else class="quiet">Not released yet.</p>
    <NButton
      v-if="release?.signature !== signature"
      size="small"
      :disabled="!session.may('safety')"
      @click="setReleased"
    >
      Release this signature
    </NButton>
  </section>
</template>

<style scoped>
.safe {
  display: grid;
  gap: 8px;
  justify-items: start;
  border-left: 5px double var(--ink-2);
  padding-left: 12px;
}
dl {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 2px 10px;
  margin: 0;
  font: 13px/1.4 var(--narrow);
}
dt {
  color: var(--ink-2);
}
dd {
  margin: 0;
}
.stale {
  color: var(--accent);
}
.line {
  display: flex;
  gap: 6px;
  width: 330px;
}
.times {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 6px;
}
.signature {
  overflow-wrap: anywhere;
}
p {
  font: 13px/1.5 var(--narrow);
}
</style>
