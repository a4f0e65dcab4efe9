<script setup lang="ts">
import {
  electricalOf,
  entityCheck,
  entityOf,
  entityParameters,
  factColumns,
  inputDelay,
  kindOfChannel,
  settingsOf,
  pinTerminals,
  wiringOf,
  wordElectrical,
  type EntityParameters,
  type FactName,
} from '@kataxis/core'
import { NTable, NCollapse, NCollapseItem } from 'naive-ui'
import { computed } from 'vue'
import EditField from '../../parts/EditField.vue'
import { useProject } from '../../stores/project'
import CircuitDrawing from './CircuitDrawing.vue'
import HartSection from './HartSection.vue'
import type { LedgerRow } from './rows'

/** How a signal is wired: its circuit drawn, who feeds whom, terminals, HART, and the check of an
 *  intrinsically safe circuit. */
const props = defineProps<{ row: LedgerRow }>()
const project = useProject()
const electrical = computed(() => electricalOf(props.row.listed?.module.described ?? null))
const wiring = computed(() =>
  props.row.listed ? wiringOf(props.row.listed.channel, props.row.facts, electrical.value) : null,
)
const terminals = computed(() => {
  const described = props.row.listed?.module.described
  return described && 'terminals' in described
    ? (described.terminals ?? []).filter(({ channel }) => channel === props.row.channel)
    : []
})
const pinsOfTerminals = computed(() => wiring.value && pinTerminals(wiring.value, terminals.value))
/** What is asked of a signal, by the kind of its channel. */
const asked: Readonly<Record<string, readonly FactName[]>> = {
  AI: ['transmitter', 'wires', 'supply', 'hart'],
  AO: ['transmitter', 'hart'],
  DI: ['switching', 'pulse'],
  DO: ['load', 'inrush'],
}
const kind = computed(() => (props.row.listed ? kindOfChannel(props.row.listed.channel) : ''))
const isAnalog = computed(() => props.row.listed?.channel.kind === 'analog')
const shownFacts = computed(() => asked[kind.value] ?? [])
const circuit = computed(() =>
  entityOf(props.row.listed?.module.described ?? null, props.row.facts),
)
const check = computed(() => (circuit.value ? entityCheck(circuit.value) : null))
/** What the module says of the channel, with its filter as it is set. */
const said = computed(() => {
  const { listed } = props.row
  if (!listed) return []
  const delayMs = inputDelay(
    settingsOf(
      project.catalog,
      listed.view,
      listed.module,
      listed.channel,
      project.plan!.project.meanings,
    ),
    electrical.value,
  )
  return wordElectrical({ ...electrical.value, ...(delayMs !== null && { delayMs }) }, kind.value)
})

function setFact(name: FactName, text: string): void {
  const facts = factColumns[name].read(text.trim())
  if (typeof facts === 'string') project.tell(`${factColumns[name].heading}: ${facts}.`)
  else if (props.row.signalId)
    project.run({ type: 'editSignals', edits: [{ id: props.row.signalId, facts }] })
}
function setEx(key: keyof EntityParameters, text: string): void {
  const value = text.trim() === '' ? undefined : Number(text.replace(',', '.'))
  if (value !== undefined && !(Number.isFinite(value) && value >= 0))
    return project.tell(`“${text}” is no number of zero or more.`)
  const { [key]: _old, ...others } = props.row.facts.ex ?? {}
  const ex = value === undefined ? others : { ...others, [key]: value }
  if (props.row.signalId)
    project.run({
      type: 'editSignals',
      edits: [{ id: props.row.signalId, facts: { ex: Object.keys(ex).length === 0 ? null : ex } }],
    })
}
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>{{ row.station }} · slot {{ row.slot }} · {{ row.channel }}</h3>
      <h1>{{ row.tag || 'Wiring' }}</h1>
      <p class="quiet">{{ row.comment }}</p>
    </header>
    <p v-if="!wiring || !row.signalId" class="quiet">
      {{
        wiring
          ? 'Name the channel first; what is wired belongs to its signal.'
          : 'This signal has no channel yet.'
      }}
    </p>
    <template v-else>
      <CircuitDrawing :wiring="wiring" :terminals="pinsOfTerminals!" />
      <p>{{ wiring.fed }}</p>
      <p v-for="fault in wiring.faults" :key="fault" class="fault" role="alert">{{ fault }}</p>
      <p v-for="one in wiring.assumed" :key="one" class="assumed">{{ one }}</p>
      <section class="facts">
        <EditField
          v-for="name in shownFacts"
          :key="name"
          :label="factColumns[name].heading"
          :value="factColumns[name].word(row.facts)"
          :title="factColumns[name].help"
          @change="setFact(name, $event)"
        />
      </section>
      <section v-if="terminals.length > 0 || row.terminal">
        <h2>Terminals</h2>
        <p v-if="row.terminal" class="mono">{{ row.terminal }}</p>
        <NTable v-if="terminals.length > 0" size="small" :bordered="false">
          <tbody>
            <tr v-for="one in terminals" :key="one.terminal">
              <td class="mono">{{ one.terminal }}</td>
              <td>{{ one.function }}</td>
            </tr>
          </tbody>
        </NTable>
      </section>
      <HartSection v-if="row.facts.hart" :row="row" />
      <p v-if="said.length > 0" class="quiet">
        Its description says: the channel {{ said.join(', ') }}.
      </p>
      <NCollapse
        v-if="isAnalog || row.kind === 'DI' || row.kind === 'DO'"
        :default-expanded-names="check === null ? [] : ['it']"
        ><NCollapseItem name="it" title="Intrinsic safety">
          <div class="ex">
            <EditField
              v-for="[key, words, unit] in entityParameters"
              :key="key"
              :label="`${words}, ${unit}`"
              :value="(circuit ?? (electrical.entity as EntityParameters))?.[key]?.toString() ?? ''"
              mono
              @change="setEx(key, $event)"
            />
          </div>
          <template v-if="check">
            <p v-for="line in check.lines" :key="line.words" :class="{ fault: !line.isMet }">
              {{ line.isMet ? 'met' : 'not met' }}: {{ line.words }}
            </p>
            <p v-if="check.isHalved" class="quiet">
              Cᵢ and Lᵢ both exceed 1 % of C₀ and L₀, so these count half (IEC 60079-25).
            </p>
            <p v-if="check.missing.length > 0" class="assumed">
              Still needed: {{ check.missing.join(', ') }}.
            </p>
          </template>
        </NCollapseItem></NCollapse
      >
    </template>
  </div>
</template>

<style scoped>
.facts,
.ex {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 8px;
}
.fault {
  color: var(--accent);
}
.assumed {
  color: var(--warn);
  font: 12.5px/1.4 var(--narrow);
}
</style>
