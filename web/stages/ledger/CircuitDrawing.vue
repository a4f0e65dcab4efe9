<script setup lang="ts">
import type { Wiring, WiringBox } from '@kataxis/core'
import { computed } from 'vue'

/** The circuit of one signal: the device, its channel and the supply, with their pins and the
 *  conductors between them. `terminals` says the terminal of a pin of the channel. */
const { wiring, terminals } = defineProps<{
  wiring: Wiring
  terminals: ReadonlyMap<string, string>
}>()

/** Boxes and their pins in the drawing; the supply stands below. */
const pitch = 30
const boxes: Readonly<Record<WiringBox, { x: number; width: number; heading: string }>> = {
  device: { x: 0, width: 96, heading: 'Device' },
  channel: { x: 282, width: 96, heading: 'Channel' },
  supply: { x: 140, width: 98, heading: '24 V supply' },
}
const rows = computed(() => Math.max(wiring.pins.device.length, wiring.pins.channel.length))
const boxHeight = computed(() => 24 + rows.value * pitch)
const supplyTop = computed(() => boxHeight.value + 34)
/** Whether nobody said where the supply is. */
const isOpen = computed(() => wiring.conductors.some((one) => one.isOpen))
const hasSupply = computed(() => wiring.pins.supply.length > 0)
const height = computed(() => (hasSupply.value ? supplyTop.value + 58 : boxHeight.value + 6))
const isBelow = (box: WiringBox) => box === 'supply'
function at(box: WiringBox, pin: string): { x: number; y: number } {
  const index = wiring.pins[box].indexOf(pin)
  if (isBelow(box)) return { x: boxes.supply.x + 26 + index * 46, y: supplyTop.value }
  return {
    x: box === 'device' ? boxes.device.x + boxes.device.width : boxes.channel.x,
    y: 34 + index * pitch,
  }
}
/** Each conductor has a lane of its own between the boxes, so that none hides another. */
const lines = computed(() =>
  wiring.conductors.map((one, i, all) => {
    const [from, to] = [at(one.from.box, one.from.pin), at(one.to.box, one.to.pin)]
    const lane = 112 + ((i + 1) * 156) / (all.length + 1)
    const supply = isBelow(one.from.box) ? from : isBelow(one.to.box) ? to : null
    const other = supply === from ? to : from
    const path = supply
      ? `M${other.x} ${other.y}H${supply.x}V${supply.y}`
      : `M${from.x} ${from.y}H${lane}V${to.y}H${to.x}`
    const label = supply
      ? { x: (other.x + supply.x) / 2, y: other.y - 4 }
      : { x: (from.x + lane) / 2, y: from.y - 4 }
    return { ...one, path, label }
  }),
)
</script>

<template>
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
        <text class="heading" :x="box.x + box.width / 2" :y="isBelow(name) ? supplyTop + 42 : 16">
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
          {{ pin }}{{ name === 'channel' && terminals.get(pin) ? ` · ${terminals.get(pin)}` : '' }}
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
      <circle v-for="pin in pins" :key="pin" :cx="at(name, pin).x" :cy="at(name, pin).y" r="3" />
    </template>
  </svg>
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
</style>
