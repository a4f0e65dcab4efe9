<script setup lang="ts">
import { registerOfReference, wordTable, type ModbusTable } from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import PickField from '../../parts/PickField.vue'
import NumberField from '../../parts/NumberField.vue'
import TypedInput from '../../parts/TypedInput.vue'
import FieldRows from './FieldRows.vue'
import { sheetLists } from './sheet-columns'
import type { SheetDraft } from './useSheetDraft'

/** The registers of a device, and what it takes beyond them. */
const draft = defineModel<SheetDraft>({ required: true })
const setModbus = (values: NonNullable<SheetDraft['modbus']>) =>
  (draft.value.modbus = { ...draft.value.modbus, ...values })
const setWatchdog = (values: { address?: number; periodMs?: number } | null) =>
  setModbus({
    watchdog: values && { address: 0, periodMs: 1000, ...draft.value.modbus?.watchdog, ...values },
  })
/** A reference written as an address, such as 40001. */
function referenceHint({ table, address }: { table: ModbusTable; address: number }) {
  const meant = registerOfReference(table, address)
  return meant === null || draft.value.registerCounting === 'reference'
    ? null
    : {
        words: `Addresses count from 0; ${address} is the reference of ${wordTable(table)} ${meant}.`,
        take: `Use ${meant}`,
        change: { address: meant },
      }
}
</script>

<template>
  <section aria-label="Registers">
    <h2>Registers</h2>
    <PickField
      label="Addresses are written"
      shown
      :value="draft.registerCounting ?? 'from-0'"
      :options="[
        { value: 'from-0', label: 'from 0, as in the request' },
        { value: 'reference', label: 'as references: 40001, 30001, 10001, 1' },
      ]"
      @update:value="draft.registerCounting = $event as 'from-0' | 'reference'"
    />
    <FieldRows
      v-model="draft.registers"
      v-bind="sheetLists.registers"
      label="Registers"
      :hint="referenceHint"
    />
    <p class="quiet">Where the head has no data of its own above, its registers are its data.</p>
    <div class="pairs">
      <NumberField
        label="Unlisted registers that may be read along"
        shown
        :min="0"
        :value="draft.modbus?.maxGap ?? 0"
        @update:value="setModbus({ maxGap: $event ?? 0 })"
      />
      <TypedInput
        label="Bit rates it takes, empty for all"
        shown
        mono
        placeholder="9600 19200"
        :value="draft.modbus?.bauds?.join(' ') ?? ''"
        @change="setModbus({ bauds: $event.split(/\s+/).filter(Boolean).map(Number) })"
      />
      <NumberField
        optional
        label="Watchdog register, empty for none"
        shown
        :min="0"
        :value="draft.modbus?.watchdog?.address"
        @update:value="setWatchdog($event === null ? null : { address: $event! })"
      />
      <NumberField
        v-if="draft.modbus?.watchdog"
        label="written at least every, ms"
        shown
        :min="1"
        :value="draft.modbus.watchdog.periodMs"
        @update:value="setWatchdog({ periodMs: $event ?? 0 })"
      />
      <NCheckbox
        class="check"
        :checked="draft.modbus?.readsAndWrites"
        @update:checked="setModbus({ readsAndWrites: $event })"
        >reads and writes in one request (function 23)</NCheckbox
      >
    </div>
    <FieldRows
      :model-value="draft.modbus?.startSequence"
      v-bind="sheetLists.startSequence"
      label="What is written first, in this order"
      @update:model-value="setModbus({ startSequence: $event })"
    />
  </section>
</template>

<style scoped src="./sheet-form.css"></style>
