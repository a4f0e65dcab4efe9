<script setup lang="ts">
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import PageHead from '../../parts/PageHead.vue'
import PickField from '../../parts/PickField.vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import RangeFacts from './RangeFacts.vue'
import RangeFigures from './RangeFigures.vue'
import RangeProbe from './RangeProbe.vue'
import { useRangeBench } from './useRangeBench'

/** One signal from the process to the program: aligned scales, the probe, what is right and what
 *  would be wrong. */
const route = useRoute()
const project = useProject()
const { focus, goTo } = useFocus()
const id = computed(() => focus.value?.id ?? '')
const bench = useRangeBench(id)
const { signals, found, chain, fault } = bench
const place = computed(() =>
  found.value
    ? `${found.value.view.station.name} · slot ${found.value.module.slot} · ${found.value.channel.name}`
    : '',
)
</script>

<template>
  <article class="bench">
    <PageHead
      :above="place || 'Range bench'"
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
        <RangeFacts :bench="bench" :found="found" />
        <RangeFigures v-if="chain && !fault" :bench="bench" :chain="chain" :signal="found.signal" />
      </aside>
    </div>
    <p v-else class="empty">
      {{
        signals.length === 0
          ? 'No signal stands on an analog channel yet; name one in the Ledger.'
          : 'Choose the signal to be looked at.'
      }}
      <RouterLink
        :to="{ name: 'ledger', params: { project: route.params['project'] ?? project.id } }"
        >To the Ledger</RouterLink
      >
    </p>
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
