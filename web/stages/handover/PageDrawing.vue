<script setup lang="ts">
import { inks, type Page, type PageMark } from '@kataxis/core'
import { fontOf } from './page-fonts'

/** A page of a document as it will be printed. */
defineProps<{ page: Page; label: string }>()
type TextMark = Extract<PageMark, { kind: 'text' }>
const anchors = { left: 'start', center: 'middle', right: 'end' } as const
const turnOf = ({ turn, x, y, size }: TextMark) =>
  turn === undefined ? undefined : `rotate(${turn} ${x} ${y - size / 3})`
const pointsOf = ({ points }: Extract<PageMark, { kind: 'line' }>) =>
  points.map((point) => point.join(',')).join(' ')
</script>

<template>
  <svg :viewBox="`0 0 ${page.width} ${page.height}`" role="img" :aria-label="label">
    <template v-for="(mark, i) in page.marks" :key="i">
      <text
        v-if="mark.kind === 'text'"
        :x="mark.x"
        :y="mark.y"
        :text-anchor="anchors[mark.align ?? 'left']"
        :transform="turnOf(mark)"
        :fill="inks[mark.ink ?? 'ink']"
        :style="{ font: fontOf(mark.face, mark.size) }"
        xml:space="preserve"
      >
        {{ mark.text }}
      </text>
      <polyline
        v-else-if="mark.kind === 'line'"
        :points="pointsOf(mark)"
        fill="none"
        :stroke="inks[mark.ink ?? 'ink']"
        :stroke-width="mark.width"
        :stroke-dasharray="mark.dash"
      />
      <rect
        v-else-if="mark.kind === 'box'"
        v-bind="{ x: mark.x, y: mark.y, width: mark.width, height: mark.height }"
        :fill="mark.fill ? inks[mark.fill] : 'none'"
        :stroke="mark.line ? inks[mark.line] : 'none'"
        stroke-width="0.7"
      />
      <circle
        v-else
        v-bind="{ cx: mark.x, cy: mark.y, r: mark.radius }"
        :fill="mark.fill ? inks[mark.fill] : 'none'"
        :stroke="mark.line ? inks[mark.line] : 'none'"
        stroke-width="0.7"
      />
    </template>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  background: white;
  border: 1px solid var(--line);
}
</style>
