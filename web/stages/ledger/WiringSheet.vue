<script setup lang="ts">
import { computed } from 'vue'
import {
  channelAddress,
  electricalOf,
  entityCheck,
  entityOf,
  entityParameters,
  factColumns,
  formatAddress,
  hartItems,
  hartVariables,
  inputDelay,
  kindOfChannel,
  newId,
  notationOf,
  settingsOf,
  signalOn,
  wiringOf,
  wordElectrical,
  type EntityParameters,
  type FactName,
  type HartVariable,
  type WiringBox,
} from '@kataxis/core'
import EditField from '../../parts/EditField.vue'
import { useProject } from '../../stores/project'
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
/** The terminals of the channel's pins: those whose functions end in the same sign, else one after
 *  the other if there are as many. */
const pinTerminals = computed(() => {
  const pins = wiring.value?.pins.channel ?? []
  const bySign = pins.map(
    (pin) =>
      terminals.value.find(
        (one) => /[+−-]$/.test(pin) && one.function.trim().endsWith(pin.slice(-1)),
      )?.terminal,
  )
  const isClear = bySign.every(Boolean) && new Set(bySign).size === pins.length
  return new Map(
    pins.map((pin, i) => [
      pin,
      isClear
        ? bySign[i]!
        : terminals.value.length === pins.length
          ? terminals.value[i]!.terminal
          : '',
    ]),
  )
})
const terminalOf = (pin: string) => pinTerminals.value.get(pin) ?? ''
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

/** The HART variables, where their values come from, and the tags on them. */
const variables = computed(() => {
  const { listed } = props.row
  const items = listed ? hartItems(listed.module, listed.channel) : {}
  return (Object.entries(hartVariables) as [HartVariable, string][]).map(([name, words]) => {
    const channel = items[name]
    const place = listed && channel ? channelAddress(listed.module, channel) : null
    return {
      name,
      words,
      channel,
      tag: listed && channel ? (signalOn(listed.module, channel)?.tag ?? '') : '',
      address: place ? formatAddress(place, notationOf(project.plan!, listed!.view.station)) : '',
    }
  })
})
const unnamed = computed(() => variables.value.filter(({ channel, tag }) => channel && tag === ''))
function nameVariables(): void {
  const { listed, tag, comment } = props.row
  project.run({
    type: 'editSignals',
    edits: unnamed.value.map(({ name, words, channel }) => ({
      id: newId(),
      place: {
        moduleId: listed!.module.id,
        subslot: channel!.subslot,
        direction: channel!.direction,
        offsetBits: channel!.offsetBits,
      },
      tag: `${tag}_${name}`,
      comment: `${comment}, ${words.replace(/,.*/, '')}`,
    })),
  })
}

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

/** Boxes and their pins in the drawing; the supply stands below. */
const pitch = 30
const boxes: Readonly<Record<WiringBox, { x: number; width: number; heading: string }>> = {
  device: { x: 0, width: 96, heading: 'Device' },
  channel: { x: 282, width: 96, heading: 'Channel' },
  supply: { x: 140, width: 98, heading: '24 V supply' },
}
const rows = computed(() =>
  Math.max(wiring.value?.pins.device.length ?? 0, wiring.value?.pins.channel.length ?? 0),
)
const boxHeight = computed(() => 24 + rows.value * pitch)
const supplyTop = computed(() => boxHeight.value + 34)
/** Whether nobody said where the supply is. */
const isOpen = computed(() => wiring.value?.conductors.some((one) => one.isOpen) ?? false)
const hasSupply = computed(() => (wiring.value?.pins.supply.length ?? 0) > 0)
const height = computed(() => (hasSupply.value ? supplyTop.value + 58 : boxHeight.value + 6))
const isBelow = (box: WiringBox) => box === 'supply'
function at(box: WiringBox, pin: string): { x: number; y: number } {
  const index = wiring.value!.pins[box].indexOf(pin)
  if (isBelow(box)) return { x: boxes.supply.x + 26 + index * 46, y: supplyTop.value }
  return {
    x: box === 'device' ? boxes.device.x + boxes.device.width : boxes.channel.x,
    y: 34 + index * pitch,
  }
}
/** Each conductor has a lane of its own between the boxes, so that none hides another. */
const lines = computed(() =>
  (wiring.value?.conductors ?? []).map((one, i, all) => {
    const [from, to] = [at(one.from.box, one.from.pin), at(one.to.box, one.to.pin)]
    const lane = 112 + ((i + 1) * 156) / (all.length + 1)
    const supply = isBelow(one.from.box) ? from : isBelow(one.to.box) ? to : null
    const other = supply === from ? to : from
    const path = supply
      ? `M${other.x} ${other.y}H${supply.x}V${supply.y}`
      : `M${from.x} ${from.y}H${lane}V${to.y}H${to.x}`
    const label = supply
      ? { x: (other.x + supply.x) / 2, y: other.y - 4 }
      : from.x < 150
        ? { x: (from.x + lane) / 2, y: from.y - 4 }
        : { x: (from.x + lane) / 2, y: from.y - 4 }
    return { ...one, path, label }
  }),
)
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
      <svg
        class="drawing"
        :viewBox="`-2 -2 382 ${height + 4}`"
        role="img"
        :aria-label="`Circuit: ${wiring.fed}`"
      >
        <template v-for="(box, name) in boxes" :key="name">
          <g v-if="name !== 'supply' || hasSupply">
            <rect
              :class="{ open: isBelow(name) && isOpen }"
              :x="box.x"
              :y="isBelow(name) ? supplyTop : 0"
              :width="box.width"
              :height="isBelow(name) ? 52 : boxHeight"
            />
            <text
              class="heading"
              :x="box.x + box.width / 2"
              :y="isBelow(name) ? supplyTop + 42 : 16"
            >
              {{ isBelow(name) && isOpen ? 'Fed by whom?' : box.heading }}
            </text>
            <text
              v-for="pin in wiring.pins[name]"
              :key="pin"
              class="pin"
              :x="at(name, pin).x + (isBelow(name) ? 0 : name === 'device' ? -6 : 6)"
              :y="at(name, pin).y + (isBelow(name) ? 16 : 4)"
              :text-anchor="isBelow(name) ? 'middle' : name === 'device' ? 'end' : 'start'"
            >
              {{ pin }}{{ name === 'channel' && terminalOf(pin) ? ` · ${terminalOf(pin)}` : '' }}
            </text>
          </g>
        </template>
        <g v-for="(line, i) in lines" :key="i">
          <path :class="{ open: line.isOpen }" :d="line.path" />
          <text class="carries" :x="line.label.x" :y="line.label.y" text-anchor="middle">
            {{ line.words }}
          </text>
        </g>
        <template v-for="(pins, name) in wiring.pins" :key="name">
          <circle
            v-for="pin in pins"
            :key="pin"
            :cx="at(name, pin).x"
            :cy="at(name, pin).y"
            r="3"
          />
        </template>
      </svg>
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
        <table v-if="terminals.length > 0" class="plain-table">
          <tbody>
            <tr v-for="one in terminals" :key="one.terminal">
              <td class="mono">{{ one.terminal }}</td>
              <td>{{ one.function }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="row.facts.hart">
        <h2>HART</h2>
        <table class="plain-table">
          <tbody>
            <tr v-for="one in variables" :key="one.name">
              <td class="mono">{{ one.name }}</td>
              <td>{{ one.words }}</td>
              <td class="mono">{{ one.address }}</td>
              <td class="mono">{{ one.tag }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="variables.every(({ channel }) => !channel)" class="quiet">
          The module sends none of them as data; they are read by an acyclic service or a handheld.
        </p>
        <button v-if="unnamed.length > 0" class="button small" @click="nameVariables">
          Name {{ unnamed.length }} of them {{ row.tag }}_{{ unnamed[0]!.name }} …
        </button>
      </section>
      <p v-if="said.length > 0" class="quiet">
        Its description says: the channel {{ said.join(', ') }}.
      </p>
      <details v-if="isAnalog || row.kind === 'DI' || row.kind === 'DO'" :open="check !== null">
        <summary>Intrinsic safety</summary>
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
      </details>
    </template>
  </div>
</template>

<style scoped>
.drawing {
  width: 100%;
}
rect {
  fill: var(--paper-2);
  stroke: var(--ink-2);
}
path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.open {
  stroke: var(--warn);
  stroke-dasharray: 4 4;
}
circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.heading {
  font: 600 12px var(--sans);
  fill: var(--ink);
  text-anchor: middle;
}
.pin {
  font: 11px var(--mono);
  fill: var(--ink);
}
.carries {
  font: 11px var(--narrow);
  fill: var(--ink-2);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
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
