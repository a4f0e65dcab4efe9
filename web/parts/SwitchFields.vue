<script setup lang="ts">
import { switchBank, switchStyles, type SwitchBank, type SwitchStyle } from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import { tableChoices } from './choices'
import NumberField from './NumberField.vue'
import PickField from './PickField.vue'
import TypedInput from './TypedInput.vue'

/** Which address switches a device has: style, how they count, what they set. */
const bank = defineModel<SwitchBank | null>({ required: true })
const starts: Record<SwitchStyle, object> = {
  'rotary-decimal': { digits: 3 },
  'rotary-hex': { digits: 2 },
  'dip-binary': { count: 8 },
  'dip-weighted': { weights: [100, 80, 40, 20, 10, 8, 4, 2, 1] },
  panel: { menu: 'Menu › Network › Address' },
  tool: { tool: '' },
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
      label="How the address is set"
      shown
      :value="bank?.style ?? ''"
      :options="[
        { value: '', label: 'none, or not known' },
        ...tableChoices(switchStyles, (words) => words),
      ]"
      @update:value="setStyle($event)"
    />
    <template v-if="bank">
      <NumberField
        v-if="bank.style === 'rotary-decimal' || bank.style === 'rotary-hex'"
        label="Switches"
        shown
        :min="1"
        :max="4"
        :value="bank.digits"
        @update:value="set({ digits: $event ?? 0 })"
      />
      <NumberField
        v-if="bank.style === 'dip-binary'"
        label="Switches"
        shown
        :min="1"
        :max="16"
        :value="bank.count"
        @update:value="set({ count: $event ?? 0 })"
      />
      <PickField
        v-if="bank.style === 'dip-binary'"
        label="Lowest value"
        shown
        :value="bank.lsb"
        :options="[
          { value: 'left', label: 'at the left' },
          { value: 'right', label: 'at the right' },
        ]"
        @update:value="set({ lsb: $event })"
      />
      <TypedInput
        v-if="bank.style === 'dip-weighted'"
        class="wide"
        label="Weights from left to right"
        shown
        mono
        :value="bank.weights.join(' ')"
        @change="
          set({
            weights: $event
              .split(/[\s,]+/)
              .filter(Boolean)
              .map(Number),
          })
        "
      />
      <TypedInput
        v-if="bank.style === 'jumper'"
        class="wide"
        label="Places and their addresses"
        shown
        mono
        :value="jumperText"
        placeholder="A=1, B=2"
        @change="set({ positions: readJumper($event) })"
      />
      <TypedInput
        v-if="bank.style === 'panel'"
        class="wide"
        label="The way in the menu"
        shown
        :value="bank.menu"
        placeholder="Menu › Network › Address"
        @change="set({ menu: $event })"
      />
      <TypedInput
        v-if="bank.style === 'panel'"
        label="What stores it"
        shown
        :value="bank.store"
        placeholder="hold OK for 3 s"
        @change="set({ store: $event })"
      />
      <NCheckbox
        v-if="bank.style === 'panel'"
        :checked="bank.octetByOctet"
        @update:checked="set({ octetByOctet: $event })"
      >
        octet by octet
      </NCheckbox>
      <TypedInput
        v-if="bank.style === 'tool'"
        class="wide"
        label="Tool, and what to choose in it"
        shown
        :value="bank.tool"
        @change="set({ tool: $event })"
      />
      <PickField
        v-if="bank.style === 'dip-binary' || bank.style === 'dip-weighted'"
        label="ON counts"
        shown
        :value="bank.on"
        :options="[
          { value: 1, label: 'its weight' },
          { value: 0, label: 'nothing' },
        ]"
        @update:value="set({ on: Number($event) })"
      />
      <PickField
        label="They set"
        shown
        :value="bank.sets"
        :options="[
          { value: 'number', label: 'the station number' },
          { value: 'lastOctet', label: 'the last octet' },
        ]"
        @update:value="set({ sets: $event })"
      />
      <NumberField
        label="Added to it"
        shown
        :value="bank.offset"
        @update:value="set({ offset: $event ?? 0 })"
      />
      <NumberField
        optional
        label="From"
        shown
        :min="0"
        :value="bank.first"
        @update:value="set({ first: $event })"
      />
      <NumberField
        optional
        label="to"
        shown
        :min="0"
        :value="bank.last"
        @update:value="set({ last: $event })"
      />
      <NCheckbox
        class="wide"
        :checked="bank.powerCycle"
        @update:checked="set({ powerCycle: $event })"
        >takes effect after power-cycling</NCheckbox
      >
    </template>
  </div>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
</style>
