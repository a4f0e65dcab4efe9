<script setup lang="ts">
import {
  addressAt,
  entrySteps,
  isDip,
  isEntered,
  isRotary,
  positionsFor,
  radixOf,
  readPositions,
  switchCount,
  weightsOf,
  wordPositions,
  type SwitchBank,
} from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import TextField from './TextField.vue'

/** How to set the address switches of one device: drawn, in words, and read back from what somebody
 *  sees on the housing. */
const props = defineProps<{
  bank: SwitchBank
  address: number | null
  title: string
  /** The whole address, where it is one. */
  ip?: string
}>()
const emit = defineEmits<{ take: [address: number] }>()
const positions = computed(() =>
  props.address === null ? null : positionsFor(props.bank, props.address),
)
const drawn = computed(
  () => positions.value ?? Array.from({ length: switchCount(props.bank) }, () => -1),
)
const setsWords = computed(() => (props.bank.sets === 'lastOctet' ? 'last octet' : 'address'))

const step = computed(() => (isRotary(props.bank) ? 76 : isDip(props.bank) ? 26 : 30))
const width = computed(() =>
  Math.max(
    60,
    (props.bank.style === 'jumper' ? props.bank.positions.length : switchCount(props.bank)) *
      step.value +
      12,
  ),
)
const height = computed(() => (isRotary(props.bank) ? 84 : 68))
/** A rotary switch: 0 points up, digits go round clockwise. */
const dial = (digit: number, radix: number, radius: number) => {
  const angle = (digit / radix) * 2 * Math.PI
  return { x: 38 + Math.sin(angle) * radius, y: 42 - Math.cos(angle) * radius }
}
const digits = computed(() =>
  isRotary(props.bank) ? Array.from({ length: radixOf(props.bank) }, (_, digit) => digit) : [],
)
const words = computed(() =>
  positions.value
    ? wordPositions(props.bank, positions.value)
    : props.address === null
      ? 'no address yet'
      : `These switches cannot make ${props.address}.`,
)
const steps = computed(() =>
  isEntered(props.bank) && props.address !== null && positions.value
    ? entrySteps(props.bank, props.address, props.ip)
    : [],
)
const weights = computed(() => (isDip(props.bank) ? weightsOf(props.bank) : []))

const seen = ref('')
watch(
  () => props.address,
  () => (seen.value = ''),
)
const reading = computed(() => {
  if (seen.value.trim() === '') return null
  const read = readPositions(props.bank, seen.value)
  if ('fault' in read) return { fault: read.fault, address: null }
  const address = addressAt(props.bank, read.positions)
  return address === null
    ? { fault: 'The device takes no address from these positions.', address }
    : { fault: '', address }
})
const example = computed(() => {
  const count = switchCount(props.bank)
  return isDip(props.bank)
    ? '1011'.padEnd(count, '0').slice(0, count)
    : props.bank.style === 'jumper'
      ? props.bank.positions[0]!.label
      : isEntered(props.bank)
        ? (props.ip ?? String(props.address ?? 28))
        : '28'.padStart(count, '0').slice(-count)
})
</script>

<template>
  <section class="card" :aria-label="`Switches of ${title}`">
    <h2>{{ isEntered(bank) ? 'How the address is set' : 'Switches' }}</h2>
    <ol v-if="isEntered(bank)" class="steps">
      <li v-for="(one, i) in steps" :key="i">{{ one }}</li>
    </ol>
    <svg
      v-else
      :viewBox="`0 0 ${width} ${height}`"
      :width="width"
      :height="height"
      role="img"
      :aria-label="words"
    >
      <template v-if="isRotary(bank)">
        <g v-for="(digit, i) in drawn" :key="i" :transform="`translate(${i * step + 6} 0)`">
          <circle cx="38" cy="42" r="23" class="body" />
          <text
            v-for="mark in digits"
            :key="mark"
            v-bind="dial(mark, digits.length, 31)"
            class="mark"
            :class="{ on: mark === digit }"
            dy="3.5"
          >
            {{ mark.toString(16).toUpperCase() }}
          </text>
          <line
            v-if="digit >= 0"
            x1="38"
            y1="42"
            :x2="dial(digit, digits.length, 19).x"
            :y2="dial(digit, digits.length, 19).y"
            class="pointer"
          />
          <circle v-if="digit >= 0" cx="38" cy="42" r="4" class="hub" />
        </g>
      </template>
      <template v-else-if="isDip(bank)">
        <rect x="2" y="8" :width="width - 4" height="40" class="body" rx="2" />
        <text x="4" y="7" class="mark start">ON</text>
        <g v-for="(position, i) in drawn" :key="i" :transform="`translate(${i * step + 8} 0)`">
          <rect x="4" y="13" width="14" height="30" class="slot" />
          <rect
            v-if="position >= 0"
            x="4"
            :y="position === 1 ? 13 : 28"
            width="14"
            height="15"
            class="knob"
            :class="{ on: position === 1 }"
          />
          <text x="11" y="58" class="mark" :class="{ on: position === bank.on }">{{ i + 1 }}</text>
          <text x="11" y="67" class="weight">+{{ weights[i] }}</text>
        </g>
      </template>
      <template v-else-if="bank.style === 'jumper'">
        <g
          v-for="(place, i) in bank.positions"
          :key="i"
          :transform="`translate(${i * step + 6} 0)`"
        >
          <rect v-if="drawn[0] === i" x="4" y="10" width="18" height="36" class="knob on" rx="3" />
          <circle cx="13" cy="19" r="4" class="pin" />
          <circle cx="13" cy="37" r="4" class="pin" />
          <text x="13" y="60" class="mark" :class="{ on: drawn[0] === i }">{{ place.label }}</text>
        </g>
      </template>
    </svg>
    <p
      v-if="!isEntered(bank) || !positions"
      class="words"
      :class="{ wrong: !positions && address !== null }"
    >
      <template v-if="positions"
        >{{ setsWords }} <strong class="mono">{{ address }}</strong>: {{ words }}</template
      ><template v-else>{{ words }}</template>
    </p>
    <p v-if="bank.powerCycle && !isEntered(bank)" class="quiet">
      Takes effect after power-cycling.
    </p>
    <div class="back">
      <TextField
        v-model:value="seen"
        :label="isEntered(bank) ? 'What the device shows' : 'Read off the housing'"
        shown
        mono
        :placeholder="example"
        :wrong="Boolean(reading?.fault)"
      />
      <p v-if="reading" role="status" class="answer">
        <span v-if="reading.fault" class="wrong">{{ reading.fault }}</span><template v-else
          >makes <strong class="mono">{{ reading.address }}</strong>{{
            reading.address === address ? ', as planned' : ''
          }}<NButton
            v-if="reading.address !== address"
            size="small"
            @click="emit('take', reading.address!)"
          >
            Plan {{ reading.address }}
          </NButton></template
        >
      </p>
    </div>
  </section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 8px;
}
svg {
  max-width: 100%;
}

.steps {
  margin: 0;
  padding-left: 20px;
  font: 13.5px/1.6 var(--narrow);
}
.body {
  fill: var(--paper-2);
  stroke: var(--ink-2);
}
.slot {
  fill: var(--paper);
  stroke: var(--line);
}
.knob {
  fill: var(--ink-3);
}
.knob.on {
  fill: var(--ink);
}
.pointer {
  stroke: var(--accent);
  stroke-width: 4;
  stroke-linecap: round;
}
.hub {
  fill: var(--ink);
}
.pin {
  fill: var(--paper);
  stroke: var(--ink-2);
}
.mark {
  font: 10px var(--mono);
  fill: var(--ink-3);
  text-anchor: middle;
}
.mark.start {
  text-anchor: start;
}
.mark.on {
  font-weight: 700;
  fill: var(--ink);
}
.weight {
  font: 8.5px var(--mono);
  fill: var(--ink-3);
  text-anchor: middle;
}
.wrong {
  color: var(--accent);
}
.back {
  display: grid;
  grid-template-columns: 190px 1fr;
  gap: 10px;
  align-items: end;
}
.answer {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 30px;
  flex-wrap: wrap;
}
</style>
