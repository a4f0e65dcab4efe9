<script setup lang="ts">
import type { SlotState, StationMatch } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'

const props = defineProps<{ match: StationMatch; blinking: string | null; busy: boolean }>()
const emit = defineEmits<{ blink: [mac: string]; assign: [mac: string, stationId: string] }>()

const isFine = computed(() => props.match.state === 'matched' && props.match.findings.length === 0)
const stateWords = computed(() => {
  if (isFine.value) return 'as planned'
  return {
    matched: 'found, but differs',
    candidates: 'found without a name',
    ambiguous: 'name held twice',
    missing: 'does not answer',
  }[props.match.state]
})
const slotWords: Record<SlotState, string> = {
  same: '',
  swapped: 'swapped',
  wrong: 'wrong module',
  missing: 'missing',
  surplus: 'not planned',
}
</script>

<template>
  <section class="lane" :class="{ fine: isFine }" :aria-label="`Station ${match.station.name}`">
    <div class="head">
      <h2>{{ match.station.name }}</h2>
      <p class="state">{{ isFine ? '✓' : '▲' }} {{ stateWords }}</p>
      <p class="about">{{ match.station.type }}</p>
      <p class="about mono">{{ match.station.ip }}</p>
      <p v-if="match.device" class="about mono">{{ match.device.mac }}</p>
      <NButton
        v-if="match.device"
        size="small"
        :disabled="busy"
        :aria-label="`Blink ${match.station.name}`"
        @click="emit('blink', match.device.mac)"
      >
        {{ blinking === match.device.mac ? 'Blinking' : 'Blink' }}
      </NButton>
    </div>
    <div class="body">
      <ol
        v-if="match.slots.length > 0"
        class="slots"
        :aria-label="`Slots of ${match.station.name}`"
      >
        <li
          v-for="slot in match.slots.filter(({ slot: number }) => number > 0)"
          :key="slot.slot"
          :class="slot.state"
        >
          <span class="number"
            >{{ slot.slot
            }}<template v-if="slot.state !== 'same'"> · {{ slotWords[slot.state] }}</template></span
          >
          <span class="planned">{{ slot.planned ?? 'nothing planned' }}</span>
          <span v-if="slot.state !== 'same'" class="found">is: {{ slot.found ?? 'empty' }}</span>
        </li>
      </ol>
      <ul v-if="match.findings.length > 0" class="findings">
        <li v-for="finding in match.findings" :key="finding.code + finding.message">
          <strong>{{ finding.message }}</strong> {{ finding.remedy }}
        </li>
      </ul>
      <ul v-if="match.candidates.length > 0" class="candidates">
        <li
          v-for="device in match.candidates"
          :key="device.mac"
          :class="{ blinking: blinking === device.mac }"
        >
          <span class="lamp" aria-hidden="true" />
          <span class="mono">{{ device.mac }}</span>
          <span
            >{{ device.typeOfStation }}, {{ device.modules.length - 1 }} modules, no name,
            {{ device.ip }}</span
          >
          <NButton size="small" :disabled="busy" @click="emit('blink', device.mac)">
            {{ blinking === device.mac ? 'Blinking' : 'Blink' }}
          </NButton>
          <NButton
            size="small"
            type="primary"
            :disabled="busy"
            @click="emit('assign', device.mac, match.station.id)"
          >
            Give it the name {{ match.station.wireName }}
          </NButton>
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
  align-items: center;
}
.about {
  grid-column: 1;
  font: 12.5px/1.35 var(--narrow);
  color: var(--ink-2);
}
.about.mono {
  font: 11.5px/1.35 var(--mono);
}
.head .n-button {
  justify-self: end;
  grid-area: 2 / 2 / 5 / 3;
}
.state {
  text-align: right;
  font: 600 13px/1.3 var(--narrow);
  color: var(--accent);
}
.fine .state {
  text-align: right;
  color: var(--good);
}
.body {
  padding: 8px 12px;
  display: grid;
  gap: 8px;
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
  gap: 5px;
}
.candidates li {
  display: flex;
  gap: 10px;
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
