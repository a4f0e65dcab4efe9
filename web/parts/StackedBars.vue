<script setup lang="ts">
import { BarChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import { usePreferences } from '../stores/preferences'
import { colours, fonts } from '../styles/tokens'

/** A bar a row in two parts: how much of it is taken, and how much is left. */
const props = defineProps<{
  label: string
  rows: readonly { readonly name: string; readonly taken: number; readonly all: number }[]
  /** What the two parts are called. */
  taken: string
  left: string
  /** Bars are as long as their rows have, instead of equally long. */
  sized?: boolean
}>()
use([BarChart, GridComponent, TooltipComponent, CanvasRenderer])
const preferences = usePreferences()
const is = computed(() => colours[preferences.theme])
const rowHeight = 24
const height = computed(() => `${props.rows.length * rowHeight + 8}px`)
const words = computed(() =>
  props.rows.map(({ name, taken, all }) => `${name} ${taken} of ${all}`).join(', '),
)
/** What is as long as the whole width. */
const longest = computed(() => Math.max(1, ...props.rows.map(({ all }) => all)))
const unit = (all: number) => (props.sized ? longest.value : Math.max(1, all))
function valueAt(part: string, at: number): string {
  const { taken, all } = props.rows[at]!
  return String(part === props.taken ? taken : Math.max(0, all - taken))
}
const option = computed(() => {
  const text = { color: is.value['ink-2'], fontFamily: fonts.narrow, fontSize: 12 }
  const bar = (name: string, color: string, data: number[]) => ({
    type: 'bar' as const,
    name,
    stack: 'all',
    barWidth: 12,
    itemStyle: { color },
    emphasis: { disabled: true },
    data,
  })
  return {
    animation: false,
    grid: { left: 132, right: 84, top: 0, bottom: 8 },
    tooltip: { trigger: 'axis' as const, axisPointer: { type: 'none' as const } },
    xAxis: { type: 'value' as const, max: 1, show: false },
    yAxis: [
      {
        type: 'category' as const,
        inverse: true,
        data: props.rows.map(({ name }) => name),
        axisLabel: { ...text, color: is.value.ink, width: 122, overflow: 'truncate' as const },
        axisTick: { show: false },
        axisLine: { show: false },
      },
      {
        type: 'category' as const,
        inverse: true,
        position: 'right' as const,
        data: props.rows.map(({ taken, all }) => `${taken} of ${all}`),
        axisLabel: text,
        axisTick: { show: false },
        axisLine: { show: false },
      },
    ],
    series: [
      bar(
        props.taken,
        is.value['ink-2'],
        props.rows.map(({ taken, all }) => Math.min(all, taken) / unit(all)),
      ),
      bar(
        props.left,
        is.value['paper-3'],
        props.rows.map(({ taken, all }) => Math.max(0, all - taken) / unit(all)),
      ),
    ].map((one) => ({
      ...one,
      tooltip: { valueFormatter: (_share: unknown, at: number) => valueAt(one.name, at) },
    })),
  }
})
</script>

<template>
  <VChart
    class="bars"
    :style="{ height }"
    :option="option"
    autoresize
    role="img"
    :aria-label="`${label}: ${words}`"
  />
</template>

<style scoped>
.bars {
  width: 100%;
}
</style>
