<script setup lang="ts">
import type { Consumer, Supply, WiredNetwork } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import FillBar from '../../parts/FillBar.vue'
import NumberField from '../../parts/NumberField.vue'
import PickField from '../../parts/PickField.vue'
import RowTable from '../../parts/RowTable.vue'
import type { RowColumn } from '../../parts/row-table'
import {
  amperes,
  conductorChoices,
  consumerWords,
  keyOfConsumer,
  noSupply,
  volts,
} from './feed-words'
import type { Chosen } from './useNetworks'
import { useFeeds } from './useFeeds'

/** Supplies of the plan, and below them all that takes current, a row each. */
const props = defineProps<{ wired: WiredNetwork; disabled: boolean }>()
const emit = defineEmits<{ choose: [chosen: Chosen] }>()
const { supplies, choices, fed, consumers, set, hang, setConductor } = useFeeds()
/** Those of the network that is shown first, then what hangs on a supply. */
const rows = computed(() => {
  const shown = new Set(props.wired.nodes.map(({ id }) => id))
  const rank = ({ view, feed }: Consumer) => (shown.has(view.id) ? 0 : feed ? 1 : 2)
  return consumers.value.toSorted((a, b) => rank(a) - rank(b))
})
const supplyWords = ({ feed }: Consumer) =>
  choices.value.find(({ value }) => value === feed?.from)?.label ?? ''
const fedOf = (row: Consumer) => fed.value.get(keyOfConsumer(row))
const voltsWords = (row: Consumer) => {
  const one = fedOf(row)
  return one?.volts == null ? '' : `${volts(one.volts)} / ${volts(one.startVolts)}`
}
const isLow = (row: Consumer) => {
  const one = fedOf(row)
  return one?.startVolts != null && one.startVolts < one.minVolts
}
const columns = computed((): readonly RowColumn<Consumer>[] => [
  { key: 'what', title: 'What is fed', width: 172, text: consumerWords },
  { key: 'supply', title: 'Supply', width: 136, text: supplyWords, choices: true },
  { key: 'length', title: 'Length', width: 84, sorts: ({ feed }) => feed?.lengthM ?? -1 },
  {
    key: 'conductor',
    title: 'Conductor',
    width: 116,
    text: ({ feed }) => (feed?.mm2 ? `${feed.mm2}/${feed.flexible}` : ''),
  },
  { key: 'need', title: 'Takes', width: 94, sorts: ({ needMa }) => needMa },
  { key: 'start', title: 'At start', width: 94, sorts: ({ inrushMa }) => inrushMa },
  {
    key: 'volts',
    title: 'Volts / at start',
    width: 122,
    isNumber: true,
    text: voltsWords,
    sorts: (row) => fedOf(row)?.startVolts ?? 1000,
  },
])
const named = (what: string, row: Consumer) => `${what} of ${consumerWords(row)}`
const label = ({ view }: Supply) => view.station.name || '(no name)'
</script>

<template>
  <div class="table">
    <div v-if="supplies.length > 0" class="supplies">
      <NButton
        v-for="supply in supplies"
        :key="supply.view.id"
        class="supply"
        :aria-label="`Supply ${label(supply)}`"
        @click="emit('choose', { kind: 'supply', id: supply.view.id })"
      >
        <span class="inside">
          <strong>{{ label(supply) }}</strong>
          <FillBar
            label="lasting"
            :used="supply.usedMa / 1000"
            :limit="supply.source.currentMa / 1000"
            unit="A"
          />
          <FillBar
            label="at start"
            :used="supply.inrushMa / 1000"
            :limit="supply.peakMa / 1000"
            unit="A"
          />
        </span>
      </NButton>
    </div>
    <p v-else class="quiet">
      No supply stands in the plan yet: put one from the Shelf on a network of the kind “Switches,
      repeaters, supplies”, then choose it here.
    </p>
    <RowTable
      label="What takes current"
      :rows="rows"
      :columns="columns"
      :key-of="keyOfConsumer"
      height="fill"
      wide
      empty="No station is in the plan yet."
      :class-of="(row) => (isLow(row) ? 'low' : '')"
    >
      <template #what="{ row }">
        <NButton text @click="emit('choose', { kind: 'node', id: row.view.id })">{{
          consumerWords(row)
        }}</NButton>
      </template>
      <template #supply="{ row }">
        <PickField
          size="tiny"
          :label="named('Supply', row)"
          :value="row.feed?.from ?? noSupply"
          :options="choices"
          :disabled="disabled || supplies.length === 0"
          @update:value="hang(row, $event)"
        />
      </template>
      <template #length="{ row }">
        <NumberField
          v-if="row.feed"
          :label="named('Length of the cable', row)"
          size="small"
          optional
          unit="m"
          :min="0"
          :max="10000"
          :value="row.feed.lengthM"
          :disabled="disabled"
          @update:value="set(row, { lengthM: $event })"
        />
      </template>
      <template #conductor="{ row }">
        <PickField
          v-if="row.feed"
          size="tiny"
          :label="named('Conductor', row)"
          placeholder="mm²"
          :value="row.feed.mm2 === null ? null : `${row.feed.mm2}/${row.feed.flexible}`"
          :options="conductorChoices"
          :disabled="disabled"
          @update:value="setConductor(row, $event)"
        />
      </template>
      <template #need="{ row }">
        <NumberField
          v-if="row.feed"
          :label="named('Current', row)"
          size="small"
          optional
          unit="mA"
          :placeholder="row.isUnsaid ? '?' : String(row.needMa)"
          :min="0"
          :max="1000000"
          :value="row.feed.currentMa"
          :disabled="disabled"
          @update:value="set(row, { currentMa: $event })"
        />
        <span v-else class="quiet">{{ row.isUnsaid ? '' : amperes(row.needMa) }}</span>
      </template>
      <template #start="{ row }">
        <NumberField
          v-if="row.feed"
          :label="named('Current at start', row)"
          size="small"
          optional
          unit="mA"
          :placeholder="row.isUnsaid ? '?' : String(row.inrushMa)"
          :min="0"
          :max="1000000"
          :value="row.feed.inrushMa"
          :disabled="disabled"
          @update:value="set(row, { inrushMa: $event })"
        />
      </template>
    </RowTable>
  </div>
</template>

<style scoped>
.table {
  height: 100%;
  padding: 8px 18px 12px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.table > :last-child {
  flex: 1;
  min-height: 0;
}
.supplies {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.supply {
  height: auto;
  padding: 6px 12px;
  text-align: left;
}
.inside {
  display: grid;
  gap: 2px;
  width: 300px;
}
.table :deep(.low .mono),
.table :deep(.low td:last-child) {
  color: var(--accent);
}
</style>
