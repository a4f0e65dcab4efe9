<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import {
  arithmetics,
  convertUnit,
  editFor,
  electricalOf,
  factColumns,
  formatKeyOf,
  formatOfSheet,
  processEnds,
  rangesOf,
  rawFormatsOf,
  readAs,
  scalingSnippet,
  sensorOf,
  signalUnit,
  unitsLike,
  wordRange,
  uncompensated,
  type Arithmetic,
  type FactName,
  type Link,
  type Ne43Mark,
} from '@kataxis/core'
import EditField from '../../parts/EditField.vue'
import PageHead from '../../parts/PageHead.vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import ScaleChart from './ScaleChart.vue'
import { heightsOf, signalAtHeight, word } from './scales'
import { useRangeBench } from './useRangeBench'
import TypedInput from '../../parts/TypedInput.vue'

/** One signal from the process to the program: aligned scales, the probe, what is right and what
 *  would be wrong. */
const route = useRoute()
const project = useProject()
const { focus, goTo } = useFocus()
const id = computed(() => focus.value?.id ?? '')
const bench = useRangeBench(id)
const {
  signals,
  found,
  chain,
  assumed,
  fault,
  signal,
  reading,
  right,
  noted,
  other,
  worst,
  wrongValue,
  marks,
  step,
  setting,
  others,
} = bench

const arithmetic = ref<Arithmetic>('REAL')
const decimals = ref(2)
const snippet = computed(() =>
  chain.value && found.value
    ? scalingSnippet(chain.value, {
        raw: `${found.value.signal.tag || 'signal'}_raw`,
        target: found.value.signal.tag || 'signal',
        arithmetic: arithmetic.value,
        decimals: decimals.value,
      })
    : null,
)
const place = computed(() =>
  found.value
    ? `${found.value.view.station.name} · slot ${found.value.module.slot} · ${found.value.channel.name}`
    : '',
)
const formats = computed(() => rawFormatsOf(project.plan!.project))
/** Empty where the module's sheet says it and the project nothing else. */
const formatName = computed(() =>
  ofSheet.value === chain.value?.format
    ? ''
    : (Object.entries(formats.value).find(([, one]) => one === chain.value?.format)?.[0] ?? ''),
)
const ofSheet = computed(() => (found.value ? formatOfSheet(found.value.module) : null))
const benchFacts = computed<readonly FactName[]>(() => [
  'measures',
  'transmitter',
  chain.value?.channel.kind === 'thermocouple' ? 'coldEnd' : 'characteristic',
  'scaling',
  'readAs',
])
const fixedRange = computed(() => electricalOf(found.value?.module.described ?? null).range)
/** What a channel shows that takes no care of the cold end, at the probe. */
const uncared = computed(() => {
  const process = reading.value?.process
  const shown =
    chain.value && process !== null && process !== undefined
      ? uncompensated(chain.value, process)
      : null
  return shown === null || Math.abs(shown - process!) < 0.05
    ? null
    : `With its terminals at ${found.value!.signal.facts.coldEnd} °C a channel that does not add its cold end would show ${word(shown, 5)} °C for ${word(process!, 5)} °C.`
})

const said = computed(() => [...(uncared.value ? [uncared.value] : []), ...assumed.value])

function setFact(name: FactName, text: string): void {
  const facts = factColumns[name].read(text.trim())
  if (typeof facts === 'string') project.tell(`${factColumns[name].heading}: ${facts}.`)
  else project.run({ type: 'editSignals', edits: [{ id: id.value, facts }] })
}
function setFormat(name: string): void {
  const { [formatKeyOf(found.value!.module)]: _before, ...others } =
    project.plan!.project.moduleFormats
  project.run({
    type: 'setProject',
    set: {
      moduleFormats: name === '' ? others : { ...others, [formatKeyOf(found.value!.module)]: name },
    },
  })
}
function setRange(words: string): void {
  const edit = editFor(found.value!.module.id, setting.value!, words)
  if (typeof edit === 'string') project.tell(edit)
  else project.run({ type: 'setParameters', edits: [edit] })
}
function noteRight(): void {
  if (right.value)
    project.run({
      type: 'editSignals',
      edits: [
        {
          id: id.value,
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
const markWords: Readonly<Record<Ne43Mark, string>> = {
  failureLow: 'failure at or below',
  low: 'measures from',
  high: 'measures to',
  failureHigh: 'failure at or above',
}
/** The small ones stand at the same height. */
const height = computed(() => (chain.value ? heightsOf(chain.value, signal.value, null).at : 0.5))
const ends = computed(() => (chain.value ? processEnds(chain.value) : null))
</script>

<template>
  <article class="bench">
    <PageHead
      :above="place || 'Range bench'"
      :title="found?.signal.tag || 'Range bench'"
      :quiet="found?.signal.comment ?? ''"
    >
      <select
        class="field pick"
        aria-label="Signal on the bench"
        :value="id"
        @change="goTo('range', { kind: 'signal', id: ($event.target as HTMLSelectElement).value })"
      >
        <option v-if="!found" value="">Choose a signal …</option>
        <option v-for="one in signals" :key="one.signal.id" :value="one.signal.id">
          {{ one.signal.tag || one.signal.comment || one.channel.name }} ·
          {{ one.view.station.name }}
        </option>
      </select>
      <button v-if="found" class="button small" @click="goTo('ledger', { kind: 'signal', id })">
        Show in the Ledger
      </button>
    </PageHead>

    <div v-if="found" class="columns">
      <div class="left" tabindex="0" aria-label="Scales">
        <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
        <template v-else-if="chain">
          <div class="probes">
            <label v-for="field in fields" :key="field.link" class="probe-field"
              ><span class="label">{{ field.label }}, {{ field.unit }}</span
              ><TypedInput
                class="field mono"
                :value="field.value"
                @change="type(field.link, $event)"
            /></label>
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
            {{
              noted ? 'As it is scaled in the program' : 'Scaled over all counts, as often happens'
            }}, it shows {{ word(Math.abs(worst.error), 4) }} {{ chain.process.unit }} too
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

      <aside tabindex="0" aria-label="Figures">
        <section class="facts">
          <h2>What is known</h2>
          <EditField
            v-for="name in benchFacts"
            :key="name"
            :label="factColumns[name].heading"
            :value="factColumns[name].word(found.signal.facts)"
            :title="factColumns[name].help"
            mono
            @change="setFact(name, $event)"
          />
          <EditField
            v-if="!setting && found.channel.kind === 'analog' && fixedRange === undefined"
            :label="factColumns.channelRange.heading"
            :value="factColumns.channelRange.word(found.signal.facts)"
            :title="factColumns.channelRange.help"
            mono
            @change="setFact('channelRange', $event)"
          />
          <p v-if="fixedRange !== undefined && !setting" class="quiet">
            The channel takes {{ fixedRange }}, fixed, as its sheet says.
          </p>
          <label v-if="setting"
            ><span class="label">Channel is set to</span
            ><select
              class="field"
              :value="setting.words"
              @change="setRange(($event.target as HTMLSelectElement).value)"
            >
              <option
                v-for="one in rangesOf(setting)"
                :key="one.value"
                :value="wordRange(one.range)"
              >
                {{ wordRange(one.range) }}
              </option>
            </select></label
          >
          <label v-if="chain"
            ><span class="label">{{ found.module.described?.name }} counts</span
            ><select
              class="field"
              :value="formatName"
              @change="setFormat(($event.target as HTMLSelectElement).value)"
            >
              <option v-if="ofSheet" value="">
                as its sheet says: {{ ofSheet.name }} · {{ ofSheet.type }}
              </option>
              <option v-for="(one, name) in formats" :key="name" :value="name">
                {{ one.name }} · {{ one.type }}
              </option>
            </select></label
          >
          <ul v-if="said.length > 0" class="assumed">
            <li v-for="one in said" :key="one">{{ one }}</li>
          </ul>
        </section>
        <template v-if="chain && !fault">
          <section v-if="right">
            <h2>To type into a scaling block</h2>
            <table class="plain-table numbers">
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
            </table>
            <button v-if="!sensorOf(chain.channel)" class="button small" @click="noteRight">
              Note as scaled in the program
            </button>
          </section>
          <section>
            <h2>Structured Text</h2>
            <div class="how">
              <select v-model="arithmetic" class="field" aria-label="Arithmetic">
                <option v-for="one in arithmetics" :key="one" :value="one">{{ one }}</option>
              </select>
              <label v-if="arithmetic !== 'REAL'"
                >decimals
                <input
                  v-model.number="decimals"
                  class="field mono"
                  type="number"
                  min="0"
                  max="6"
                  aria-label="Decimals"
              /></label>
            </div>
            <pre v-if="snippet?.text" class="mono">{{ snippet.text }}</pre>
            <p v-if="snippet?.warning" class="fault">{{ snippet.warning }}</p>
          </section>
          <section v-if="marks.length > 0">
            <h2>NAMUR NE 43</h2>
            <table class="plain-table numbers">
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
            </table>
          </section>
          <p v-if="ends" class="quiet">
            {{
              sensorOf(chain.channel)
                ? `The sensor’s standard covers ${ends[0]} to ${ends[1]} °C.`
                : `${wordRange(chain.transmitter)} for ${ends[0]} to ${ends[1]} ${chain.process.unit}, on ${wordRange(chain.channel)}, as ${chain.format.name}.`
            }}
          </p>
        </template>
      </aside>
    </div>
    <p v-else class="empty">
      {{
        signals.length === 0
          ? 'No signal stands on an analog channel yet; name one in the Ledger.'
          : 'Choose the signal to be looked at.'
      }}
      <RouterLink
        :to="{ name: 'ledger', params: { project: route.params['project'] ?? project.id } }"
        >To the Ledger</RouterLink
      >
    </p>
  </article>
</template>

<style scoped>
.bench {
  height: 100%;
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
}
.pick {
  width: 260px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  min-height: 0;
}
.left,
aside {
  overflow: auto;
  padding: 12px 18px 40px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.left > *,
aside > * {
  flex: none;
}
aside {
  border-left: 1px solid var(--line);
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
.facts {
  grid-template-columns: 1fr 1fr;
}
.facts h2,
.facts .assumed,
.facts label {
  grid-column: 1 / -1;
}
.assumed {
  margin: 0;
  padding-left: 16px;
  font: 12.5px/1.45 var(--narrow);
  color: var(--warn);
}
.numbers td,
.numbers th:not(:first-child) {
  text-align: right;
}
section > .button {
  justify-self: start;
}
.how {
  display: flex;
  gap: 10px;
  align-items: center;
}
.how .field {
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
.multiple:hover {
  background: var(--paper-2);
}
</style>
