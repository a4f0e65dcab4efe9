<script setup lang="ts">
import {
  differentFailSafe,
  switchesAt,
  type RehearsalFinding,
  type SlotComparison,
  type SlotState,
  type StationMatch,
  type StationState,
} from '@kataxis/core'
import { NButton, NDropdown } from 'naive-ui'
import { computed } from 'vue'

const props = defineProps<{
  match: StationMatch
  state: StationState
  slots: readonly SlotComparison[]
  /** Of assigning, starting and checking. */
  findings: readonly RehearsalFinding[]
  blinking: string | null
  busy: boolean
}>()
const emit = defineEmits<{
  blink: [key: string]
  assign: [key: string]
  reset: [key: string]
  onSite: [what: string]
  takeOver: [slots: readonly number[] | null]
  show: []
  identifyFailSafe: []
  writeFailSafe: []
}>()

const isFine = computed(() => ['as planned', 'running'].includes(props.state))
const device = computed(() => props.match.device)
const differs = computed(() => props.slots.some(({ state }) => state !== 'same'))
const slotWords: Record<SlotState, string> = {
  same: '',
  swapped: 'swapped',
  wrong: 'wrong module',
  missing: 'missing',
  surplus: 'not planned',
}
/** Slots without the head. */
const inSlots = computed(() => props.slots.filter(({ slot }) => slot > 0))
const all = computed(() => {
  const seen = new Set<string>()
  return [...props.match.findings, ...props.findings].filter(({ message }) =>
    seen.has(message) ? false : seen.add(message),
  )
})
const hasSwitches = computed(() => switchesAt(props.match.station) !== null)
const onSite = computed(() => [
  { key: 'powerCycle', label: 'Power-cycle' },
  ...(hasSwitches.value ? [{ key: 'setSwitches', label: 'Set switches as planned' }] : []),
  { key: 'plugModules', label: 'Plug modules as planned' },
  { key: 'mendWires', label: 'Check and mend wires' },
  { key: 'switchToRun', label: 'Switch to run' },
  { key: 'connect', label: 'Connect supply and cables' },
  { key: 'replaceDevice', label: 'Replace by a new device' },
])
/** Fail-safe addresses that the device has otherwise than planned. */
const failSafe = computed(() =>
  device.value ? differentFailSafe(props.match.station.failSafe, device.value) : [],
)
const assignWords = computed(() => {
  const { wireName, ip, number } = props.match.station
  return `Assign ${wireName || ip || number}`
})
</script>

<template>
  <section class="lane" :class="{ fine: isFine }" :aria-label="`Station ${match.station.name}`">
    <div class="head">
      <h2>{{ match.station.name }}</h2>
      <p class="state">{{ isFine ? '✓' : '▲' }} {{ state }}</p>
      <p class="about">{{ match.station.identity.typeName }}</p>
      <p class="about mono">
        {{ device?.address ?? (match.station.ip || `no. ${match.station.number}`)
        }}<template v-if="device?.firmware"> · {{ device.firmware }}</template>
      </p>
      <p v-if="device?.mac" class="about mono">{{ device.mac }}</p>
      <p class="buttons">
        <NButton
          v-if="device"
          size="tiny"
          :disabled="busy"
          :aria-label="`Blink LED of ${match.station.name}`"
          @click="emit('blink', device.key)"
          >{{ blinking === device.key ? 'Blinking' : 'Blink LED' }}</NButton
        >
        <NButton v-if="device" size="tiny" @click="emit('show')">Device page</NButton>
        <NDropdown trigger="click" :options="onSite" @select="(key) => emit('onSite', key)">
          <NButton size="tiny" :disabled="busy" :aria-label="`On site at ${match.station.name}`"
            >On site</NButton
          >
        </NDropdown>
      </p>
    </div>
    <div class="body">
      <ol v-if="inSlots.length > 0" class="slots" :aria-label="`Slots of ${match.station.name}`">
        <li v-for="slot in inSlots" :key="slot.slot" :class="slot.state">
          <span class="number"
            >{{ slot.slot
            }}<template v-if="slot.state !== 'same'"> · {{ slotWords[slot.state] }}</template></span
          >
          <span class="planned">{{ slot.planned ?? 'nothing planned' }}</span>
          <template v-if="slot.state !== 'same'">
            <span class="found">is: {{ slot.found ?? 'empty' }}</span>
            <NButton size="tiny" quaternary @click="emit('takeOver', [slot.slot])"
              >Take over</NButton
            >
          </template>
          <span v-for="part in slot.submodules" :key="part.subslot" class="found"
            >subslot {{ part.subslot }}: {{ slotWords[part.state] }}</span
          >
        </li>
      </ol>
      <p v-if="differs" class="whole">
        <NButton size="tiny" @click="emit('takeOver', null)">Take over the whole station</NButton>
      </p>
      <p v-if="failSafe.length > 0" class="whole">
        <strong>Fail-safe destination addresses differ:</strong>
        <span v-for="one in failSafe" :key="`${one.slot}.${one.subslot}`">
          slot {{ one.slot }} has {{ one.real || 'none' }}, planned is {{ one.destination }}.
        </span>
        <NButton size="tiny" :disabled="busy" @click="emit('identifyFailSafe')"
          >Identify by blinking</NButton
        >
        <NButton size="tiny" type="primary" :disabled="busy" @click="emit('writeFailSafe')"
          >Seen blinking: write addresses</NButton
        >
      </p>
      <ul v-if="all.length > 0" class="findings">
        <li v-for="finding in all" :key="finding.code + finding.message">
          <strong>{{ finding.message }}</strong> {{ finding.remedy }}
        </li>
      </ul>
      <ul v-if="match.candidates.length > 0" class="candidates">
        <li
          v-for="one in match.candidates"
          :key="one.key"
          :class="{ blinking: blinking === one.key }"
        >
          <span class="lamp" aria-hidden="true" />
          <span class="mono">{{ one.mac ?? one.key }}</span>
          <span
            >{{ one.typeName || one.type }}, {{ one.name || 'no name' }},
            {{ one.address ?? 'no address' }}</span
          >
          <NButton size="tiny" :disabled="busy" @click="emit('blink', one.key)">
            {{ blinking === one.key ? 'Blinking' : 'Blink LED' }}
          </NButton>
          <NButton size="tiny" type="primary" :disabled="busy" @click="emit('assign', one.key)">
            {{ assignWords }}
          </NButton>
          <NButton
            v-if="match.state === 'ambiguous' && one.name"
            size="tiny"
            :disabled="busy"
            @click="emit('reset', one.key)"
            >Reset to factory state</NButton
          >
        </li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.lane {
  display: grid;
  grid-template-columns: 300px 1fr;
  border: 1px solid var(--line);
  border-left: 5px solid var(--accent);
}
.lane.fine {
  border-left-color: var(--good);
}
.head {
  padding: 8px 12px;
  background: var(--paper-2);
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 10px;
  align-content: start;
}
.about {
  grid-column: 1 / 3;
  font: 12.5px/1.35 var(--narrow);
  color: var(--ink-2);
}
.about.mono {
  font: 11.5px/1.35 var(--mono);
}
.head .buttons {
  grid-column: 1 / 3;
  display: flex;
  gap: 6px;
  margin-top: 4px;
}
.state {
  text-align: right;
  font: 600 13px/1.3 var(--narrow);
  color: var(--accent);
}
.fine .state {
  color: var(--good);
}
.body {
  padding: 8px 12px;
  display: grid;
  gap: 6px;
  align-content: start;
}
.slots {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.slots li {
  width: 148px;
  min-height: 44px;
  border: 1px solid var(--line);
  padding: 3px 6px;
  font: 12px/1.25 var(--narrow);
  display: grid;
  align-content: start;
  justify-items: start;
}
.slots li:not(.same) {
  border: 2px dashed var(--accent);
  background: var(--accent-soft);
}
.number {
  font-size: 11px;
  color: var(--ink-2);
}
.slots li:not(.same) .planned {
  text-decoration: line-through;
}
.found {
  font-weight: 600;
}
.findings,
.candidates {
  list-style: none;
  margin: 0;
  padding: 0;
  font: 13px/1.4 var(--sans);
  display: grid;
  gap: 4px;
}
.candidates li {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  font: 13px/1.3 var(--narrow);
}
.lamp {
  width: 12px;
  height: 12px;
  border: 2px solid var(--ink-2);
  transform: rotate(45deg);
}
.blinking .lamp {
  animation: blink 0.5s steps(2) infinite;
}
@keyframes blink {
  to {
    background: var(--accent);
  }
}
</style>
