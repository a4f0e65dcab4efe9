<script setup lang="ts">
import type { Direction, MapBlock, MapCell, Mark } from '@kataxis/core'
import { Pin } from '@lucide/vue'
import { computed } from 'vue'
import ChangeMark from '../board/ChangeMark.vue'
import type { MapRow } from './useMemoryMap'

/** One byte of both images: its address, its eight bits from the highest down, and whose block
 *  begins there. */
const props = defineProps<{
  row: MapRow
  labels: Readonly<Record<Direction, string>>
  held: Readonly<Record<Direction, string | undefined>>
  sizes: Readonly<Record<Direction, number>>
  selected: ReadonlySet<string>
  current: string | null
  marks: ReadonlyMap<string, Mark>
  areas: Readonly<Record<Direction, string | undefined>>
}>()
const emit = defineEmits<{ pick: [key: string, event: PointerEvent] }>()

const sides = computed(() =>
  (['in', 'out'] as const).map((direction) => ({
    direction,
    cells: props.row[direction],
    beginning: props.row.begins[direction],
  })),
)
const title = ({ owner, channel, signal, clash }: MapCell) =>
  [
    signal?.tag,
    signal?.comment,
    channel?.name ?? 'not used',
    `${owner.view.station.name} · slot ${owner.module.slot} · ${owner.module.described?.name ?? ''}`,
    clash ? `shared with ${clash.view.station.name} · slot ${clash.module.slot}` : '',
  ]
    .filter(Boolean)
    .join('\n')
/** Words for the pointer are made when it comes, not for every bit that scrolls by. */
function describe({ target }: PointerEvent, cells: readonly MapCell[]): void {
  const at = (target as HTMLElement).closest<HTMLElement>('[data-bit]')
  const cell = at && cells.find(({ bit }) => String(bit) === at.dataset['bit'])
  if (cell) at.title = title(cell)
}
const words = ({ signal, channel, bits, begins, ends }: MapCell) =>
  channel === null
    ? ''
    : bits < 8 || ends || begins
      ? signal?.tag || (bits < 8 ? '' : channel.name)
      : ''
/** A value of several bytes says its name once, in the byte at its start. */
const shows = (cell: MapCell) => cell.bits < 8 || cell.begins
const slotWords = ({ module }: MapBlock) => (module.row ? `slot ${module.slot}` : 'head')
</script>

<template>
  <div
    v-for="{ direction, cells, beginning: blocks } in sides"
    :key="direction"
    class="side"
    :class="[
      direction,
      { beyond: row.byte >= sizes[direction], held: held[direction] && cells.length === 0 },
    ]"
    @pointerover="describe($event, cells)"
  >
    <span
      class="address"
      :class="{ area: areas[direction] }"
      :title="areas[direction] ? `From here on: ${areas[direction]}` : undefined"
      >{{ labels[direction] }}</span
    >
    <span
      class="bits"
      :title="
        held[direction] && cells.length === 0 ? `Kept free behind ${held[direction]}` : undefined
      "
    >
      <span
        v-for="cell in cells"
        :key="cell.bit"
        class="cell"
        :class="{
          spare: cell.channel === null,
          value: cell.bits === 8 && cell.channel !== null,
          begins: cell.begins,
          ends: cell.ends,
          named: cell.signal?.tag,
          clash: cell.clash,
          safety: cell.channel?.safety,
          selected: selected.has(cell.owner.key),
          current: cell.owner.key === current,
        }"
        :style="{
          '--tint': `var(--band-${(cell.owner.station % 4) + 1})`,
          left: `${((8 - cell.bit - cell.bits) / 8) * 100}%`,
          width: `${(cell.bits / 8) * 100}%`,
        }"
        :data-block="cell.owner.key"
        :data-bit="cell.bit"
        @pointerdown="emit('pick', cell.owner.key, $event)"
        ><bdi>{{ shows(cell) ? words(cell) : '' }}</bdi></span
      >
    </span>
    <span class="owner">
      <span
        v-for="block in blocks"
        :key="block.key"
        class="block"
        :class="{ inside: block.isInside, selected: selected.has(block.key) }"
        :style="{ '--tint': `var(--band-${(block.station % 4) + 1})` }"
        :title="`${block.view.station.name} · ${block.module.described?.name ?? ''}`"
        @pointerdown="emit('pick', block.key, $event)"
      >
        <ChangeMark :mark="marks.get(block.module.id) ?? null" /><Pin
          v-if="block.isFixed"
          :size="11"
          aria-label="fixed"
        /><b v-if="!block.isInside || blocks[0] === block">{{ block.view.station.name }}</b>
        {{ slotWords(block) }}
      </span>
    </span>
  </div>
</template>

<style scoped>
.side {
  display: grid;
  grid-template-columns: 70px minmax(0, 1fr) 116px;
  height: 22px;
}
.side.out {
  border-left: 2px solid var(--line);
}
.address {
  font: 11.5px/21px var(--mono);
  color: var(--ink-2);
  padding-left: 8px;
  white-space: nowrap;
  overflow: hidden;
}
.address.area {
  border-top: 2px solid var(--ink);
}
.bits {
  position: relative;
  border-bottom: 1px dotted var(--paper-3);
  background: repeating-linear-gradient(
    90deg,
    transparent 0 calc(12.5% - 1px),
    var(--paper-3) calc(12.5% - 1px) 12.5%
  );
}
.beyond {
  visibility: hidden;
}
.held .bits {
  background: repeating-linear-gradient(135deg, transparent 0 5px, var(--paper-3) 5px 6px);
}
.cell {
  position: absolute;
  top: 0;
  height: 22px;
  padding: 0 3px;
  border: 1px solid var(--paper);
  background: color-mix(in srgb, var(--tint) 20%, var(--paper));
  font: 11px/20px var(--narrow);
  color: var(--ink);
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
  cursor: grab;
  touch-action: none;
}
.cell.named {
  background: color-mix(in srgb, var(--tint) 34%, var(--paper));
}
.cell:not(.value) {
  direction: rtl;
  text-align: left;
}
.cell.value {
  border-top-color: transparent;
  border-bottom-color: transparent;
  padding-left: 8px;
}
.cell.value.begins {
  border-top-color: var(--paper);
}
.cell.value.ends {
  border-bottom-color: var(--paper);
}
.cell.spare {
  background: repeating-linear-gradient(
    135deg,
    color-mix(in srgb, var(--tint) 12%, var(--paper)) 0 4px,
    var(--paper) 4px 7px
  );
}
.cell.safety {
  background-image: linear-gradient(135deg, transparent 46%, var(--ink-3) 46% 50%, transparent 50%);
  background-size: 14px 14px;
}
.cell.clash {
  background: repeating-linear-gradient(45deg, var(--accent) 0 3px, var(--paper) 3px 6px);
  font-weight: 600;
}
.cell.selected {
  border-color: var(--accent);
  box-shadow: inset 0 0 0 1px var(--accent);
}
.owner {
  padding-left: 7px;
  display: flex;
  gap: 6px;
  overflow: hidden;
}
.block {
  font: 11.5px/21px var(--narrow);
  color: var(--ink-2);
  border-left: 3px solid var(--tint);
  padding-left: 5px;
  white-space: nowrap;
  cursor: grab;
  display: inline-flex;
  align-items: center;
  gap: 4px;
  touch-action: none;
}
.block b {
  font-weight: 600;
  color: var(--ink);
}
.block.selected {
  background: var(--accent-soft);
}
</style>
