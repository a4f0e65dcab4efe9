<script setup lang="ts">
import {
  arithmetics,
  processEnds,
  scalingSnippet,
  sensorOf,
  wordRange,
  type Arithmetic,
  type Chain,
  type Ne43Mark,
} from '@kataxis/core'
import { NButton, NTable } from 'naive-ui'
import { computed, ref } from 'vue'
import { plainChoices } from '../../parts/choices'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'
import { word } from './scales'
import type { RangeBench } from './useRangeBench'

/** What the signal's chain means for the program: the scaling block, the Structured Text and the
 *  limits of NAMUR NE 43. */
const { bench, chain, signal } = defineProps<{
  bench: RangeBench
  chain: Chain
  signal: { readonly id: string; readonly tag: string }
}>()
const project = useProject()
const { right, marks } = bench

const arithmetic = ref<Arithmetic>('REAL')
const decimals = ref(2)
const snippet = computed(() =>
  scalingSnippet(chain, {
    raw: `${signal.tag || 'signal'}_raw`,
    target: signal.tag || 'signal',
    arithmetic: arithmetic.value,
    decimals: decimals.value,
  }),
)
const ends = computed(() => processEnds(chain))
function noteRight(): void {
  if (right.value)
    project.run({
      type: 'editSignals',
      edits: [
        {
          id: signal.id,
          facts: {
            scaling: {
              ...right.value,
              rawLow: Number(right.value.rawLow.toPrecision(9)),
              rawHigh: Number(right.value.rawHigh.toPrecision(9)),
            },
          },
        },
      ],
    })
}

const markWords: Readonly<Record<Ne43Mark, string>> = {
  failureLow: 'failure at or below',
  low: 'measures from',
  high: 'measures to',
  failureHigh: 'failure at or above',
}
</script>

<template>
  <div class="figures">
    <section v-if="right">
      <h2>To type into a scaling block</h2>
      <NTable size="small" :bordered="false" class="numbers">
        <thead>
          <tr>
            <th scope="col"></th>
            <th scope="col">Counts</th>
            <th scope="col">{{ chain.process.unit || 'Value' }}</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">low</th>
            <td class="mono">{{ word(right.rawLow, 9) }}</td>
            <td class="mono">{{ word(right.low, 9) }}</td>
          </tr>
          <tr>
            <th scope="row">high</th>
            <td class="mono">{{ word(right.rawHigh, 9) }}</td>
            <td class="mono">{{ word(right.high, 9) }}</td>
          </tr>
        </tbody>
      </NTable>
      <NButton v-if="!sensorOf(chain.channel)" size="small" @click="noteRight">
        Note as scaled in the program
      </NButton>
    </section>
    <section>
      <h2>Structured Text</h2>
      <div class="how">
        <PickField
          v-model:value="arithmetic"
          label="Arithmetic"
          :options="plainChoices(arithmetics)"
        />
        <label v-if="arithmetic !== 'REAL'"
          >decimals <NumberField v-model:value="decimals" label="Decimals" :min="0" :max="6"
        /></label>
      </div>
      <pre v-if="snippet?.text" class="mono">{{ snippet.text }}</pre>
      <p v-if="snippet?.warning" class="fault">{{ snippet.warning }}</p>
    </section>
    <section v-if="marks.length > 0">
      <h2>NAMUR NE 43</h2>
      <NTable size="small" :bordered="false" class="numbers">
        <thead>
          <tr>
            <th scope="col"></th>
            <th scope="col">mA</th>
            <th scope="col">Counts</th>
            <th scope="col">{{ chain.process.unit }}</th>
            <th scope="col">Told</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in marks" :key="one.mark">
            <th scope="row">{{ markWords[one.mark] }}</th>
            <td class="mono">{{ one.signal }}</td>
            <td class="mono">{{ word(one.counts, 7) }}</td>
            <td class="mono">{{ word(one.process) }}</td>
            <td :class="{ fault: !one.isVisible }">{{ one.isVisible ? 'yes' : 'no' }}</td>
          </tr>
        </tbody>
      </NTable>
    </section>
    <p class="quiet">
      {{
        sensorOf(chain.channel)
          ? `The sensor’s standard covers ${ends[0]} to ${ends[1]} °C.`
          : `${wordRange(chain.transmitter)} for ${ends[0]} to ${ends[1]} ${chain.process.unit}, on ${wordRange(chain.channel)}, as ${chain.format.name}.`
      }}
    </p>
  </div>
</template>

<style scoped>
.figures {
  display: grid;
  gap: 12px;
}
section {
  display: grid;
  gap: 7px;
}
.numbers td,
.numbers th:not(:first-child) {
  text-align: right;
}
section > .n-button {
  justify-self: start;
}
.how {
  display: flex;
  gap: 10px;
  align-items: center;
}
.how :is(.text-field, .number-field, .n-select) {
  width: 90px;
}
pre {
  margin: 0;
  padding: 8px 10px;
  background: var(--paper-2);
  font-size: 12px;
  line-height: 1.5;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
.fault {
  color: var(--accent);
  font: 13px/1.45 var(--sans);
}
</style>
