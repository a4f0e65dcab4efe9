<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import ChooseFrom from '../../parts/ChooseFrom.vue'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import { useFocus } from '../../stores/focus'
import RangeFacts from './RangeFacts.vue'
import RangeFigures from './RangeFigures.vue'
import RangeProbe from './RangeProbe.vue'
import { useRangeBench } from './useRangeBench'

/** One signal from the process to the program: aligned scales, the probe, what is right and what
 *  would be wrong. */
const { focus, goTo } = useFocus()
const id = computed(() => focus.value?.id ?? '')
const bench = useRangeBench(id)
const { signals, found, chain, fault } = bench
const choices = computed(() =>
  signals.value.map(({ signal, view, module, channel }) => ({
    id: signal.id,
    name: signal.tag || '(no tag)',
    info: signal.comment,
    station: view.station.name,
    place: `slot ${module.slot} · ${channel.name}`,
  })),
)
const place = computed(() =>
  found.value
    ? `${found.value.view.station.name} · slot ${found.value.module.slot} · ${found.value.channel.name}`
    : '',
)
</script>

<template>
  <article class="bench">
    <PageHead
      :above="place || 'Choose a signal'"
      :title="found?.signal.tag || 'Range bench'"
      :quiet="found?.signal.comment ?? ''"
    >
      <PickField
        label="Signal on the bench"
        class="pick"
        :value="id"
        :options="[
          ...(!found ? [{ value: '', label: 'Choose a signal …' }] : []),
          ...signals.map((one) => ({
            value: one.signal.id,
            label: `${one.signal.tag || one.signal.comment || one.channel.name} · ${one.view.station.name}`,
          })),
        ]"
        @update:value="goTo('range', { kind: 'signal', id: $event })"
      />
      <NButton v-if="found" size="small" @click="goTo('ledger', { kind: 'signal', id })">
        Show in the Ledger
      </NButton>
    </PageHead>

    <div v-if="found" class="columns">
      <RangeProbe :bench="bench" />
      <aside tabindex="0" aria-label="Figures">
        <RangeFacts :key="found.signal.id" :bench="bench" :found="found" />
        <RangeFigures v-if="chain && !fault" :bench="bench" :chain="chain" :signal="found.signal" />
      </aside>
    </div>
    <ChooseFrom
      v-else
      one="Signal"
      :choices="choices"
      empty="No signal stands on an analog channel yet; name one in the Ledger."
      @choose="goTo('range', { kind: 'signal', id: $event })"
    />
  </article>
</template>

<style scoped>
.bench {
  height: 100%;
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
}
.pick {
  width: 260px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  min-height: 0;
}
aside {
  overflow: auto;
  padding: 12px 18px 40px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  border-left: 1px solid var(--line);
}
aside > * {
  flex: none;
}
</style>
