<script setup lang="ts">
import { powerCodes, type Supply } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import FillBar from '../../parts/FillBar.vue'
import FindingList from '../../parts/FindingList.vue'
import NumberField from '../../parts/NumberField.vue'
import { useFocus } from '../../stores/focus'
import { useProject } from '../../stores/project'
import { amperes, consumerWords, keyOfConsumer, volts } from './feed-words'
import type { Chosen } from './useNetworks'

/** A supply: what it gives, what hangs on it, what is wrong. */
const props = defineProps<{ supply: Supply; isLost: boolean; disabled: boolean }>()
defineEmits<{ choose: [chosen: Chosen]; lose: [] }>()
const project = useProject()
const { goTo } = useFocus()
const view = computed(() => props.supply.view)
const set = (outputVolts: number | null) =>
  project.run({ type: 'updateStation', id: view.value.id, set: { settings: { outputVolts } } })
const about = computed(() => [view.value.id, ...new Set(props.supply.fed.map(({ at }) => at.node))])
</script>

<template>
  <div class="sheet-body">
    <header>
      <h3>Supply · {{ view.device?.name }}</h3>
      <h1>{{ view.station.name || '(no name)' }}</h1>
      <p v-if="view.station.comment" class="quiet">{{ view.station.comment }}</p>
    </header>
    <FindingList :ids="about" :codes="powerCodes" />
    <section class="bars">
      <FillBar
        label="Lasting"
        :used="supply.usedMa / 1000"
        :limit="supply.source.currentMa / 1000"
        unit="A"
      />
      <FillBar
        label="All start"
        :used="supply.inrushMa / 1000"
        :limit="supply.peakMa / 1000"
        unit="A"
      />
    </section>
    <NumberField
      shown
      size="small"
      label="Output voltage"
      optional
      unit="V"
      :min="0"
      :max="1000"
      :step="0.1"
      :placeholder="`${supply.source.volts}, as its sheet says`"
      :value="(view.station.settings as { outputVolts?: number | null }).outputVolts"
      :disabled="disabled"
      @update:value="set"
    />
    <section class="figures">
      <h2>What hangs on it</h2>
      <p v-if="supply.fed.length === 0" class="quiet">
        Nothing yet: choose this supply in the table, or in the sheet of a station.
      </p>
      <p v-for="one in supply.fed" :key="keyOfConsumer(one)">
        <NButton text @click="$emit('choose', { kind: 'node', id: one.view.id })">{{
          consumerWords(one)
        }}</NButton>
        <strong>{{ one.isUnsaid ? '?' : amperes(one.needMa) }} · {{ volts(one.volts) }}</strong>
      </p>
    </section>
    <section class="actions">
      <NButton size="small" :type="isLost ? 'error' : 'default'" @click="$emit('lose')">
        {{ isLost ? 'Bring it back' : 'What if it is lost?' }}
      </NButton>
      <NButton size="small" @click="goTo('board', { kind: 'station', id: view.id })">
        Show on the Board
      </NButton>
    </section>
  </div>
</template>

<style scoped>
.bars {
  display: grid;
  gap: 4px;
}
</style>
