<script setup lang="ts">
import {
  editFor,
  electricalOfChannel,
  factColumns,
  formatKeyOf,
  formatOfSheet,
  rangesOf,
  rawFormatsOf,
  uncompensated,
  wordRange,
  type FactName,
} from '@kataxis/core'
import { computed } from 'vue'
import { tableChoices } from '../../parts/choices'
import EditField from '../../parts/EditField.vue'
import PickField from '../../parts/PickField.vue'
import { useProject } from '../../stores/project'
import { word } from './scales'
import type { AnalogRow, RangeBench } from './useRangeBench'

/** What is known of the signal on the bench, its channel and its counts, each of it set here. */
const { bench, found } = defineProps<{ bench: RangeBench; found: AnalogRow }>()
const project = useProject()
const { chain, assumed, reading, setting } = bench

const formats = computed(() => rawFormatsOf(project.plan!.project))
/** Empty where the module's sheet says it and the project nothing else. */
const formatName = computed(() =>
  ofSheet.value === chain.value?.format
    ? ''
    : (Object.entries(formats.value).find(([, one]) => one === chain.value?.format)?.[0] ?? ''),
)
const ofSheet = computed(() => formatOfSheet(found.module))
const benchFacts = computed<readonly FactName[]>(() => [
  'measures',
  'transmitter',
  chain.value?.channel.kind === 'thermocouple' ? 'coldEnd' : 'characteristic',
  'scaling',
  'readAs',
])
const fixedRange = computed(() => electricalOfChannel(found.module.described, found.channel).range)
/** What a channel shows that takes no care of the cold end, at the probe. */
const uncared = computed(() => {
  const process = reading.value?.process
  const shown =
    chain.value && process !== null && process !== undefined
      ? uncompensated(chain.value, process)
      : null
  return shown === null || Math.abs(shown - process!) < 0.05
    ? null
    : `With its terminals at ${found.signal.facts.coldEnd} °C a channel that does not add its cold end would show ${word(shown, 5)} °C for ${word(process!, 5)} °C.`
})

const said = computed(() => [...(uncared.value ? [uncared.value] : []), ...assumed.value])

function setFact(name: FactName, text: string): void {
  const facts = factColumns[name].read(text.trim())
  if (typeof facts === 'string') project.tell(`${factColumns[name].heading}: ${facts}.`)
  else project.run({ type: 'editSignals', edits: [{ id: found.signal.id, facts }] })
}
function setFormat(name: string): void {
  const { [formatKeyOf(found.module)]: _before, ...others } = project.plan!.project.moduleFormats
  project.run({
    type: 'setProject',
    set: {
      moduleFormats: name === '' ? others : { ...others, [formatKeyOf(found.module)]: name },
    },
  })
}
function setRange(words: string): void {
  const edit = editFor(found.module.id, setting.value!, words)
  if (typeof edit === 'string') project.tell(edit)
  else project.run({ type: 'setParameters', edits: [edit] })
}
</script>

<template>
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
    <PickField
      v-if="setting"
      label="Channel is set to"
      shown
      :value="setting.words"
      :options="
        rangesOf(setting).map((one) => ({
          value: wordRange(one.range),
          label: wordRange(one.range),
        }))
      "
      @update:value="setRange($event)"
    />
    <PickField
      v-if="chain"
      :label="`${found.module.described?.name} counts`"
      shown
      :value="formatName"
      :options="[
        ...(ofSheet
          ? [{ value: '', label: `as its sheet says: ${ofSheet.name} · ${ofSheet.type}` }]
          : []),
        ...tableChoices(formats, (one) => `${one.name} · ${one.type}`),
      ]"
      @update:value="setFormat($event)"
    />
    <ul v-if="said.length > 0" class="assumed">
      <li v-for="one in said" :key="one">{{ one }}</li>
    </ul>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 7px;
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
</style>
