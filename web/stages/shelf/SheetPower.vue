<script setup lang="ts">
import { hasSheetPart } from '@kataxis/core'
import { NCheckbox } from 'naive-ui'
import NumberField from '../../parts/NumberField.vue'
import type { SheetDraft } from './useSheetDraft'

/** What the head takes of its supply, and what it gives where it is one. */
const draft = defineModel<SheetDraft>({ required: true })
type Power = NonNullable<SheetDraft['power']>
type Source = NonNullable<SheetDraft['source']>
/** Without a current nothing is known. */
function setPower(part: { [K in keyof Power]?: Power[K] | undefined }): void {
  const { currentMa, ...others } = { ...draft.value.power, ...part }
  draft.value.power = currentMa === undefined ? undefined : ({ ...others, currentMa } as Power)
}
function setSource(part: { [K in keyof Source]?: Source[K] | undefined }): void {
  const { currentMa, ...others } = { ...draft.value.source, ...part }
  draft.value.source = currentMa === undefined ? undefined : ({ ...others, currentMa } as Source)
}
</script>

<template>
  <section aria-label="Supply">
    <h2>Supply</h2>
    <div class="four">
      <NumberField
        label="Takes, mA"
        shown
        optional
        :min="0"
        :value="draft.power?.currentMa"
        @update:value="setPower({ currentMa: $event ?? undefined })"
      />
      <NumberField
        label="While it starts, mA"
        shown
        optional
        :min="0"
        :disabled="!draft.power"
        :value="draft.power?.inrushMa"
        @update:value="setPower({ inrushMa: $event ?? undefined })"
      />
      <NumberField
        label="Needs at least, V"
        shown
        optional
        placeholder="20.4"
        :min="0"
        :disabled="!draft.power"
        :value="draft.power?.minVolts"
        @update:value="setPower({ minVolts: $event ?? undefined })"
      />
      <NumberField
        label="Takes at most, V"
        shown
        optional
        placeholder="28.8"
        :min="0"
        :disabled="!draft.power"
        :value="draft.power?.maxVolts"
        @update:value="setPower({ maxVolts: $event ?? undefined })"
      />
    </div>
    <NCheckbox
      :checked="draft.power?.second === true"
      :disabled="!draft.power"
      @update:checked="setPower({ second: $event })"
      >takes a second supply beside the first</NCheckbox
    >
    <div v-if="hasSheetPart(draft.network, 'source')" class="four">
      <NumberField
        label="Gives, mA"
        shown
        optional
        :min="1"
        :value="draft.source?.currentMa"
        @update:value="setSource({ currentMa: $event ?? undefined })"
      />
      <NumberField
        label="For a moment, mA"
        shown
        optional
        :min="0"
        :disabled="!draft.source"
        :value="draft.source?.peakMa"
        @update:value="setSource({ peakMa: $event ?? undefined })"
      />
      <NumberField
        label="Voltage, V"
        shown
        optional
        placeholder="24"
        :min="0"
        :disabled="!draft.source"
        :value="draft.source?.volts"
        @update:value="setSource({ volts: $event ?? undefined })"
      />
    </div>
  </section>
</template>
