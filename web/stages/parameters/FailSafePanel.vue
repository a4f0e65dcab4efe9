<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { monitoringTime, reactionTime, safetySignature, type FailSafePart } from '@kataxis/core'
import { useProject } from '../../stores/project'
import { useSession } from '../../stores/session'

/** What only a fail-safe module has: check sums, monitoring time, the signature of the
 *  safety-relevant part of the plan. */
const props = defineProps<{ part: FailSafePart }>()
const project = useProject()
const session = useSession()
const signer = computed(() => session.user?.fullName ?? '')
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

/** Times of this connection as somebody measured or looked them up; kept in this browser, since
 *  they only serve to find the monitoring time. */
const times = useLocalStorage('kataxis.monitored-times', {
  updateMs: 4,
  deviceMs: 10,
  hostMs: 20,
  ringMs: 0,
  sensorMs: 5,
  outputMs: 12,
})
const monitored = computed(() => monitoringTime(times.value))
const reaction = computed(() => {
  const { updateMs, deviceMs, hostMs, sensorMs, outputMs } = times.value
  const watchdogMs = props.part.f.watchdogMs
  return reactionTime([
    { name: 'sensor', worstMs: sensorMs, watchdogMs: null },
    { name: 'input', worstMs: deviceMs, watchdogMs: null },
    { name: 'network in', worstMs: 2 * updateMs, watchdogMs },
    { name: 'logic', worstMs: 2 * hostMs, watchdogMs: null },
    { name: 'network out', worstMs: 2 * updateMs, watchdogMs },
    { name: 'output', worstMs: outputMs, watchdogMs: null },
  ])
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
      <input
        v-model="sum"
        class="field mono"
        aria-label="Check sum over own parameters"
        placeholder="0x… from the maker’s tool"
      />
      <button class="button small" :disabled="sum.trim() === '' || !session.may('safety')">
        {{ part.sum ? 'Renew' : 'Enter' }}
      </button>
    </form>
    <h3>Monitoring time and reaction</h3>
    <div class="times">
      <label v-for="[key, label] in fields" :key="key"
        ><span class="label">{{ label }}, ms</span
        ><input v-model.number="times[key]" class="field mono" type="number" min="0" step="0.5"
      /></label>
    </div>
    <p>
      At least <strong>{{ monitored.leastMs }} ms</strong>, with reserve
      {{ monitored.suggestedMs }} ms; set are
      <strong :class="{ stale: part.f.watchdogMs < monitored.leastMs }"
        >{{ part.f.watchdogMs }} ms</strong
      >.
      <button
        v-if="part.f.watchdogMs !== monitored.suggestedMs"
        class="button small"
        :disabled="!session.may('safety')"
        @click="useSuggested"
      >
        Set {{ monitored.suggestedMs }} ms
      </button>
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
    <button
      v-if="release?.signature !== signature"
      class="button small"
      :disabled="!session.may('safety')"
      @click="setReleased"
    >
      Release this signature
    </button>
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
