<script setup lang="ts">
import {
  channelAddress,
  formatAddress,
  signalOn,
  wordChannels,
  type DerivedModule,
  type Mark,
  type NotationName,
} from '@kataxis/core'
import { computed } from 'vue'
import ChangeMark from './ChangeMark.vue'
import { pipGrids, pipPaths } from './pips'
import { tileWords } from './tile-words'
import type { Zoom } from './zooms'

const props = defineProps<{
  module: DerivedModule
  zoom: Zoom
  notation: NotationName
  trouble: string | null
  other: string | null
  mark: Mark | null
}>()
const label = computed(() => {
  const { described, layout } = props.module
  if (!described || !layout) return 'unknown'
  return wordChannels(layout) || (described.orderNumber ?? described.name)
})
/** What is sure to have room is not cut off: every cut costs the browser a layer, thousands of them
 *  a scroll. */
const isCut = computed(
  () =>
    label.value.length > 9 ||
    props.trouble !== null ||
    props.other !== null ||
    props.mark !== null ||
    props.zoom === 'module',
)
const box = computed(() => pipGrids[props.zoom === 'plant' ? 'plant' : 'lane'].box)
const paths = computed(() => (props.zoom === 'module' ? [] : pipPaths(props.module, props.zoom)))
const mostLines = 7
/** Addresses, tags and terminals, as many as fit on the tile: named channels first. A column is one
 *  text of several lines, since an element for each word would cost more than a frame a lane. */
const lines = computed(() => {
  const { layout } = props.module
  if (props.zoom !== 'module' || !layout) return []
  const all = layout.channels.map((channel) => ({
    channel,
    signal: signalOn(props.module, channel),
  }))
  const named = all.filter(({ signal }) => signal !== null).slice(0, mostLines)
  const others = all.filter(({ signal }) => signal === null).slice(0, mostLines - named.length)
  return [named, others]
    .filter((group) => group.length > 0)
    .map((group) => ({
      isNamed: group === named,
      count: group.length,
      columns: {
        mono: group
          .map(({ channel }) => channelAddress(props.module, channel))
          .map((at) => (at ? formatAddress(at, props.notation) : '–'))
          .join('\n'),
        tag: group.map(({ channel, signal }) => signal?.tag || channel.name).join('\n'),
        terminal: group.map(({ signal }) => signal?.terminal ?? '').join('\n'),
      },
    }))
})
const linesLeft = computed(
  () =>
    (props.module.layout?.channels.length ?? 0) -
    lines.value.reduce((sum, { count }) => sum + count, 0),
)
const words = computed(() => tileWords(props.module, props.trouble, props.mark))
</script>

<template>
  <span
    class="tile"
    :class="[`at-${zoom}`, { trouble, unknown: !module.described }]"
    :title="words"
  >
    <span v-if="zoom !== 'plant'" class="line" :class="{ cut: isCut }"
      ><span v-if="module.row" class="slot">{{ module.slot }}</span
      ><span class="what">{{ label }}</span
      ><span v-if="zoom === 'module'" class="order">{{ module.described?.orderNumber }}</span
      ><ChangeMark :mark="mark" /><span v-if="other" class="other">{{ other }}</span
      ><span v-if="trouble" class="bang" aria-hidden="true">▲</span></span
    >
    <span v-if="lines.length > 0" class="lines" aria-hidden="true">
      <span
        v-for="line in lines"
        :key="String(line.isNamed)"
        class="entry"
        :class="{ named: line.isNamed }"
        ><span v-for="(column, name) in line.columns" :key="name" :class="name">{{
          column
        }}</span></span
      >
      <span v-if="linesLeft > 0" class="entry">and {{ linesLeft }} more</span>
    </span>
    <svg
      v-else-if="paths.length > 0"
      :viewBox="`0 0 ${box.width} ${box.height}`"
      :width="box.width"
      :height="box.height"
      aria-hidden="true"
    >
      <path
        v-for="path in paths"
        :key="`${path.filled}${path.named}`"
        :d="path.d"
        :class="{ filled: path.filled, named: path.named }"
      />
    </svg>
    <span v-else-if="zoom !== 'plant'" class="plain">{{
      module.described?.name ?? 'not in the file'
    }}</span>
    <ChangeMark v-if="zoom === 'plant'" class="plant-mark" :mark="mark" />
    <span v-if="zoom === 'plant' && trouble" class="corner" aria-hidden="true">▲</span>
  </span>
</template>

<style scoped>
.plant-mark {
  position: absolute;
  left: 0;
  top: 0;
}
/* Plain blocks wherever they do: grids and flexible lines lay out their texts twice, thousands of
   times while somebody scrolls. */
.tile {
  display: block;
  height: 100%;
  padding: 3px 5px;
  text-align: left;
}
.tile.at-module {
  display: grid;
  grid-template-rows: 14px 1fr;
  gap: 2px;
}
.tile.at-plant {
  padding: 1px 2px;
  position: relative;
}
.line {
  display: block;
  height: 14px;
  margin-bottom: 2px;
  font: 11px/14px var(--narrow);
  white-space: nowrap;
}
.line.cut {
  display: flex;
  gap: 5px;
  align-items: baseline;
}
.line:not(.cut) .slot {
  margin-right: 5px;
}
.line.cut,
.line.cut .what {
  overflow: hidden;
  text-overflow: ellipsis;
}
svg {
  display: block;
  overflow: visible;
}
.slot {
  color: var(--ink-3);
  font-variant-numeric: tabular-nums;
}
.what {
  font-weight: 600;
  color: var(--ink);
}
.order {
  margin-left: auto;
  color: var(--ink-3);
}
.bang {
  color: var(--accent);
  margin-left: auto;
}
.corner {
  position: absolute;
  right: 0;
  top: -1px;
  color: var(--accent);
  font-size: 9px;
}
.other {
  padding: 0 3px;
  background: var(--ink);
  color: var(--paper);
}
path {
  stroke: var(--ink-faint);
  stroke-width: 1;
  fill: none;
}
path.filled {
  fill: var(--ink-faint);
}
path.named {
  stroke: var(--ink);
  stroke-width: 1.3;
}
path.named.filled {
  fill: var(--ink);
}
.plain {
  display: block;
  font: 11px/1.3 var(--narrow);
  color: var(--ink-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.lines {
  display: grid;
  align-content: start;
  overflow: hidden;
}
.entry {
  display: grid;
  grid-template-columns: 46px 1fr auto;
  gap: 4px;
  font: 11px/13px var(--narrow);
  color: var(--ink-3);
  white-space: pre;
}
.entry .mono {
  font: 10px/13px var(--mono);
}
.entry.named {
  color: var(--ink);
}
.entry .tag {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
