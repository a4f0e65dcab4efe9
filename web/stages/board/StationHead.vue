<script setup lang="ts">
import type { DerivedStation, Mark } from '@kataxis/core'
import ChangeMark from './ChangeMark.vue'
import type { Zoom } from './zooms'

/** The head of a lane: what a station is called, what tells it apart, how much of it is named. */
defineProps<{
  view: DerivedStation
  zoom: Zoom
  /** What tells the station apart on its network. */
  identity: string
  trouble: string | null
  /** Who else is there. */
  other: string | null
  mark: Mark | null
}>()
</script>

<template>
  <button class="head" :class="`at-${zoom}`" draggable="true">
    <span class="name" :class="{ bad: trouble }"
      >{{ view.station.name || '(no name)'
      }}<span v-if="trouble" class="bang" :title="trouble">▲</span><ChangeMark :mark="mark" /><span
        v-if="other"
        class="other"
        >{{ other }}</span
      ></span
    >
    <span class="ip mono">{{ identity }}</span>
    <span v-if="zoom !== 'plant'" class="type"
      >{{ view.device?.orderNumber ?? view.device?.name ?? 'description missing' }}
      {{ view.device?.firmware ?? '' }}</span
    >
    <span v-if="zoom !== 'plant'" class="count">{{ view.named }}/{{ view.channels }}</span>
    <span v-if="zoom === 'module'" class="more">{{ view.station.comment }}</span>
  </button>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 1px 8px;
  align-content: center;
  width: var(--head);
  height: calc(var(--lane) - 4px);
  padding: 2px 8px;
  margin-top: 2px;
  text-align: left;
  background: var(--paper-2);
  border: 1px solid var(--line);
  border-right: 3px solid var(--ink-2);
  color: var(--ink);
  cursor: pointer;
}
.name {
  font: 600 13px/17px var(--sans);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bang {
  color: var(--accent);
  margin-left: 6px;
  font-size: 11px;
}
.ip {
  text-align: right;
  font-size: 11.5px;
  line-height: 17px;
}
.type,
.count {
  font: 11.5px/14px var(--narrow);
  color: var(--ink-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.count {
  overflow: visible;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.other {
  margin-left: 6px;
  padding: 0 4px;
  background: var(--ink);
  color: var(--paper);
  font: 500 11px/15px var(--narrow);
}
.more {
  grid-column: 1 / -1;
  font: 12px/1.35 var(--narrow);
  color: var(--ink-2);
  white-space: normal;
  overflow: hidden;
}
.head.at-module {
  align-content: start;
  padding-top: 6px;
}
.head.at-plant {
  height: calc(var(--lane) - 2px);
  margin-top: 1px;
  padding: 0 6px;
  border-color: transparent;
  border-right-color: var(--ink-2);
}
.at-plant .name {
  font: 500 12px/15px var(--narrow);
}
.at-plant .ip {
  font-size: 10.5px;
  line-height: 15px;
}
</style>
