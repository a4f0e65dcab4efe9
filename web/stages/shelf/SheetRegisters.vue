<script setup lang="ts">
import { registerOfReference, wordTable, type ModbusTable } from '@kataxis/core'
import TypedInput from '../../parts/TypedInput.vue'
import FieldRows from './FieldRows.vue'
import { numberOrNull } from './number-or-null'
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
  return meant === null
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
    <FieldRows
      v-model="draft.registers"
      v-bind="sheetLists.registers"
      label="Registers"
      :hint="referenceHint"
    />
    <p class="quiet">Where the head has no data of its own above, its registers are its data.</p>
    <div class="pairs">
      <label
        ><span class="label">Unlisted registers that may be read along</span
        ><input
          class="field"
          type="number"
          min="0"
          :value="draft.modbus?.maxGap ?? 0"
          @input="setModbus({ maxGap: Number(($event.target as HTMLInputElement).value) })"
      /></label>
      <label
        ><span class="label">Bit rates it takes, empty for all</span
        ><TypedInput
          class="field mono"
          placeholder="9600 19200"
          :value="draft.modbus?.bauds?.join(' ') ?? ''"
          @change="setModbus({ bauds: $event.split(/\s+/).filter(Boolean).map(Number) })"
      /></label>
      <label
        ><span class="label">Watchdog register, empty for none</span
        ><input
          class="field"
          type="number"
          min="0"
          :value="draft.modbus?.watchdog?.address ?? ''"
          @input="
            setWatchdog(numberOrNull($event) === null ? null : { address: numberOrNull($event)! })
          "
      /></label>
      <label v-if="draft.modbus?.watchdog"
        ><span class="label">written at least every, ms</span
        ><input
          class="field"
          type="number"
          min="1"
          :value="draft.modbus.watchdog.periodMs"
          @input="setWatchdog({ periodMs: Number(($event.target as HTMLInputElement).value) })"
      /></label>
      <label class="check"
        ><input
          type="checkbox"
          :checked="draft.modbus?.readsAndWrites"
          @change="setModbus({ readsAndWrites: ($event.target as HTMLInputElement).checked })"
        />
        reads and writes in one request (function 23)</label
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
