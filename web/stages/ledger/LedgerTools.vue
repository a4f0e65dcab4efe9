<script setup lang="ts">
import type { DeviceNotationName, NotationName } from '@kataxis/core'
import { ChevronDown } from '@lucide/vue'
import { NButton, NButtonGroup, NCheckbox, NDropdown, NPopover } from 'naive-ui'
import { tableChoices } from '../../parts/choices'
import NotationPicker from '../../parts/NotationPicker.vue'
import PickField from '../../parts/PickField.vue'
import TextField from '../../parts/TextField.vue'
import {
  ledgerEdits,
  ledgerWays,
  rowSheets,
  type Beside,
  type LedgerEdit,
  type LedgerWay,
} from './ledger-tools'
import { columnSets, type ColumnSet } from './rows'
import { seconds } from './useLedgerColumns'

/** One row of tools: what is shown, what can be done with it, where it leads. */
defineProps<{ waiting: number }>()
const emit = defineEmits<{ tray: []; edit: [what: LedgerEdit]; go: [where: LedgerWay] }>()
const text = defineModel<string>('text', { required: true })
const onlyFree = defineModel<boolean>('onlyFree', { required: true })
const set = defineModel<ColumnSet>('set', { required: true })
const second = defineModel<NotationName | DeviceNotationName | ''>('second', { required: true })
const beside = defineModel<Beside | null>('beside', { required: true })

const menuOf = (words: Readonly<Record<string, string>>) =>
  Object.entries(words).map(([key, label]) => ({ key, label }))
const toggle = (what: Beside) => (beside.value = beside.value === what ? null : what)
</script>

<template>
  <div class="room">
    <div class="tools">
      <h1>Ledger</h1>
      <TextField
        v-model:value="text"
        class="filter"
        type="search"
        label="Filter the rows"
        placeholder="Filter …"
        title='Words, phrases and fields: AI membrane free, "Channel 1", slot:4, tag:int_pt'
      />
      <NCheckbox v-model:checked="onlyFree">free only</NCheckbox>
      <PickField
        v-model:value="set"
        class="columns"
        size="small"
        label="Columns"
        :options="tableChoices(columnSets, ({ words }) => words)"
      />
      <NPopover v-if="set === 'addressing'" trigger="click" placement="bottom-start">
        <template #trigger>
          <NButton size="small" icon-placement="right"
            >Notation<template #icon><ChevronDown :size="14" /></template
          ></NButton>
        </template>
        <div class="notation">
          <NotationPicker />
          <PickField
            v-model:value="second"
            label="A second column of addresses"
            shown
            :options="[
              { value: '', label: 'no second column' },
              ...tableChoices(seconds, (one) => `and ${one.name}`),
            ]"
          />
        </div>
      </NPopover>
      <span class="rest" />
      <NDropdown
        trigger="click"
        :options="menuOf(ledgerEdits)"
        @select="(what: LedgerEdit) => emit('edit', what)"
      >
        <NButton size="small" icon-placement="right"
          >Edit<template #icon><ChevronDown :size="14" /></template
        ></NButton>
      </NDropdown>
      <NButton
        size="small"
        :type="beside === 'tray' ? 'info' : 'default'"
        :aria-pressed="beside === 'tray'"
        title="Signals without a channel"
        @click="emit('tray')"
        >{{ waiting }} unassigned</NButton
      >
      <NButtonGroup size="small" role="group" aria-label="The row with the cursor">
        <NButton
          v-for="(words, name) in rowSheets"
          :key="name"
          :type="beside === name ? 'info' : 'default'"
          :aria-pressed="beside === name"
          @click="toggle(name)"
          >{{ words }}</NButton
        >
      </NButtonGroup>
      <NDropdown
        trigger="click"
        :options="menuOf(ledgerWays)"
        @select="(where: LedgerWay) => emit('go', where)"
      >
        <NButton size="small" icon-placement="right" title="Show the row with the cursor there"
          >Show in<template #icon><ChevronDown :size="14" /></template
        ></NButton>
      </NDropdown>
    </div>
  </div>
</template>

<style scoped>
.room {
  container-type: inline-size;
}
.tools {
  display: flex;
  align-items: center;
  gap: 7px;
  padding: 9px 14px;
  min-width: 0;
  white-space: nowrap;
}
@container (max-width: 850px) {
  .tools {
    flex-wrap: wrap;
  }
}
.columns {
  flex: none;
  width: 112px;
}
.filter {
  flex: 0 1 200px;
  min-width: 80px;
}
.rest {
  flex: 1 0 0;
}
.notation {
  display: grid;
  gap: 10px;
  width: 260px;
}
</style>
