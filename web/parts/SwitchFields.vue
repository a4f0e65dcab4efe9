<script setup lang="ts">
import { tableChoices } from './choices'
import PickField from './PickField.vue'
import { computed } from 'vue'
import { switchBank, switchStyles, type SwitchBank, type SwitchStyle } from '@kataxis/core'
import TypedInput from './TypedInput.vue'

/** Which address switches a device has: style, how they count, what they set. */
const bank = defineModel<SwitchBank | null>({ required: true })
const starts: Record<SwitchStyle, object> = {
  'rotary-decimal': { digits: 3 },
  'rotary-hex': { digits: 2 },
  'dip-binary': { count: 8 },
  'dip-weighted': { weights: [100, 80, 40, 20, 10, 8, 4, 2, 1] },
  jumper: {
    positions: [
      { label: 'A', value: 1 },
      { label: 'B', value: 2 },
    ],
  },
}
/** Takes a change over where it makes sense; half a number is not written back. */
function set(values: object): void {
  const next = switchBank.safeParse({ ...bank.value, ...values })
  if (next.success) bank.value = next.data
}
function setStyle(style: string): void {
  if (style === '') return void (bank.value = null)
  const { sets = 'number', offset = 0, powerCycle = true } = bank.value ?? {}
  bank.value = switchBank.parse({
    style,
    ...starts[style as SwitchStyle],
    sets,
    offset,
    powerCycle,
  })
}
const text = (event: Event) => (event.target as HTMLInputElement).value
const numberOrNull = (event: Event) => (text(event) === '' ? null : Number(text(event)))
const jumperText = computed(() =>
  bank.value?.style === 'jumper'
    ? bank.value.positions.map(({ label, value }) => `${label}=${value}`).join(', ')
    : '',
)
const readJumper = (typed: string) =>
  typed.split(',').flatMap((part) => {
    const [label, value] = part.split('=').map((word) => word.trim())
    return label && value && /^\d+$/.test(value) ? [{ label, value: Number(value) }] : []
  })
</script>

<template>
  <div class="four">
    <PickField
      label="Address switches"
      shown
      :value="bank?.style ?? ''"
      @update:value="setStyle($event)"
      :options="[
        { value: '', label: 'none, or not known' },
        ...tableChoices(switchStyles, (words) => words),
      ]"
    />
    <template v-if="bank">
      <label v-if="bank.style === 'rotary-decimal' || bank.style === 'rotary-hex'"
        ><span class="label">Switches</span
        ><input
          class="field"
          type="number"
          min="1"
          max="4"
          :value="bank.digits"
          @input="set({ digits: Number(text($event)) })"
      /></label>
      <label v-if="bank.style === 'dip-binary'"
        ><span class="label">Switches</span
        ><input
          class="field"
          type="number"
          min="1"
          max="16"
          :value="bank.count"
          @input="set({ count: Number(text($event)) })"
      /></label>
      <PickField
        v-if="bank.style === 'dip-binary'"
        label="Lowest value"
        shown
        :value="bank.lsb"
        @update:value="set({ lsb: $event })"
        :options="[
          { value: 'left', label: 'at the left' },
          { value: 'right', label: 'at the right' },
        ]"
      />
      <label v-if="bank.style === 'dip-weighted'" class="wide"
        ><span class="label">Weights from left to right</span
        ><TypedInput
          class="field mono"
          :value="bank.weights.join(' ')"
          @change="
            set({
              weights: $event
                .split(/[\s,]+/)
                .filter(Boolean)
                .map(Number),
            })
          "
      /></label>
      <label v-if="bank.style === 'jumper'" class="wide"
        ><span class="label">Places and their addresses</span
        ><TypedInput
          class="field mono"
          :value="jumperText"
          placeholder="A=1, B=2"
          @change="set({ positions: readJumper($event) })"
      /></label>
      <PickField
        v-if="bank.style === 'dip-binary' || bank.style === 'dip-weighted'"
        label="ON counts"
        shown
        :value="bank.on"
        @update:value="set({ on: Number($event) })"
        :options="[
          { value: 1, label: 'its weight' },
          { value: 0, label: 'nothing' },
        ]"
      />
      <PickField
        label="They set"
        shown
        :value="bank.sets"
        @update:value="set({ sets: $event })"
        :options="[
          { value: 'number', label: 'the station number' },
          { value: 'lastOctet', label: 'the last octet' },
        ]"
      />
      <label
        ><span class="label">Added to it</span
        ><input
          class="field"
          type="number"
          :value="bank.offset"
          @input="set({ offset: Number(text($event)) })"
      /></label>
      <label
        ><span class="label">From</span
        ><input
          class="field"
          type="number"
          min="0"
          :value="bank.first ?? ''"
          @input="set({ first: numberOrNull($event) })"
      /></label>
      <label
        ><span class="label">to</span
        ><input
          class="field"
          type="number"
          min="0"
          :value="bank.last ?? ''"
          @input="set({ last: numberOrNull($event) })"
      /></label>
      <label class="check wide"
        ><input
          type="checkbox"
          :checked="bank.powerCycle"
          @change="set({ powerCycle: ($event.target as HTMLInputElement).checked })"
        />
        takes effect after power-cycling</label
      >
    </template>
  </div>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
.check {
  font: 13px/1.3 var(--sans);
}
</style>
