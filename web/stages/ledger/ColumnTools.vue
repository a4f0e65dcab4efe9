<script setup lang="ts">
import { tableChoices } from '../../parts/choices'
import PickField from '../../parts/PickField.vue'
import { NButton } from 'naive-ui'
import type { DeviceNotationName, NotationName } from '@kataxis/core'
import NotationPicker from '../../parts/NotationPicker.vue'
import { columnSets, type ColumnSet } from './rows'
import { seconds } from './useLedgerColumns'

/** Which columns are shown, and how addresses are written in them. */
const set = defineModel<ColumnSet>('set', { required: true })
const second = defineModel<NotationName | DeviceNotationName | ''>('second', { required: true })
</script>

<template>
  <span class="tool-set" role="group" aria-label="Columns"
    ><span class="what">Columns</span
    ><NButton
      size="small"
      :type="set === name ? 'info' : 'default'"
      v-for="(one, name) in columnSets"
      :key="name"
      :aria-pressed="set === name"
      @click="set = name"
    >
      {{ one.words }}
    </NButton></span
  >
  <NotationPicker v-if="set === 'addressing'" />
  <PickField
    label="A second column of addresses"
    v-if="set === 'addressing'"
    v-model:value="second"
    class="second"
    :options="[
      { value: '', label: 'no second column' },
      ...tableChoices(seconds, (one) => `and ${one.name}`),
    ]"
  />
</template>

<style scoped src="./tool-row.css"></style>
<style scoped>
.second {
  width: 150px;
  padding: 3px 6px;
}
</style>
