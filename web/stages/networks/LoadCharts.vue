<script setup lang="ts">
import type { WiredNetwork } from '@kataxis/core'
import { BarChart } from 'echarts/charts'
import {
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
} from 'echarts/components'
import { use } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import { usePreferences } from '../../stores/preferences'
import { colours, fonts } from '../../styles/tokens'
import { linkWords, shareWords, timeWords } from './wire-words'

/** Load of each link against 20 and 50 %, and the cycle or update time of each station against its
 *  watchdog. */
const props = defineProps<{ wired: WiredNetwork }>()
use([BarChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, CanvasRenderer])
const preferences = usePreferences()
const is = computed(() => colours[preferences.theme])
const text = computed(() => ({ color: is.value['ink-2'], fontFamily: fonts.narrow, fontSize: 12 }))
const rowHeight = 34
const most = 400
const shownLinks = computed(() =>
  props.wired.links.filter(({ towards }) => towards !== null).slice(0, most),
)
const timed = computed(() =>
  props.wired.stations
    .filter(({ watchdogUs, updateTimeUs }) => watchdogUs !== null || updateTimeUs.in !== null)
    .slice(0, most),
)

const mark = (value: number, words: string) => ({
  xAxis: value,
  label: { formatter: words, position: 'start' as const, ...text.value },
  lineStyle: { color: is.value.warn, type: 'dashed' as const },
})
function chart(
  names: readonly string[],
  series: readonly { name: string; color: string; data: readonly number[] }[],
  axis: object,
  marks: readonly object[],
  words: (value: number) => string,
) {
  return {
    animation: false,
    grid: { left: 210, right: 70, top: 48, bottom: 24 },
    legend: { top: 4, left: 210, textStyle: text.value, itemWidth: 12, itemHeight: 10 },
    tooltip: { trigger: 'axis' as const },
    xAxis: {
      axisLabel: text.value,
      splitLine: { lineStyle: { color: is.value.line } },
      ...axis,
    },
    yAxis: {
      type: 'category' as const,
      inverse: true,
      data: names,
      axisLabel: { ...text.value, color: is.value.ink, width: 198, overflow: 'truncate' as const },
      axisTick: { show: false },
    },
    series: series.map(({ name, color, data }, i) => ({
      type: 'bar' as const,
      name,
      barMaxWidth: 9,
      itemStyle: { color },
      data: [...data],
      label: {
        show: true,
        position: 'right' as const,
        formatter: ({ value }: { value: unknown }) => words(Number(value)),
        ...text.value,
      },
      ...(i === 0 && {
        markLine: { silent: true, symbol: 'none', data: [...marks] as never[] },
      }),
    })),
  }
}
const loads = computed(() => {
  const percent = (share: number | null) => (share ?? 0) * 100
  const top = Math.max(0, ...shownLinks.value.flatMap(({ towards, away }) => [towards!, away!]))
  return chart(
    shownLinks.value.map((one) => one.link.label || linkWords(props.wired, one)),
    [
      {
        name: 'to the controller, %',
        color: is.value['ink-2'],
        data: shownLinks.value.map(({ towards }) => percent(towards)),
      },
      {
        name: 'from the controller, %',
        color: is.value['band-1'],
        data: shownLinks.value.map(({ away }) => percent(away)),
      },
    ],
    { type: 'value', min: 0, max: Math.max(60, Math.ceil(top * 100)) },
    [mark(20, '20 %'), mark(50, '50 %')],
    (percent) => shareWords(percent / 100),
  )
})
const times = computed(() => {
  const ms = (us: number | null) => (us === null ? 0 : us / 1000)
  const { ring, cycleUs } = props.wired
  return chart(
    timed.value.map(({ view }) => view.station.name),
    [
      {
        name: cycleUs === null ? 'update time, ms' : 'cycle, ms',
        color: is.value['ink-2'],
        data: timed.value.map(({ updateTimeUs }) => ms(updateTimeUs.in ?? cycleUs)),
      },
      {
        name: 'watchdog, ms',
        color: is.value['band-2'],
        data: timed.value.map(({ watchdogUs }) => ms(watchdogUs)),
      },
    ],
    { type: 'value', min: 0 },
    ring && ring.reconfigurationUs > 0
      ? [mark(ring.reconfigurationUs / 1000, `ring ${timeWords(ring.reconfigurationUs)}`)]
      : [],
    (value) => timeWords(value * 1000),
  )
})
const height = (rows: number) => `${rows * rowHeight + 84}px`
</script>

<template>
  <div class="charts" tabindex="0" aria-label="Load and timing">
    <section>
      <h2>Load of the links by cyclic data</h2>
      <VChart
        v-if="shownLinks.length > 0"
        :option="loads"
        :style="{ height: height(shownLinks.length) }"
        autoresize
        role="img"
        :aria-label="`Load of ${shownLinks.length} links`"
      />
      <p v-else class="quiet">
        No load: on this kind of network data do not travel by the clock over each link, or how
        often they travel is not decided yet.
      </p>
    </section>
    <section>
      <h2>Times of the stations against their watchdog</h2>
      <VChart
        v-if="timed.length > 0"
        :option="times"
        :style="{ height: height(timed.length) }"
        autoresize
        role="img"
        :aria-label="`Times of ${timed.length} stations`"
      />
      <p v-else class="quiet">No station of this network has a watchdog or an update time.</p>
    </section>
  </div>
</template>

<style scoped>
.charts {
  height: 100%;
  overflow: auto;
  padding: 14px 18px;
}
section + section {
  margin-top: 18px;
}
</style>
