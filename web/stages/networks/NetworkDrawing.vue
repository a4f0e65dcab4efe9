<script setup lang="ts">
import type { Id, NetNode, WiredLink, WiredNetwork } from '@kataxis/core'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { fateWords, useWhatIf, type Fate } from '../../stores/what-if'
import { nodeHeight, nodeWidth, useDrawing, type DrawnLink } from './useDrawing'
import type { Chosen } from './useNetworks'
import SupplyStrip from './SupplyStrip.vue'
import { volts } from './feed-words'
import { useFeeds } from './useFeeds'
import { linkLabels, linkWords } from './wire-words'

/** A network as its links make it. Nothing is placed by hand. */
const props = defineProps<{
  wired: WiredNetwork
  chosen: Chosen
  /** Nodes with findings. */
  troubled: ReadonlySet<Id>
  /** Each node says what it hangs on, instead of what it is. */
  withSupplies: boolean
}>()
const emit = defineEmits<{ choose: [chosen: Chosen] }>()
const whatIf = useWhatIf()
const { supplies, fed } = useFeeds()
const drawing = useDrawing(() => props.wired)
const frame = ref<HTMLElement>()
const { width: room } = useElementSize(frame)
/** Narrower than its frame it is drawn in full size; wider ones are made smaller as far as they can
 *  still be read, and scrolled from there on. */
const smallest = 0.8
const zoom = computed(() =>
  drawing.value && room.value > 0
    ? Math.max(smallest, Math.min(1, room.value / drawing.value.width))
    : 1,
)

const steps = computed(
  () => new Map(props.wired.nodes.map(({ id }, i) => [id, props.wired.wire.ways.steps[i]!])),
)
const keptId = computed(() => props.wired.links[props.wired.wire.kept]?.id ?? null)
const ends = computed(
  () =>
    new Map(
      props.wired.segments.flatMap(({ terminators }) =>
        terminators.map(({ id }) => [id, 'T'] as const),
      ),
    ),
)
const typeOf = ({ view }: NetNode) =>
  view
    ? (view.device?.orderNumber ?? view.device?.name ?? 'description missing')
    : props.wired.network.name
const fedBy = ({ view }: NetNode) => view?.station.feed?.from ?? null
/** The supply of a node, and what arrives there. */
function supplyOf(node: NetNode): string {
  const from = fedBy(node)
  const supply = supplies.value.find(({ view }) => view.id === from)
  if (!supply) return node.view ? 'no supply' : ''
  const arriving = fed.value.get(node.id)?.volts ?? null
  return `${arriving === null ? '' : `${volts(arriving)} `}${supply.view.station.name}`
}
interface Shown {
  readonly node: NetNode
  readonly x: number
  readonly y: number
  readonly below: string
  /** It hangs on the supply that is chosen. */
  readonly isFed: boolean
  readonly fate: Fate | null
}
const nodes = computed<Shown[]>(() =>
  props.wired.nodes.flatMap((node) => {
    const at = drawing.value?.nodes.get(node.id)
    if (!at) return []
    const isLost = whatIf.lost.has(node.id)
    return [
      {
        node,
        x: at.x,
        y: at.y,
        below: props.withSupplies ? supplyOf(node) : typeOf(node),
        isFed: props.chosen?.kind === 'supply' && fedBy(node) === props.chosen.id,
        fate: isLost ? 'unreachable' : (whatIf.fateOf.get(node.id) ?? null),
      },
    ]
  }),
)
interface ShownLink {
  readonly one: WiredLink
  readonly path: string
  readonly middle: { readonly x: number; readonly y: number }
  readonly labels: ReturnType<typeof linkLabels>
}
const links = computed<ShownLink[]>(() =>
  props.wired.links.flatMap((one) => {
    const drawn = drawing.value?.links.get(one.id)
    return drawn && drawn.points.length > 1
      ? [{ one, path: pathOf(drawn), middle: middleOf(drawn), labels: linkLabels(one) }]
      : []
  }),
)
const pathOf = ({ points }: DrawnLink) =>
  points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x} ${y}`).join(' ')
/** In the middle of the longest piece. */
function middleOf({ points }: DrawnLink) {
  let best = { x: 0, y: 0, length: -1 }
  for (const [i, b] of points.entries()) {
    const a = points[i - 1]
    if (!a) continue
    const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y)
    if (length > best.length) best = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, length }
  }
  return best
}
const isChosen = (kind: 'link' | 'node', id: string) =>
  props.chosen?.kind === kind && props.chosen.id === id
const shortened = (text: string, most: number) =>
  text.length > most ? `${text.slice(0, most - 1)}…` : text
const choose = (kind: 'link' | 'node', id: string) => emit('choose', { kind, id })
</script>

<template>
  <div ref="frame" class="frame" tabindex="0" :aria-label="`Drawing of ${wired.network.name}`">
    <SupplyStrip v-if="withSupplies" :chosen="chosen" @choose="emit('choose', $event)" />
    <p v-if="!drawing" class="quiet wait">The drawing is being laid out …</p>
    <svg
      v-else
      role="group"
      :aria-label="`${wired.nodes.length} nodes, ${wired.links.length} links`"
      :width="drawing.width * zoom"
      :height="drawing.height * zoom"
      :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
    >
      <g
        v-for="{ one, path, middle, labels } in links"
        :key="one.id"
        class="link"
        :class="{
          chosen: isChosen('link', one.id),
          cut: whatIf.cut.has(one.id),
          kept: one.id === keptId,
          loaded: Math.max(one.towards ?? 0, one.away ?? 0) > 0.5,
        }"
        role="button"
        tabindex="0"
        :aria-label="`Link ${linkWords(wired, one)}`"
        @click="choose('link', one.id)"
        @keydown.enter="choose('link', one.id)"
      >
        <path class="touch" :d="path" />
        <path class="line" :d="path" />
        <text :x="middle.x" :y="middle.y - (labels.below ? 21 : 8)">{{ labels.above }}</text>
        <text :x="middle.x" :y="middle.y - 8">{{ labels.below }}</text>
        <text v-if="whatIf.cut.has(one.id)" class="cross" :x="middle.x" :y="middle.y + 5">✕</text>
      </g>
      <g
        v-for="{ node, x, y, below, fate, isFed } in nodes"
        :key="node.id"
        class="node"
        :class="[
          fate,
          {
            chosen: isChosen('node', node.id),
            master: !node.view,
            fed: isFed,
            loose: steps.get(node.id) === -1,
          },
        ]"
        role="button"
        tabindex="0"
        :aria-label="`${node.name || '(no name)'}${fate ? `, ${fateWords[fate]}` : ''}`"
        :transform="`translate(${x} ${y})`"
        @click="choose('node', node.id)"
        @keydown.enter="choose('node', node.id)"
      >
        <title>{{ node.name }} · {{ below }}{{ fate ? ` · ${fateWords[fate]}` : '' }}</title>
        <rect :width="nodeWidth" :height="nodeHeight" />
        <rect class="edge" :x="nodeWidth - 4" width="4" :height="nodeHeight" />
        <text class="name" x="9" y="19">{{ shortened(node.name || '(no name)', 15) }}</text>
        <text class="below" x="9" y="36">
          {{ shortened(fate ? fateWords[fate].split(',')[0]! : below, 20) }}
        </text>
        <text v-if="troubled.has(node.id)" class="trouble" :x="nodeWidth - 18" y="19">▲</text>
        <text v-if="ends.has(node.id)" class="end" :x="nodeWidth - 18" y="37">
          <title>terminated here</title>
          ⊣
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.frame {
  height: 100%;
  overflow: auto;
  background: var(--paper);
}
.wait {
  padding: 24px;
}
svg {
  display: block;
}
text {
  font: 12px var(--narrow);
  fill: var(--ink-2);
}
.link,
.node {
  cursor: pointer;
  outline: none;
}
.link text {
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 4px;
}
.touch {
  fill: none;
  stroke: transparent;
  stroke-width: 14px;
}
.line {
  fill: none;
  stroke: var(--ink-3);
  stroke-width: 2px;
}
.link:hover .line,
.link:focus-visible .line {
  stroke: var(--ink);
  stroke-width: 3px;
}
.link.chosen .line {
  stroke: var(--accent);
  stroke-width: 3px;
}
.link.loaded .line {
  stroke: var(--warn);
  stroke-width: 4px;
}
/* No frames pass here while all is well. */
.link.kept .line {
  stroke-dasharray: 9 5;
}
.link.cut .line {
  stroke: var(--accent);
  stroke-dasharray: 2 6;
}
.link .cross {
  font-size: 14px;
  fill: var(--accent);
}

.node rect {
  fill: var(--paper-2);
  stroke: var(--line);
}
.node .edge {
  fill: var(--ink-2);
  stroke: none;
}
.node.master rect {
  fill: var(--paper-3);
}
.node.master .edge {
  fill: var(--ink);
}
.node.fed rect {
  stroke: var(--ink);
  stroke-width: 2px;
}
.node.loose rect {
  stroke-dasharray: 4 3;
}
.node:hover rect,
.node:focus-visible rect {
  stroke: var(--ink);
}
.node:focus-visible rect {
  stroke-width: 2px;
}
.node.chosen rect {
  stroke: var(--accent);
  stroke-width: 2px;
}
.name {
  font: 600 13px var(--sans);
  fill: var(--ink);
}
.unreachable rect {
  fill: var(--accent-soft);
}
.unreachable .below,
.trouble {
  fill: var(--accent);
}
.drops .below {
  fill: var(--warn);
}
.drops rect {
  stroke: var(--warn);
}
.rides .below {
  fill: var(--good);
}
</style>
