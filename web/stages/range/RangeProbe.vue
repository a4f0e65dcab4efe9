<script setup lang="ts">
import {
  convertUnit,
  factColumns,
  readAs,
  sensorOf,
  signalUnit,
  unitsLike,
  wordRange,
  type Link,
} from '@kataxis/core'
import { computed } from 'vue'
import TypedInput from '../../parts/TypedInput.vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import ScaleChart from './ScaleChart.vue'
import { heightsOf, signalAtHeight, word } from './scales'
import type { RangeBench } from './useRangeBench'

/** The aligned scales of one signal with the probe across them, and the station's other signals at
 *  the same height. */
const { bench } = defineProps<{ bench: RangeBench }>()
const project = useProject()
const { goTo } = useFocus()
const { chain, fault, signal, reading, noted, other, worst, wrongValue, step, others } = bench

const fields = computed<readonly { link: Link; label: string; unit: string; value: string }[]>(
  () => {
    const { value: now } = reading
    if (!now || !chain.value) return []
    return [
      {
        link: 'process',
        label: 'Process',
        unit: chain.value.process.unit,
        value: word(now.process, 6),
      },
      {
        link: 'signal',
        label: sensorOf(chain.value.channel) ? 'Sensor' : 'Signal',
        unit: signalUnit(chain.value.channel),
        value: word(now.signal, 6),
      },
      { link: 'raw', label: 'Counts', unit: chain.value.format.type, value: word(now.raw, 10) },
      {
        link: 'value',
        label: 'In the program',
        unit: chain.value.process.unit,
        value: word(now.value, 6),
      },
    ]
  },
)
function type(link: Link, text: string): void {
  const value = Number(text.trim().replace(',', '.'))
  if (Number.isFinite(value)) bench.set(link, value)
  else project.tell(`“${text}” is no number.`)
}
const converted = computed(() =>
  chain.value && reading.value?.process != null
    ? unitsLike(chain.value.process.unit)
        .slice(1, 5)
        .flatMap((unit) => {
          const value = convertUnit(reading.value!.process!, chain.value!.process.unit, unit)
          return value === null ? [] : [`${word(value)} ${unit}`]
        })
    : [],
)
/** What the counts show where the program reads another type of the same size. */
const misread = computed(() => {
  const { value: now } = reading
  if (!chain.value || now?.raw == null) return null
  const { type: sent } = chain.value.format
  const as = sent === 'INT' ? 'UINT' : sent === 'UINT' ? 'INT' : null
  const shown = as && readAs(now.raw, sent, as)
  return shown === null || shown === now.raw ? null : `read as ${as}: ${shown}`
})
/** The small ones stand at the same height. */
const height = computed(() => (chain.value ? heightsOf(chain.value, signal.value, null).at : 0.5))
</script>

<template>
  <div class="left" tabindex="0" aria-label="Scales">
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <template v-else-if="chain">
      <div class="probes">
        <TypedInput
          v-for="field in fields"
          :key="field.link"
          class="probe-field"
          :label="`${field.label}, ${field.unit}`"
          shown
          mono
          :value="field.value"
          @change="type(field.link, $event)"
        />
        <div v-if="wrongValue !== null" class="probe-field wrong">
          <span class="label">{{
            noted ? 'As it is scaled' : 'Scaled over all counts'
          }}</span><output class="mono">{{ word(wrongValue) }}</output>
        </div>
      </div>
      <ScaleChart :chain="chain" :signal="signal" :other="other" @probe="signal = $event" />
      <p class="quiet">
        <template v-if="step !== null"
          >One count is {{ word(step, 3) }} {{ chain.process.unit }}.
        </template>
        <template v-if="reading?.beyond"
          >{{ reading.beyond === 'over' ? 'Above' : 'Below' }} what the module can say.
        </template>
        <template v-if="misread">{{ reading?.raw }} {{ misread }}. </template>
        <template v-if="converted.length > 0"
          >{{ word(reading?.process ?? null) }} {{ chain.process.unit }} =
          {{ converted.join(' = ') }}.</template
        >
      </p>
      <p v-if="worst" class="fault">
        {{ noted ? 'As it is scaled in the program' : 'Scaled over all counts, as often happens' }},
        it shows {{ word(Math.abs(worst.error), 4) }} {{ chain.process.unit }} too
        {{ worst.error > 0 ? 'much' : 'little' }} at {{ word(worst.process) }}
        {{ chain.process.unit }}.
      </p>
      <section v-if="others.length > 0" aria-label="Other signals of this station">
        <h2>On the same station</h2>
        <div class="multiples">
          <button
            v-for="one in others"
            :key="one.signal.id"
            class="multiple"
            @click="goTo('range', { kind: 'signal', id: one.signal.id })"
          >
            <strong>{{ one.signal.tag || one.channel.name }}</strong>
            <small>{{
              factColumns.measures.word(one.signal.facts) || wordRange(one.chain.channel)
            }}</small>
            <ScaleChart
              small
              :chain="one.chain"
              :signal="signalAtHeight(one.chain, height)"
              :other="one.wrong"
            />
          </button>
        </div>
      </section>
    </template>
  </div>
</template>

<style scoped>
.left {
  overflow: auto;
  padding: 12px 18px 40px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.left > * {
  flex: none;
}
section {
  display: grid;
  gap: 7px;
}
.probes {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  gap: 10px;
}
.probe-field output {
  display: block;
  padding: 5px 8px;
  border: 1px dashed var(--accent);
  border-radius: 3px;
  font-size: 12px;
  color: var(--accent);
}
.fault {
  color: var(--accent);
  font: 13px/1.45 var(--sans);
}
.multiples {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 10px;
}
.multiple {
  border: 1px solid var(--line);
  background: none;
  color: var(--ink);
  text-align: left;
  padding: 6px 8px;
  font: 12px/1.3 var(--narrow);
  cursor: pointer;
}
.multiple small {
  margin-left: 6px;
}
.multiple:hover {
  background: var(--paper-2);
}
</style>
